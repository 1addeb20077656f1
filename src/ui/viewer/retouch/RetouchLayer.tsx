"use client";
import { type PointerEvent, type RefObject, useEffect, useRef } from "react";
import { toast } from "sonner";
import { byLoop, hindrance, offsetFor } from "@/client/editor/retouch-target";
import { touchesOpen } from "@/client/editor/state/select";
import type { Gesture } from "@/client/editor/tools/gesture";
import { areaGesture } from "@/client/editor/tools/area";
import { graftGesture, inside } from "@/client/editor/tools/graft";
import { guideGesture } from "@/client/editor/tools/guide";
import { loopGesture } from "@/client/editor/tools/retouch-loop";
import { ringGesture } from "@/client/editor/tools/brush-ring";
import { strokeGesture } from "@/client/editor/tools/stroke";
import type { Point } from "@/core/document/geometry";
import { useEditor, useEditorPick, useEditorState } from "../../editor/context";
import { capturePointer } from "../capturePointer";
import { usePointerPipe } from "../usePointerPipe";
import { usePointerAtOnce } from "../usePointerAtOnce";
import type { Viewport } from "../zoom";
import { BrushRing } from "./BrushRing";
import { TouchMarks } from "./TouchMarks";
import { openPlate, openPaint } from "@/client/editor/state/mode";

interface Props {
  viewport: Viewport;
  size: { w: number; h: number };
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
  picture: RefObject<HTMLCanvasElement | null>;
  blocked: boolean;
}

const pressure = (e: { pointerType: string; pressure: number }) => (e.pointerType === "pen" ? e.pressure : 1);

/** Retouching on the picture, of a plate or of a frame: strokes, loops, grafts, and what is drawn beside them. */
export function RetouchLayer({ viewport, size, toTake, picture, blocked }: Props) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "mode", "retouch");
  const at = useEditorState((x) => x.pointer);
  const surface = useRef<HTMLDivElement>(null);
  const { pipe, live } = usePointerPipe(editor, blocked);
  const lastEnd = useRef<Point | null>(null);
  const { ring: sizing, straight } = useEditorState((x) => x.holding);
  const { retouch } = s;

  const target = openPlate(s) ?? openPaint(s);
  useEffect(() => {
    lastEnd.current = null;
  }, [target]);
  useEffect(() => () => editor.view.pointAt(null), [editor]);
  /** What a press begins, as things stand. */
  const started = (p: Point): Gesture | null => {
    if (sizing) return ringGesture(editor, p);
    if (retouch.aid === "fence") return loopGesture(p, (o) => (editor.history.addAid("fence", o), editor.retouch.set({ aid: null })));
    if (retouch.aid === "guide") return guideGesture(editor, p);
    if (retouch.aid) return areaGesture(editor, p, retouch.aid);
    const why = hindrance(editor.store.getState());
    if (why) {
      toast(why);
      return null;
    }
    if (retouch.tool === "graft") {
      const chosen = touchesOpen(s).find((t) => t.id === retouch.touch && t.kind === "graft");
      if (retouch.loop.length && inside(retouch.loop, p)) return graftGesture(editor, p, retouch.loop, null);
      if (chosen?.outline) {
        const [ox, oy] = chosen.offset ?? [0, 0];
        if (inside(chosen.outline, [p[0] - ox, p[1] - oy])) return graftGesture(editor, p, chosen.outline, chosen);
      }
      return loopGesture(p, (loop) => editor.retouch.set({ loop, touch: null }));
    }
    if (byLoop(retouch)) return loopGesture(p, (o) => editor.retouch.layTouch(editor.retouch.loopTouch(o)));
    return strokeGesture(editor, p, straight ? lastEnd.current : null, (last) => (lastEnd.current = last));
  };

  const begin = (e: PointerEvent) => {
    if (e.button !== 0 || blocked) return;
    const p: Point = [...toTake(e), pressure(e)];
    if (pipe.begin(() => started(p), e.nativeEvent, p)) capturePointer(e.currentTarget, e.pointerId);
  };
  const place = (e: globalThis.PointerEvent): Point => [...toTake(e), pressure(e)];
  const draw = (e: globalThis.PointerEvent) => pipe.move(e, place);
  const move = (e: PointerEvent) => {
    if (!sizing || !pipe.live) editor.view.pointAt(toTake(e));
    draw(e.nativeEvent);
  };
  usePointerAtOnce(surface, draw);
  const end = (e: PointerEvent) => pipe.up(e.nativeEvent, place(e.nativeEvent));

  const drawing = live !== null;
  const traced = live?.gesture.trace;
  const trace = live && (traced === "stroke" || traced === "loop" || traced === "line") ? { kind: traced, points: live.points } : null;
  const loop = byLoop(retouch) || retouch.aid === "fence" || retouch.aid === "guide";
  return (
    <div
      ref={surface}
      data-surface
      data-testid="retouch-layer"
      className="absolute inset-0 touch-none"
      style={{ cursor: blocked ? "grab" : loop && !sizing ? "crosshair" : "none" }}
      onPointerDown={begin}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={pipe.cancel}
      onLostPointerCapture={pipe.cancel}
      onPointerLeave={() => editor.view.pointAt(null)}
    >
      <TouchMarks viewport={viewport} size={size} trace={trace} />
      {at && (!loop || sizing) && (
        <BrushRing viewport={viewport} size={size} at={at} picture={picture} drawing={drawing} offset={retouch.aid ? null : offsetFor(retouch, at)} />
      )}
    </div>
  );
}
