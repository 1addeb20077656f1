"use client";
import clsx from "clsx";
import { type PointerEvent, useState } from "react";
import type { KeyframeMark } from "@/client/editor/state/timeline";
import type { PatchLayer } from "@/core/document/layer";
import { useEditor } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { useHold } from "../editor/useHold";
import type { Axis } from "./axis";

interface Props {
  layer: PatchLayer;
  axis: Axis;
  frames: number[];
  picked: readonly KeyframeMark[];
  selected: boolean;
}

/** A patch's keyframes: picked by a click (several with Shift), dragged to the exact frame; a double click goes there. */
export function KeyMarks({ layer, axis, frames, picked, selected }: Props) {
  const editor = useEditor();
  const count = useCounting();
  const [by, setBy] = useState<number | null>(null);
  const grip = useHold<{ x: number; by: number }>(() => {
    setBy(null);
    editor.cancelPreview();
  });
  const isPicked = (f: number) => picked.some((k) => k.layer === layer.id && k.f === f);
  const down = (f: number) => (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    editor.selection.select({ kind: "layer", layer: layer.id });
    const mark = { layer: layer.id, f };
    if (e.shiftKey) editor.timeline.pickKeyframes(isPicked(f) ? picked.filter((k) => k.layer !== layer.id || k.f !== f) : [...picked, mark]);
    else if (!isPicked(f)) editor.timeline.pickKeyframes([mark]);
    if (layer.locked) return;
    grip.take({ x: e.clientX, by: 0 }, e);
  };
  const move = (e: PointerEvent) => {
    const g = grip.now;
    if (!g) return;
    const next = Math.round((e.clientX - g.x) / axis.per);
    if (next === g.by) return;
    g.by = next;
    setBy(next);
    editor.timeline.moveKeyframes(next, true);
  };
  const up = () => {
    const g = grip.release();
    setBy(null);
    if (g?.by) editor.timeline.moveKeyframes(g.by);
  };
  // while keys are dragged the preview moves them: marks are shown where they stood, moved by as much
  const shown = by === null ? frames : [...new Set([...frames.filter((f) => !picked.some((k) => k.layer === layer.id && k.f + by === f)), ...picked.filter((k) => k.layer === layer.id).map((k) => k.f)])]; // prettier-ignore
  return (
    <>
      {shown.map((f) => {
        const on = isPicked(f);
        const at = f + (on && by !== null ? by : 0);
        return (
          <div
            key={f}
            role="button"
            tabIndex={-1}
            data-testid="key"
            data-frame={at}
            aria-pressed={on}
            aria-label={`Keyframe at ${count.show(at)}`}
            className="absolute top-0 flex h-[18px] w-3 cursor-ew-resize justify-center"
            style={{ left: axis.x(at) + axis.per / 2 - 6 }}
            title={`Keyframe at ${count.show(at)}; drag`}
            onPointerDown={down(f)}
            onPointerMove={move}
            onPointerUp={up}
            onPointerCancel={grip.cancel}
            onLostPointerCapture={grip.cancel}
            onDoubleClick={() => editor.transport.goTo(f)}
          >
            <span
              className={clsx("h-full rounded-sm", on ? "w-[5px] bg-ochre ring-1 ring-ground" : selected ? "w-[3px] bg-ochre" : "w-[3px] bg-ground")}
            />
          </div>
        );
      })}
    </>
  );
}
