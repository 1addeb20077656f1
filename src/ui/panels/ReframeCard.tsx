"use client";
import type { Dragging } from "@/client/editor/state/document";
import { takeOf } from "@/client/editor/state/select";
import { framingOf } from "@/core/compose/reframe";
import type { ReframeLayer } from "@/core/document/layer";
import { costOf } from "@/core/reframe/least";
import type { Keyed } from "@/core/time/keyed";
import { layerTitle } from "@/recipe/query";
import { useEditor, useEditorPick } from "../editor/context";
import { Button } from "../parts/Button";
import { FrameField } from "./FrameFields";
import { KeyedField } from "./patch/KeyedField";
import { Tick } from "./retouch/Tick";
import { Section } from "./Section";

/** How the whole picture is framed anew, and what that costs. */
export function ReframeCard({ layer }: { layer: ReframeLayer }) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "frame", "framed", "shot");
  const { info } = takeOf(s);
  const { in: first, out: last } = s.recipe.shot;
  const title = layerTitle(s.recipe, layer.id);
  const change = (name: string, run: Parameters<typeof editor.reframing.change>[2], dragging: Dragging = false) =>
    editor.reframing.change(layer.id, name, run, dragging !== false);
  const field = (
    key: "x" | "y" | "scale" | "angle",
    label: string,
    rest: { min: number; max: number; least: number; most: number; unit: string; reset: number; percent?: boolean },
  ) => (
    <KeyedField
      layer={layer}
      label={label}
      name={`${label} of the framing`}
      value={layer.place?.[key] ?? (key === "scale" ? 1 : 0)}
      put={(v: Keyed<number>, name, dragging) => change(name, (l) => void (l.place = { ...l.place, [key]: v } as typeof l.place), dragging)}
      {...rest}
    />
  );
  if (!info) return null;
  const { width, height } = info;
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">{title}, kept out by reframing</h2>
      </div>
      <Section title="Framing">
        <p className="mb-1.5" aria-live="polite">
          Costs <strong className="num">{(100 * costOf(framingOf(layer, s.frame))).toFixed(1)} %</strong> of the picture’s width on this frame.
        </p>
        {field("scale", "Size", { min: 100, max: 200, least: 1, most: 10_000, unit: "%", reset: 100, percent: true })}
        {field("x", "Across", { min: -width / 2, max: width / 2, least: -1e5, most: 1e5, unit: "px", reset: 0 })}
        {field("y", "Down", { min: -height / 2, max: height / 2, least: -1e5, most: 1e5, unit: "px", reset: 0 })}
        {field("angle", "Turn", { min: -10, max: 10, least: -36_000, most: 36_000, unit: "°", reset: 0 })}
        <Tick label="Show it as it is framed" on={s.framed} onChange={(on) => editor.view.setFramed(on)} />
        <p className="pt-1 text-[12px] text-dim">
          It comes behind all patches, and they stay where they are drawn. Without the tick the whole take is shown, and a line around what is kept.
        </p>
      </Section>
      <Section title="Time">
        <FrameField
          label="First frame"
          value={layer.in}
          min={first}
          max={layer.out}
          onCommit={(v) => change(`Begin the reframing at frame ${v}`, (l) => void (l.in = v))}
        />
        <FrameField
          label="Last frame"
          value={layer.out}
          min={layer.in}
          max={last}
          onCommit={(v) => change(`End the reframing at frame ${v}`, (l) => void (l.out = v))}
        />
        <Tick label="On" on={layer.on !== false} onChange={(on) => change(`Switch the reframing ${on ? "on" : "off"}`, (l) => void (l.on = on))} />
      </Section>
      <div className="px-3.5 py-3">
        <Button tone="fault" className="w-full" onClick={editor.patches.removeSelected}>
          Take it back
        </Button>
      </div>
    </>
  );
}
