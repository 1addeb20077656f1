"use client";
import { type PointerEvent, type RefObject, useEffect, useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { toast } from "sonner";
import { round } from "@/client/editor/names";
import { byLoop, hindrance, offsetFor, takesPoint } from "@/client/editor/retouching";
import { touchesOpen } from "@/client/editor/state";
import { type KeyId, keysOf } from "@/client/input/keys";
import type { Gesture } from "@/client/editor/tools/gesture";
import { areaGesture } from "@/client/editor/tools/area";
import { graftGesture, inside } from "@/client/editor/tools/graft";
import { guideGesture } from "@/client/editor/tools/guide";
import { loopGesture } from "@/client/editor/tools/retouch-loop";
import { ringGesture } from "@/client/editor/tools/brush-ring";
import { strokeGesture } from "@/client/editor/tools/stroke";
import type { Point } from "@/core/document";
import { useEditor, useEditorPick } from "../../editor/context";
import { isTyping, useHeld } from "../../editor/useHeld";
import { usePreferences } from "../../editor/usePreferences";
import { capturePointer } from "../capturePointer";
import { usePointerPipe } from "../usePointerPipe";
import { usePointerAtOnce } from "../usePointerAtOnce";
import type { Lie } from "../zoom";
import { BrushRing } from "./BrushRing";
import { TouchMarks } from "./TouchMarks";

interface Props {
  lie: Lie;
  size: { w: number; h: number };
  toTake: (e: { clientX: number; clientY: number }) => [number, number];
  picture: RefObject<HTMLCanvasElement | null>;
  blocked: boolean;
}

const pressure = (e: { pointerType: string; pressure: number }) => (e.pointerType === "pen" ? e.pressure : 1);

/** Retouching on the picture, of a plate or of a frame: strokes, loops, grafts, and what is drawn beside them. */
export function RetouchLayer({ lie, size, toTake, picture, blocked }: Props) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "plate", "paint", "retouch");
  const [at, setAt] = useState<[number, number] | null>(null);
  const surface = useRef<HTMLDivElement>(null);
  const { pipe, live } = usePointerPipe(editor, blocked);
  const lastEnd = useRef<Point | null>(null);
  const sizing = useHeld("ring");
  const straight = useHeld("straight");
  const { retouch } = s;

  useEffect(() => {
    lastEnd.current = null;
  }, [s.plate, s.paint]);
  const own = usePreferences((p) => p.keys);
  const keyOf = (id: KeyId) => keysOf(id, own);
  const here = { useKey: false, ignoreEventWhen: isTyping, enableOnFormTags: true } as const;
  useHotkeys(
    keyOf("source"),
    () => {
      if (!at || !takesPoint(retouch.tool)) return;
      editor.retouch({ point: { at: [round(at[0]), round(at[1])], offset: null }, touch: null });
    },
    here,
  );
  useHotkeys(keyOf("carry"), () => editor.carry(null), here);
  useHotkeys(keyOf("carryHere"), () => editor.carry(at), here);

  /** What a press begins, as things stand. */
  const started = (p: Point): Gesture | null => {
    if (sizing) return ringGesture(editor, p);
    if (retouch.aid === "fence") return loopGesture(p, (o) => (editor.addAid("fence", o), editor.retouch({ aid: null })));
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
      return loopGesture(p, (loop) => editor.retouch({ loop, touch: null }));
    }
    if (byLoop(retouch)) return loopGesture(p, (o) => editor.layTouch(editor.loopTouch(o)));
    return strokeGesture(editor, p, straight ? lastEnd.current : null, (last) => (lastEnd.current = last));
  };

  const begin = (e: PointerEvent) => {
    if (e.button !== 0 || blocked) return;
    const p: Point = [...toTake(e), pressure(e)];
    const g = started(p);
    if (!g) return;
    capturePointer(e.currentTarget, e.pointerId);
    pipe.begin(g, e.nativeEvent, p);
  };
  const place = (e: globalThis.PointerEvent): Point => [...toTake(e), pressure(e)];
  const draw = (e: globalThis.PointerEvent) => pipe.move(e, place);
  const move = (e: PointerEvent) => {
    if (!sizing || !pipe.live) setAt(toTake(e));
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
      onPointerLeave={() => setAt(null)}
    >
      <TouchMarks lie={lie} size={size} trace={trace} />
      {at && (!loop || sizing) && (
        <BrushRing lie={lie} size={size} at={at} picture={picture} drawing={drawing} offset={retouch.aid ? null : offsetFor(retouch, at)} />
      )}
    </div>
  );
}
