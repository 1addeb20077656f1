"use client";
import { atFrame } from "@/client/editor/counting";
import type { PatchLayer } from "@/core/document/layer";
import { isKeyed } from "@/core/time/keyed";
import type { Draft } from "@/recipe/edits";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { Pair } from "../FrameFields";

type Change = (name: string, edit: (d: Draft<PatchLayer>) => void, dragging?: boolean) => void;

const REPEATS = [
  ["loop", "round and round"],
  ["bounce", "to and fro"],
  ["slow", "slowed to fit"],
] as const;

/** A stretch that is borrowed as a living source: its frames, and how it is made long enough. */
export function Borrowed({ layer, last, change }: { layer: PatchLayer; last: number; change: Change }) {
  const { from = 0, to = 0, repeat = "loop", join = 0 } = layer.source;
  return (
    <>
      <Pair
        frames
        label="Borrowed"
        a={{
          label: "Borrowed from frame",
          value: from,
          min: 0,
          max: to,
          onDrag: (v) => change("Borrow", (d) => void (d.source.from = v), true),
          onCommit: (v) => change(`Borrow from frame ${atFrame(v)}`, (d) => void (d.source.from = v)),
        }}
        b={{
          label: "Borrowed to frame",
          value: to,
          min: from,
          max: last,
          onDrag: (v) => change("Borrow", (d) => void (d.source.to = v), true),
          onCommit: (v) => change(`Borrow to frame ${atFrame(v)}`, (d) => void (d.source.to = v)),
        }}
      />
      <label className="flex h-8 items-center gap-2">
        <span className="w-[84px] shrink-0 text-dim">Runs</span>
        <select
          className="h-7 w-[118px] rounded-md border border-line bg-ground px-1.5"
          value={repeat}
          onChange={(e) =>
            change(`Let the stretch run ${e.target.selectedOptions[0].text}`, (d) => void (d.source.repeat = e.target.value as "loop"))
          }
        >
          {REPEATS.map(([v, l]) => (
            <option key={v} value={v}>
              {l}
            </option>
          ))}
        </select>
      </label>
      {repeat === "loop" && (
        <NumberField
          label="Dissolve ends"
          value={join}
          min={0}
          max={Math.floor((to - from + 1) / 2)}
          unit="f"
          reset={0}
          onDrag={(v) => change("Dissolve", (d) => void (d.source.join = v), true)}
          onCommit={(v) => change(`Dissolve the stretch's ends over ${v} frames`, (d) => void (d.source.join = v))}
        />
      )}
    </>
  );
}

/** Offers to let a still picture follow the camera where the survey says that it moves. */
export function Follow({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { survey } = useEditorPick("survey");
  const verdict = survey?.survey?.stillness.verdict;
  if (!verdict || verdict === "locked") return null;
  const follows = layer.tied?.to !== undefined || isKeyed(layer.place?.x ?? 0) || isKeyed(layer.place?.y ?? 0);
  return (
    <Button className="mt-1 w-full" onClick={() => void editor.patches.followCamera(layer.id)}>
      {follows ? "Follow the camera anew" : "Follow the camera"}
    </Button>
  );
}
