"use client";
import { atFrame } from "@/client/editor/counting";
import { intruderOf, layerTitle } from "@/recipe/query";
import { takeOf } from "@/client/editor/state/select";
import type { PatchLayer } from "@/core/document/layer";
import { seenFrames } from "@/core/document/recipe";
import type { Draft } from "@/recipe/edits";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { Section } from "../Section";
import { Pair } from "../FrameFields";
import { KeyedField } from "./KeyedField";

/** When the patch is there, and how much of it. */
export function TimeSection({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { recipe, shot } = useEditorPick("recipe", "shot");
  const title = layerTitle(recipe, layer.id);
  const last = takeOf({ recipe, shot }).info!.frames - 1;
  const home = intruderOf(recipe, layer.id)!;
  const set = (label: string, field: "in" | "out" | "fadeIn" | "fadeOut", min: number, max: number, words: (v: number) => string) => {
    const put = (v: number) => (d: Draft<PatchLayer>) => void (d[field] = v);
    return {
      label,
      value: layer[field] ?? 0,
      min,
      max,
      onDrag: (v: number) => editor.patches.changeLayer(layer.id, label, put(v), true),
      onCommit: (v: number) => editor.patches.changeLayer(layer.id, words(v), put(v)),
    };
  };
  return (
    <Section title="Time">
      <Pair
        frames
        label="First, last"
        a={set("First frame", "in", 0, layer.out, (v) => `Begin ${title} at frame ${atFrame(v)}`)}
        b={set("Last frame", "out", layer.in, last, (v) => `End ${title} at frame ${atFrame(v)}`)}
      />
      <div className="flex gap-1.5 py-1 pl-[92px]">
        <Button className="h-6 px-2 text-[12px]" onClick={() => editor.patches.extend(layer, "shot")}>
          Whole shot
        </Button>
        {seenFrames(home) && (
          <Button className="h-6 px-2 text-[12px]" onClick={() => editor.patches.extend(layer, "seen")}>
            Where seen
          </Button>
        )}
      </div>
      <Pair
        label="Fade in, out"
        a={set("Fade in", "fadeIn", 0, 1000, (v) => `Fade ${title} in over ${v} frames`)}
        b={set("Fade out", "fadeOut", 0, 1000, (v) => `Fade ${title} out over ${v} frames`)}
      />
      <KeyedField
        layer={layer}
        label="Opacity"
        value={layer.opacity ?? 1}
        put={(v, name, dragging) => editor.patches.changeLayer(layer.id, name, (d) => void (d.opacity = v as typeof d.opacity), dragging)}
        min={0}
        max={100}
        unit="%"
        reset={100}
        percent
      />
    </Section>
  );
}
