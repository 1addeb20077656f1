import type { Point } from "../../../core/document/geometry";
import { withArm } from "../../../core/shape/outline";
import { type Handle, type Picked, STILL, dragHandle, everyOutline, handlesOf, isDrawn } from "../shapes";
import { maskOf } from "../../../core/document/recipe";
import { pixelAspect, selectedLayer } from "../state/select";
import type { Editor } from "../editor";
import { type Gesture, type Mods, newest } from "./gesture";
import type { MoveFrame } from "./hit";
import { title } from "./selected";

/** A point, arm, radius or corner follows the pointer; of several picked points all move. */
export function handleGesture(editor: Editor, handle: Handle, from: Point, mods: Mods): Gesture {
  const { picked, frame } = editor.store.getState();
  const mine = picked.points.some((p) => p.shape === handle.shape && p.index === handle.index);
  if (handle.kind === "point") {
    if (mods.alt) return armsGesture(editor, handle);
    const next: Picked = mods.shift
      ? {
          shapes: [],
          points: mine
            ? picked.points.filter((p) => p.shape !== handle.shape || p.index !== handle.index)
            : [...picked.points, { shape: handle.shape, index: handle.index }],
        }
      : mine
        ? picked
        : { shapes: [], points: [{ shape: handle.shape, index: handle.index }] };
    editor.masks.pick(next);
    if (next.points.length > 1) return moveGesture(editor, from, "Move", handle);
  }
  // grabbed beside its middle it must not jump
  const [ox, oy] = [handle.x - from[0], handle.y - from[1]];
  let moved = false;
  const apply = (p: Point, m: Mods, dragging: boolean) =>
    editor.masks.changeShapes(
      handle.kind === "in" || handle.kind === "out"
        ? `Draw an arm of ${title(editor)}`
        : handle.kind === "point"
          ? `Move a point of ${title(editor)}`
          : `Resize the shape of ${title(editor)}`,
      [handle.shape],
      (s, _, holds) => dragHandle(s, handle, p[0] + ox, p[1] + oy, frame, holds, m.alt),
      dragging && "picture",
    );
  return {
    handle,
    move(points, m) {
      const p = points.at(-1)!;
      moved ||= Math.hypot(p[0] - from[0], p[1] - from[1]) > 0;
      if (moved) apply(p, m, true);
    },
    end: (p, m) => moved && apply(p, m, false),
    cancel: editor.cancelPreview,
  };
}

/** Pulls both arms out of a point. */
function armsGesture(editor: Editor, handle: Handle): Gesture {
  editor.masks.pick({ shapes: [], points: [{ shape: handle.shape, index: handle.index }] });
  const apply = (p: Point, dragging: boolean) =>
    editor.masks.setShape(
      handle.shape,
      `Curve a point of ${title(editor)}`,
      (s) => everyOutline(s, (o) => withArm(o, handle.index, "out", p[0] - handle.x, p[1] - handle.y, false)),
      dragging && "picture",
    );
  return { handle, move: newest((p) => apply(p, true)), end: (p) => apply(p, false), cancel: editor.cancelPreview };
}

/** What is picked moves with the pointer; with Shift only across or only down. */
export function moveGesture(editor: Editor, from: Point, verb: string, handle?: Handle): Gesture {
  let moved = false;
  const by = (p: Point, m: Mods) => {
    const [dx, dy] = [p[0] - from[0], p[1] - from[1]];
    return m.shift && moved ? (Math.abs(dx) > Math.abs(dy) ? { ...STILL, dx } : { ...STILL, dy }) : { ...STILL, dx, dy };
  };
  return {
    handle,
    move(points, m) {
      const p = points.at(-1)!;
      moved ||= Math.hypot(p[0] - from[0], p[1] - from[1]) > 0;
      if (moved) editor.masks.movePicked(by(p, m), verb, "picture");
    },
    end: (p, m) => moved && editor.masks.movePicked(by(p, m), verb),
    cancel: editor.cancelPreview,
  };
}

