"use client";
import type { PointerEvent } from "react";
import { type Intruder, seenFrames } from "@/core/document/recipe";
import { useEditor } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { useHold } from "../editor/useHold";
import type { Axis } from "./axis";

interface Props {
  intruder: Intruder;
  axis: Axis;
  leaks: [number, number][];
  /** Where it reaches beyond the loop it was outlined with. */
  beyond: readonly (readonly [number, number])[];
  first: number;
  last: number;
}

/** Where an intruder is seen: bone hatching; its ends can be dragged. What is seen and not covered is marked as a leak. */
export function SeenBand({ intruder, axis, leaks, beyond, first, last }: Props) {
  const editor = useEditor();
  const { show } = useCounting();
  const grip = useHold<"in" | "out">();
  const band = seenFrames(intruder);
  if (!band) return null;
  const left = axis.x(Math.max(first, band.in));
  const width = axis.x(Math.min(last, band.out) + 1) - left;
  const frameOf = (e: PointerEvent) => axis.frameAt(e.clientX - (e.currentTarget.closest("[data-lane]") as HTMLElement).getBoundingClientRect().left);
  const set = (k: "in" | "out" | null, e: PointerEvent, dragging: boolean) => {
    if (!k) return;
    const n = frameOf(e);
    editor.scout.setSeen(intruder.id, k, k === "in" ? Math.min(n, band.out) : Math.max(n, band.in), dragging);
  };
  const byHand = (k: "in" | "out") => intruder.seen?.[k] !== undefined;
  return (
    <div data-lane className="absolute inset-x-0 top-[4px] h-3">
      <div
        data-testid="seen"
        data-in={band.in}
        data-out={band.out}
        className="absolute top-0 h-[9px] rounded-[3px]"
        style={{
          left,
          width,
          background: "repeating-linear-gradient(135deg, #efe7da 0 2px, transparent 2px 5px)",
          boxShadow: "inset 0 0 0 1px #b5a893",
        }}
        title={`${intruder.name} is seen from frame ${show(band.in)} to ${show(band.out)}`}
        onPointerDown={() => editor.selection.select({ kind: "intruder", intruder: intruder.id })}
      />
      {leaks.map(([a, b]) => (
        <div
          key={a}
          data-testid="leak"
          className="absolute top-[10px] h-[3px] bg-brick"
          style={{ left: axis.x(a), width: axis.x(b + 1) - axis.x(a) }}
          title={`Seen and not covered: frame ${a === b ? show(a) : `${show(a)} to ${show(b)}`}`}
        />
      ))}
      {beyond.map(([a, b]) => (
        <div
          key={`beyond-${a}`}
          data-testid="beyond"
          className="absolute top-[-2px] h-[2px] bg-brick"
          style={{ left: axis.x(a), width: Math.max(2, axis.x(b + 1) - axis.x(a)) }}
          title={`Reaches beyond the loop: frame ${a === b ? show(a) : `${show(a)} to ${show(b)}`}`}
        />
      ))}
      {(["in", "out"] as const).map((k) => (
        <div
          key={k}
          data-testid={`seen-${k}`}
          className="absolute top-[-2px] flex h-[13px] w-2.5 cursor-ew-resize justify-center"
          style={{ left: k === "in" ? left - 5 : left + width - 5 }}
          title={`${k === "in" ? "First" : "Last"} frame ${show(band[k])}, ${byHand(k) ? "set by hand" : "measured"}; drag`}
          onPointerDown={(e) => {
            e.stopPropagation();
            grip.take(k, e);
          }}
          onPointerMove={(e) => set(grip.now, e, true)}
          onPointerUp={(e) => set(grip.release(), e, false)}
          onPointerCancel={grip.cancel}
          onLostPointerCapture={grip.cancel}
        >
          <span className={byHand(k) ? "h-full w-[3px] rounded-sm bg-ochre" : "h-full w-[2px] rounded-sm bg-bone"} />
        </div>
      ))}
      <span
        aria-hidden
        className="absolute top-[-1px] h-[11px] w-[5px] -translate-x-1/2 rotate-45 bg-bone"
        style={{ left: axis.x(band.worst) + axis.per / 2, width: 7, height: 7, top: 1 }}
        title={`Worst at frame ${show(band.worst)}`}
      />
    </div>
  );
}
