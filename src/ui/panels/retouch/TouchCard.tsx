"use client";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { retouching } from "@/client/editor/state/mode";
import type { Touch } from "@/core/document/touch";
import type { Draft } from "@/recipe/edits";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { FrameField } from "../FrameFields";
import { Section } from "../Section";
import { Tick } from "./Tick";
import { Tries } from "./Tries";

/** A touch that was laid: everything it is set to can be changed. */
export function TouchCard({ touch: t }: { touch: Touch }) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "retouch", "mode", "shot");
  const [name, setName] = useState(t.name ?? "");
  const change = (words: string, run: (d: Draft<Touch>) => void, dragging = false) =>
    editor.retouch.changeTouch(t.id, `${words} of a touch`, run, dragging);
  const brush = (label: string, key: "size" | "hardness" | "opacity" | "flow", k: number, max: number, unit: string) => (
    <NumberField
      label={label}
      value={Math.round(t.brush![key] * k)}
      min={key === "size" || key === "flow" ? 1 : 0}
      max={max}
      unit={unit}
      onDrag={(v) => change(label, (d) => void (d.brush![key] = v / k), true)}
      onCommit={(v) => change(label, (d) => void (d.brush![key] = v / k))}
    />
  );
  const shift = t.offset ?? [0, 0];
  const moved = (i: 0 | 1, label: string) => (
    <NumberField
      label={label}
      value={shift[i]}
      min={-10000}
      max={10000}
      unit="px"
      onDrag={(v) => change("Source", (d) => void (d.offset = i ? [shift[0], v] : [v, shift[1]]), true)}
      onCommit={(v) => change("Source", (d) => void (d.offset = i ? [shift[0], v] : [v, shift[1]]))}
    />
  );
  const takes = t.kind === "clone" || t.kind === "uncover" || t.kind === "heal" || t.kind === "graft";
  const { in: first, out: last } = s.recipe.shot;
  if (!retouching(s)) return null;
  return (
    <>
      <div className="border-b border-line px-3.5 py-2">
        <input
          aria-label="Name of the touch"
          className="h-7 w-full rounded-md bg-transparent font-semibold placeholder:text-bone focus:bg-ground focus:px-1.5"
          placeholder={t.kind.charAt(0).toUpperCase() + t.kind.slice(1)}
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") e.currentTarget.blur();
          }}
          onBlur={() => name !== (t.name ?? "") && change("Name", (d) => void (d.name = name))}
        />
      </div>
      {t.brush && t.path && (
        <Section title="Brush">
          {brush("Size", "size", 1, 2000, "px")}
          {brush("Hardness", "hardness", 100, 100, "%")}
          {brush("Opacity", "opacity", 100, 100, "%")}
          {brush("Flow", "flow", 100, 100, "%")}
        </Section>
      )}
      {t.outline && (
        <Section title="Edge">
          <NumberField
            label="Feather"
            value={t.feather ?? 0}
            min={0}
            max={200}
            unit="px"
            onDrag={(v) => change("Feather", (d) => void (d.feather = v), true)}
            onCommit={(v) => change("Feather", (d) => void (d.feather = v))}
          />
          {t.kind === "graft" && <p className="text-dim">Drag its dotted outline on the picture to other texture.</p>}
        </Section>
      )}
      {takes && (
        <Section title="Source">
          <p className="mb-1 text-dim">{sourceWords(t, s.recipe.plates, (k) => s.shot.takes[k]?.name ?? k)}</p>
          {(t.offset || t.source) && (
            <>
              {moved(0, "Across")}
              {moved(1, "Down")}
              <NumberField
                label="Scale"
                value={Math.round(100 * (t.scale ?? 1))}
                min={10}
                max={1000}
                unit="%"
                onDrag={(v) => change("Scale", (d) => void (d.scale = v / 100), true)}
                onCommit={(v) => change("Scale", (d) => void (d.scale = v / 100))}
              />
              <NumberField
                label="Turn"
                value={t.angle ?? 0}
                min={-360}
                max={360}
                step={0.5}
                unit="°"
                onDrag={(v) => change("Turn", (d) => void (d.angle = v), true)}
                onCommit={(v) => change("Turn", (d) => void (d.angle = v))}
              />
              <Tick label="Mirrored" on={!!t.mirror} onChange={(on) => change("Mirror", (d) => void (d.mirror = on))} />
              {t.source && (
                <Tick label="Takes on the light of this picture" on={!!t.light} onChange={(on) => change("Light", (d) => void (d.light = on))} />
              )}
            </>
          )}
        </Section>
      )}
      {t.kind === "fill" && <Tries touch={t} />}
      {t.kind === "flat" && (
        <Section title="Colour">
          <Tick label="One colour, even where it slopes" on={!!t.plain} onChange={(on) => change("Slope", (d) => void (d.plain = on))} />
        </Section>
      )}
      {t.frames && (
        <Section title="Frames">
          <FrameField
            label="First frame"
            value={t.frames[0]}
            min={first}
            max={t.frames[1]}
            onCommit={(v) => change("First frame", (d) => void (d.frames = [v, d.frames![1]]))}
          />
          <FrameField
            label="Last frame"
            value={t.frames[1]}
            min={t.frames[0]}
            max={last}
            onCommit={(v) => change("Last frame", (d) => void (d.frames = [d.frames![0], v]))}
          />
        </Section>
      )}
      {(t.fence?.length ?? 0) > 0 && (
        <Section title="Fence">
          <Button className="w-full" onClick={() => change("Fence", (d) => void delete d.fence)}>
            Take the fence off this touch
          </Button>
        </Section>
      )}
      <div className="flex gap-2 px-3.5 py-3">
        <Button className="flex-1" onClick={() => editor.retouch.set({ touch: null })}>
          Back to the brush
        </Button>
        <Button tone="fault" aria-label="Delete the touch" onClick={() => editor.retouch.deleteTouch(t.id)}>
          <Trash2 size={14} />
        </Button>
      </div>
    </>
  );
}

function sourceWords(t: Touch, plates: Record<string, { name?: string }>, take: (key: string) => string): string {
  const { source } = t;
  if (!source) return t.offset ? "This picture, as it was before." : "Found near by.";
  if (source.plate !== undefined) return `The plate ${plates[source.plate]?.name ?? source.plate}.`;
  if (source.slip !== undefined) return `${Math.abs(source.slip)} frames ${source.slip < 0 ? "earlier" : "later"}.`;
  return `Frame ${source.frame} of ${take(source.take ?? "")}.`;
}
