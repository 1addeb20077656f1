"use client";
import { atFrame } from "@/client/editor/counting";
import type { PaintLayer } from "@/core/document/layer";
import type { Draft } from "@/recipe/edits";
import { layerById, layerTitle } from "@/recipe/query";
import { useEditor, useEditorPick } from "../editor/context";
import { Button } from "../parts/Button";
import { Tick } from "./retouch/Tick";
import { FrameField } from "./FrameFields";
import { Section } from "./Section";

/** A paint layer that is selected, not opened. */
export function PaintCard({ layer }: { layer: PaintLayer }) {
  const editor = useEditor();
  const s = useEditorPick("recipe");
  const { in: first, out: last } = s.recipe.shot;
  const change = (name: string, run: (d: Draft<PaintLayer>) => void) =>
    editor.commit(name, (d) => {
      const l = layerById(d, layer.id);
      if (l) run(l as Draft<PaintLayer>);
    });
  const frames = new Set(layer.touches.flatMap((t) => (t.frames ? [t.frames[0]] : []))).size;
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">{layerTitle(s.recipe, layer.id)}, painted</h2>
      </div>
      <Section title="Painted on frames">
        <p className="mb-2 text-dim">
          {layer.touches.length === 0
            ? "Nothing yet."
            : `${layer.touches.length} ${layer.touches.length === 1 ? "touch" : "touches"} on ${frames} ${frames === 1 ? "frame" : "frames"}.`}
        </p>
        <Button tone="main" className="w-full" onClick={() => editor.mode.openPaint(layer.id)}>
          Paint <kbd className="num">B</kbd>
        </Button>
      </Section>
      <Section title="Time">
        <FrameField
          label="First frame"
          value={layer.in}
          min={first}
          max={layer.out}
          onCommit={(v) => change(`Begin the paint at frame ${atFrame(v)}`, (d) => void (d.in = v))}
        />
        <FrameField
          label="Last frame"
          value={layer.out}
          min={layer.in}
          max={last}
          onCommit={(v) => change(`End the paint at frame ${atFrame(v)}`, (d) => void (d.out = v))}
        />
        <Tick label="On" on={layer.on !== false} onChange={(on) => change(`Switch the paint ${on ? "on" : "off"}`, (d) => void (d.on = on))} />
      </Section>
      <div className="px-3.5 py-3">
        <Button tone="fault" className="w-full" onClick={editor.patches.removeSelected}>
          Delete
        </Button>
      </div>
    </>
  );
}
