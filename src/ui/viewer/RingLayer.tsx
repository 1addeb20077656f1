"use client";
import type { PointerEvent } from "react";
import type { Editor } from "@/client/editor/editor";
import type { Gesture } from "@/client/editor/tools/gesture";
import { ringBoxGesture } from "@/client/editor/tools/ring-box";
import { scoutGesture } from "@/client/editor/tools/scout";
import type { Point } from "@/core/document/geometry";
import { useEditor, useEditorPick } from "../editor/context";
import { capturePointer } from "./capturePointer";
import { usePointerPipe } from "./usePointerPipe";
import type { Viewport } from "./zoom";

interface Props {
  viewport: Viewport;
  size: { w: number; h: number };
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
  blocked: boolean;
}

/** Scouting on the picture: one drag round a thing, and the outlines of what was found. */
export const ScoutLayer = (props: Props) => <RingLayer {...props} begin={scoutGesture} outlines />;

/** Matching on the picture: a box over a flat area, whose grain is measured. */
const flatBox = (editor: Editor, first: Point) => ringBoxGesture(editor.matching, first);
export const FlatBoxLayer = (props: Props) => <RingLayer {...props} begin={flatBox} outlines={false} />;

interface RingProps extends Props {
  begin: (editor: Editor, first: Point) => Gesture;
  /** Whether things that were outlined before are shown. */
  outlines: boolean;
}

/** One drag over the picture that is drawn as it goes. */
function RingLayer({ viewport, size, toTake, blocked, begin, outlines }: RingProps) {
  const editor = useEditor();
  const s = useEditorPick("ring", "recipe", "selection", "frame", "handles", "found");
  const { pipe } = usePointerPipe(editor, blocked);
  const path = (points: readonly Point[]) =>
    points.map(([x, y], i) => `${i ? "L" : "M"}${viewport.left + x * viewport.scale} ${viewport.top + y * viewport.scale}`).join("");
  const down = (e: PointerEvent) => {
    if (e.button !== 0 || blocked) return;
    capturePointer(e.currentTarget, e.pointerId);
    const p = toTake(e);
    pipe.begin(() => begin(editor, p), e.nativeEvent, p);
  };
  const shown = s.recipe.intruders.filter((i) => outlines && i.seen?.at === s.frame && s.handles);
  const chosen = s.selection?.kind === "intruder" ? s.found[s.selection.intruder] : undefined;
  const forms = (outlines && s.handles && chosen?.forms[s.frame - s.recipe.shot.in]) || [];
  const found = forms.map((ring) => `${path(ring)}Z`).join("");
  return (
    <div
      data-surface
      data-testid="ring-layer"
      className="absolute inset-0 touch-none"
      style={{ cursor: blocked ? undefined : "crosshair" }}
      onPointerDown={down}
      onPointerMove={(e) => pipe.move(e.nativeEvent, toTake)}
      onPointerUp={(e) => pipe.up(e.nativeEvent, toTake(e))}
      onPointerCancel={pipe.cancel}
      onLostPointerCapture={pipe.cancel}
    >
      <svg width={size.w} height={size.h} className="pointer-events-none absolute inset-0" aria-hidden>
        {found && (
          <g data-testid="form" fill="none" strokeLinejoin="round">
            <path d={found} stroke="#000" strokeOpacity=".5" strokeWidth="2.6" />
            <path d={found} stroke="#efe7da" strokeOpacity=".8" strokeWidth="1" />
          </g>
        )}
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
