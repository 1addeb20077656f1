"use client";
import { type PointerEvent, useRef } from "react";
import type { Point } from "@/core/document";
import { useEditor, useEditorPick } from "../editor/context";
import { capturePointer } from "./capturePointer";
import type { Lie } from "./zoom";

interface Props {
  lie: Lie;
  size: { w: number; h: number };
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
  blocked: boolean;
}

/** Scouting on the picture: one drag round a thing, and the outlines of what was found. */
export function RingLayer({ lie, size, toTake, blocked }: Props) {
  const editor = useEditor();
  const s = useEditorPick("ring", "recipe", "selection", "frame", "handles");
  const drawing = useRef<Point[] | null>(null);
  const path = (points: readonly Point[]) =>
    points.map(([x, y], i) => `${i ? "L" : "M"}${lie.left + x * lie.scale} ${lie.top + y * lie.scale}`).join("");
  const down = (e: PointerEvent) => {
    if (e.button !== 0 || blocked) return;
    capturePointer(e.currentTarget, e.pointerId);
    editor.gestureBegins(cancel);
    drawing.current = [toTake(e)];
  };
  const move = (e: PointerEvent) => {
    if (!drawing.current) return;
    const events = e.nativeEvent.getCoalescedEvents?.() ?? [];
    drawing.current = [...drawing.current, ...(events.length ? events : [e]).map(toTake)];
    editor.set({ ring: drawing.current });
  };
  const cancel = () => {
    drawing.current = null;
    editor.set({ ring: [] });
    editor.gestureEnds();
  };
  const up = () => {
    const ring = drawing.current;
    drawing.current = null;
    editor.gestureEnds();
    if (ring && ring.length > 4) void editor.ringed(ring);
    else editor.set({ ring: [] });
  };
  const shown = s.recipe.intruders.filter((i) => i.seen?.at === s.frame && s.handles);
  return (
    <div
      data-surface
      data-testid="ring-layer"
      className="absolute inset-0 touch-none"
      style={{ cursor: blocked ? undefined : "crosshair" }}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={cancel}
    >
      <svg width={size.w} height={size.h} className="pointer-events-none absolute inset-0" aria-hidden>
        {shown.map((i) => (
          <g key={i.id} fill="none">
            <path d={`${path(i.seen!.outline)}Z`} stroke="#000" strokeOpacity=".6" strokeWidth="3" />
            <path
              d={`${path(i.seen!.outline)}Z`}
              stroke="#efe7da"
              strokeWidth={s.selection?.kind === "intruder" && s.selection.intruder === i.id ? 1.6 : 1}
              strokeDasharray="2 4"
            />
          </g>
        ))}
        {s.ring.length > 1 && (
          <g fill="none" strokeLinejoin="round">
            <path d={path(s.ring)} stroke="#000" strokeOpacity=".6" strokeWidth="4" />
            <path d={path(s.ring)} stroke="#efe7da" strokeWidth="1.8" />
          </g>
        )}
      </svg>
    </div>
  );
}