/** Scales what is picked: about the corner that lies across, with Alt about the pivot; evenly, with Shift each way by itself. */
export function scaleGesture(editor: Editor, f: MoveFrame, corner: number, from: Point): Gesture {
  const across = [[f.x1, f.y1], [f.x0, f.y1], [f.x0, f.y0], [f.x1, f.y0]][corner]; // prettier-ignore
  const by = (p: Point, m: Mods) => {
    const [px, py] = m.alt ? f.pivot : across;
    const ratio = (a: number, b: number, c: number) => (Math.abs(b - c) < 1e-6 ? 1 : Math.max(0.02, (a - c) / (b - c)));
    const [kx, ky] = [ratio(p[0], from[0], px), ratio(p[1], from[1], py)];
    const even = Math.max(0.02, Math.hypot(p[0] - px, p[1] - py) / Math.max(1e-6, Math.hypot(from[0] - px, from[1] - py)));
    return { ...STILL, px, py, sx: m.shift ? kx : even, sy: m.shift ? ky : even };
  };
  return {
    move: newest((p, m) => editor.masks.movePicked(by(p, m), "Scale", "picture")),
    end: (p, m) => editor.masks.movePicked(by(p, m), "Scale"),
    cancel: editor.cancelPreview,
  };
}

/** Turns what is picked about its pivot; with Shift by steps of 15°. */
export function turnGesture(editor: Editor, f: MoveFrame, from: Point): Gesture {
  const [px, py] = f.pivot;
  const aspect = pixelAspect(editor.store.getState());
  const angle = (p: Point) => (Math.atan2(p[1] - py, aspect * (p[0] - px)) * 180) / Math.PI;
  const by = (p: Point, m: Mods) => {
    const turn = ((angle(p) - angle(from) + 540) % 360) - 180;
    return { ...STILL, px, py, aspect, degrees: m.shift ? Math.round(turn / 15) * 15 : turn };
  };
  return {
    move: newest((p, m) => editor.masks.movePicked(by(p, m), "Turn", "picture")),
    end: (p, m) => editor.masks.movePicked(by(p, m), "Turn"),
    cancel: editor.cancelPreview,
  };
}

/** The pivot follows the pointer; it is no part of the recipe. */
export const pivotGesture = (set: (p: Point) => void): Gesture => ({ move: newest(set), end: set, cancel: () => undefined });

/** Picks all points within a frame; with Shift beside those that are picked. A mere click goes to `clicked`. */
export function frameGesture(editor: Editor, from: Point, scale: number, clicked: () => void): Gesture {
  return {
    trace: "frame",
    move: () => undefined,
    end(p, m) {
      if (Math.hypot(p[0] - from[0], p[1] - from[1]) * scale < 4) return clicked();
      const s = editor.store.getState();
      const layer = selectedLayer(s);
      if (!layer) return;
      const within = (x: number, y: number) =>
        x >= Math.min(p[0], from[0]) && x <= Math.max(p[0], from[0]) && y >= Math.min(p[1], from[1]) && y <= Math.max(p[1], from[1]);
      const { shapes } = maskOf(s.recipe, layer);
      const open = shapes.map((x, i) => [x, i] as const).filter(([x]) => isDrawn(x) && !x.locked && x.on !== false);
      const points = open.flatMap(([x, i]) =>
        x.kind === "path" ? handlesOf(x, i, s.frame).flatMap((h) => (within(h.x, h.y) ? [{ shape: i, index: h.index }] : [])) : [],
      );
      const whole = open.flatMap(([x, i]) => (x.kind !== "path" && handlesOf(x, i, s.frame).some((h) => within(h.x, h.y)) ? [i] : []));
      const old = m.shift ? s.picked : { shapes: [], points: [] };
      const fresh = points.filter((a) => !old.points.some((b) => a.shape === b.shape && a.index === b.index));
      editor.masks.pick(
        points.length || old.points.length
          ? { shapes: [], points: [...old.points, ...fresh] }
          : { points: [], shapes: [...new Set([...old.shapes, ...whole])] },
      );
    },
    cancel: () => undefined,
  };
}
