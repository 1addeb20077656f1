"use client";
import { type PointerEvent, useRef } from "react";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import type { Axis } from "./axis";

/** A round number of frames between two labels. */
function niceStep(least: number): number {
  for (const k of [1, 2, 4, 8, 12, 24, 48, 120, 240, 480, 1200, 2400, 6000, 12000]) if (k >= least) return k;
  return 24000;
}

/** The frames' numbers, the playhead, and the marked stretch. */
export function Ruler({ axis, first: a, last: b, width }: { axis: Axis; first: number; last: number; width: number }) {
  const editor = useEditor();
  const { frame, playing, marked } = useEditorPick("frame", "playing", "marked");
  const count = useCounting();
  const end = useRef<"in" | "out" | null>(null);
  const step = niceStep((count.by === "timecode" ? 110 : 70) / axis.per);
  const from = Math.max(a, a + Math.floor((axis.frameAt(0) - a) / step) * step);
  const ticks = Array.from({ length: Math.max(0, Math.floor((axis.frameAt(width) - from) / step) + 1) }, (_, i) => from + i * step);
  const wide = count.by === "timecode" ? 48 : 26;
  const scrub = (e: PointerEvent) => {
    if (e.type === "pointerdown") {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      if (playing) editor.transport.stop();
    } else if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
    editor.transport.goTo(axis.frameAt(e.clientX - e.currentTarget.getBoundingClientRect().left));
  };
  const at = axis.x(frame) + axis.per / 2;
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Playhead"
      aria-valuemin={a}
      aria-valuemax={b}
      aria-valuenow={frame}
      aria-valuetext={count.show(frame)}
      data-testid="ruler"
      className="relative h-full touch-none overflow-hidden"
      style={{ width }}
      onPointerDown={scrub}
      onPointerMove={scrub}
    >
      {ticks
        .filter((f) => axis.x(f) >= -1 && Math.abs(axis.x(f) + 8 - at) > wide)
        .map((f) => (
          <span
            key={f}
            className="num absolute top-0 h-full border-l border-line pl-1 text-[12px] leading-[32px] text-dim"
            style={{ left: axis.x(f) }}
          >
            {count.show(f)}
          </span>
        ))}
      {marked && (
        <div
          data-testid="marked"
          className="absolute bottom-0 h-[5px] bg-bone/70"
          style={{ left: axis.x(marked.in), width: axis.x(marked.out + 1) - axis.x(marked.in) }}
          title={`Marked: ${count.show(marked.in)} to ${count.show(marked.out)}; playing stays within`}
        >
          {(["in", "out"] as const).map((k) => (
            <span
              key={k}
              className="absolute bottom-0 h-[12px] w-[6px] cursor-ew-resize rounded-sm bg-bone"
              style={k === "in" ? { left: -2 } : { right: -2 }}
              onPointerDown={(e) => {
                e.stopPropagation();
                e.currentTarget.setPointerCapture(e.pointerId);
                end.current = k;
              }}
              onPointerMove={(e) => {
                e.stopPropagation();
                const r = e.currentTarget.closest('[data-testid="ruler"]')!.getBoundingClientRect();
                if (end.current) editor.transport.mark(end.current, axis.frameAt(e.clientX - r.left));
              }}
              onPointerUp={() => (end.current = null)}
            />
          ))}
        </div>
      )}
      <span
        className="num pointer-events-none absolute top-[6px] z-10 rounded bg-ochre px-1.5 text-[12px] leading-5 font-semibold text-ground"
        style={{ left: at, transform: "translateX(-50%)" }}
      >
        {count.show(frame)}
      </span>
    </div>
  );
}
