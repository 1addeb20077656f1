import { laidAt, readAt, readFarther, readTurned } from "@/client/editor/placing";
import { boxOfPicked, dragHandle, everyOutline, type Handle, handlesOf, isDrawn, maskFor, type Picked, STILL } from "@/client/editor/shapes";
import { round } from "@/client/editor/names";
import { layerTitle, selectedLayer, takeOf } from "@/client/editor/state";
import type { Editor } from "@/client/editor/store";
import type { PatchLayer, Point } from "@/core/document";
import { withArm } from "@/core/shape/outline";
import { valueAt, withValue } from "@/core/time/keyed";
import type { EdgeGrip, MoveFrame } from "./hit";

/** Keys that are held while the pointer moves. */
export interface Mods {
  shift: boolean;
  alt: boolean;
}

/** Something that is dragged on the picture, from press to release; places are the take's. */
export interface MaskGesture {
  move: (p: Point, mods: Mods, points: Point[]) => void;
  end: (p: Point, mods: Mods) => void;
  cancel: () => void;
  /** What is drawn meanwhile, where the picture does not show it. */
  trace?: "loop" | "frame" | "oval" | "box";
  /** The handle that goes on being shown. */
  handle?: Handle;
}

const selected = (editor: Editor): PatchLayer => selectedLayer(editor.store.getState())!;
const title = (editor: Editor) => layerTitle(editor.store.getState().recipe, selected(editor).id);

/** A point, arm, radius or corner follows the pointer; of several picked points all move. */
export function handleGesture(editor: Editor, handle: Handle, from: Point, mods: Mods): MaskGesture {
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
    editor.pick(next);
    if (next.points.length > 1) return moveGesture(editor, from, "Move", handle);
  }
  // grabbed beside its middle it must not jump
  const [ox, oy] = [handle.x - from[0], handle.y - from[1]];
  let moved = false;
  const apply = (p: Point, m: Mods, dragging: boolean) =>
    editor.changeShapes(
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
    move(p, m) {
      moved ||= Math.hypot(p[0] - from[0], p[1] - from[1]) > 0;
      if (moved) apply(p, m, true);
    },
    end: (p, m) => moved && apply(p, m, false),
    cancel: editor.cancelPreview,
  };
}

/** Pulls both arms out of a point. */
function armsGesture(editor: Editor, handle: Handle): MaskGesture {
  editor.pick({ shapes: [], points: [{ shape: handle.shape, index: handle.index }] });
  const apply = (p: Point, dragging: boolean) =>
    editor.setShape(
      handle.shape,
      `Curve a point of ${title(editor)}`,
      (s) => everyOutline(s, (o) => withArm(o, handle.index, "out", p[0] - handle.x, p[1] - handle.y, false)),
      dragging && "picture",
    );
  return { handle, move: (p) => apply(p, true), end: (p) => apply(p, false), cancel: editor.cancelPreview };
}

/** What is picked moves with the pointer; with Shift only across or only down. */
export function moveGesture(editor: Editor, from: Point, verb: string, handle?: Handle): MaskGesture {
  let moved = false;
  const by = (p: Point, m: Mods) => {
    const [dx, dy] = [p[0] - from[0], p[1] - from[1]];
    return m.shift && moved ? (Math.abs(dx) > Math.abs(dy) ? { ...STILL, dx } : { ...STILL, dy }) : { ...STILL, dx, dy };
  };
  return {
    handle,
    move(p, m) {
      moved ||= Math.hypot(p[0] - from[0], p[1] - from[1]) > 0;
      if (moved) editor.movePicked(by(p, m), verb, "picture");
    },
    end: (p, m) => moved && editor.movePicked(by(p, m), verb),
    cancel: editor.cancelPreview,
  };
}

/** Scales what is picked: about the corner that lies across, with Alt about the pivot; evenly, with Shift each way by itself. */
export function scaleGesture(editor: Editor, f: MoveFrame, corner: number, from: Point): MaskGesture {
  const across = [[f.x1, f.y1], [f.x0, f.y1], [f.x0, f.y0], [f.x1, f.y0]][corner]; // prettier-ignore
  const by = (p: Point, m: Mods) => {
    const [px, py] = m.alt ? f.pivot : across;
    const ratio = (a: number, b: number, c: number) => (Math.abs(b - c) < 1e-6 ? 1 : Math.max(0.02, (a - c) / (b - c)));
    const [kx, ky] = [ratio(p[0], from[0], px), ratio(p[1], from[1], py)];
    const even = Math.max(0.02, Math.hypot(p[0] - px, p[1] - py) / Math.max(1e-6, Math.hypot(from[0] - px, from[1] - py)));
    return { ...STILL, px, py, sx: m.shift ? kx : even, sy: m.shift ? ky : even };
  };
  return {
    move: (p, m) => editor.movePicked(by(p, m), "Scale", "picture"),
    end: (p, m) => editor.movePicked(by(p, m), "Scale"),
    cancel: editor.cancelPreview,
  };
}

/** Turns what is picked about its pivot; with Shift by steps of 15°. */
export function turnGesture(editor: Editor, f: MoveFrame, from: Point): MaskGesture {
  const [px, py] = f.pivot;
  const angle = (p: Point) => (Math.atan2(p[1] - py, p[0] - px) * 180) / Math.PI;
  const by = (p: Point, m: Mods) => {
    const turn = ((angle(p) - angle(from) + 540) % 360) - 180;
    return { ...STILL, px, py, degrees: m.shift ? Math.round(turn / 15) * 15 : turn };
  };
  return {
    move: (p, m) => editor.movePicked(by(p, m), "Turn", "picture"),
    end: (p, m) => editor.movePicked(by(p, m), "Turn"),
    cancel: editor.cancelPreview,
  };
}

/** The pivot follows the pointer; it is no part of the recipe. */
export const pivotGesture = (set: (p: Point) => void): MaskGesture => ({ move: set, end: set, cancel: () => undefined });

/** Picks all points within a frame; with Shift beside those that are picked. A mere click goes to `clicked`. */
export function frameGesture(editor: Editor, from: Point, scale: number, clicked: () => void): MaskGesture {
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
      const { shapes } = maskFor(s.recipe, layer);
      const open = shapes.map((x, i) => [x, i] as const).filter(([x]) => isDrawn(x) && !x.locked && x.on !== false);
      const points = open.flatMap(([x, i]) =>
        x.kind === "path" ? handlesOf(x, i, s.frame).flatMap((h) => (within(h.x, h.y) ? [{ shape: i, index: h.index }] : [])) : [],
      );
      const whole = open.flatMap(([x, i]) => (x.kind !== "path" && handlesOf(x, i, s.frame).some((h) => within(h.x, h.y)) ? [i] : []));
      const old = m.shift ? s.picked : { shapes: [], points: [] };
      const fresh = points.filter((a) => !old.points.some((b) => a.shape === b.shape && a.index === b.index));
      editor.pick(
        points.length || old.points.length
          ? { shapes: [], points: [...old.points, ...fresh] }
          : { points: [], shapes: [...new Set([...old.shapes, ...whole])] },
      );
    },
    cancel: () => undefined,
  };
}

/** An oval or box from corner to corner; with Shift as high as wide, with Alt from its middle. */
export function drawGesture(editor: Editor, kind: "oval" | "box", from: Point, scale: number, clicked: () => void): MaskGesture {
  return {
    trace: kind,
    move: () => undefined,
    end(p, m) {
      const { center, half } = drawnBox(from, p, m);
      if (half[0] * scale < 2 || half[1] * scale < 2) return clicked();
      const c = center.map((v) => round(v));
      editor.layShape(
        kind === "oval"
          ? { kind: "ellipse", op: "add", center: c, radii: half.map((v) => round(v)) }
          : { kind: "box", op: "add", center: c, size: half.map((v) => round(2 * v)) },
      );
    },
    cancel: () => undefined,
  };
}

/** Middle and half sizes of what a drag from corner to corner draws. */
export function drawnBox(a: Point, b: Point, m: Mods): { center: [number, number]; half: [number, number] } {
  let [w, h] = [b[0] - a[0], b[1] - a[1]];
  if (m.shift) [w, h] = [Math.sign(w || 1) * Math.max(Math.abs(w), Math.abs(h)), Math.sign(h || 1) * Math.max(Math.abs(w), Math.abs(h))];
  if (m.alt) return { center: [a[0], a[1]], half: [Math.abs(w), Math.abs(h)] };
  return { center: [a[0] + w / 2, a[1] + h / 2], half: [Math.abs(w) / 2, Math.abs(h) / 2] };
}

/** A point of the outline being drawn: a click sets a corner, a drag pulls out its arms. */
export function pointGesture(editor: Editor, from: Point, scale: number): MaskGesture {
  const { drawing } = editor.store.getState();
  const put = (p: Point) => {
    const [dx, dy] = [p[0] - from[0], p[1] - from[1]];
    const pulled = Math.hypot(dx, dy) * scale > 4;
    editor.set({ drawing: [...drawing, pulled ? [from[0], from[1], -dx, -dy, dx, dy].map((v) => round(v)) : [round(from[0]), round(from[1])]] });
  };
  put(from);
  return { move: put, end: put, cancel: () => editor.set({ drawing }) };
}

/** A loop drawn by hand. */
export function loopGesture(editor: Editor, from: Point, scale: number, clicked: () => void): MaskGesture {
  const drawn: Point[] = [from];
  return {
    trace: "loop",
    move: (_p, _m, points) => void drawn.push(...points),
    end: () => (drawn.length > 4 ? editor.layLoop(drawn, scale) : clicked()),
    cancel: () => undefined,
  };
}

/** A stroke of the mask's brush. */
export function brushGesture(editor: Editor, from: Point, mods: Mods): MaskGesture {
  // a pen's pressure comes with the place
  const kept = (p: Point): Point => [round(p[0]), round(p[1]), ...(p.length > 2 ? [round(p[2], 3)] : [])];
  const path: Point[] = [kept(from)];
  const { maskBrush } = editor.store.getState();
  const other = mods.alt;
  const as = (run: () => void) => {
    if (other) editor.set({ maskBrush: { ...maskBrush, erase: !maskBrush.erase } });
    run();
    if (other) editor.set({ maskBrush });
  };
  return {
    move(_p, _m, points) {
      path.push(...points.map(kept));
      as(() => editor.paintMask(path, "picture"));
    },
    end: () => as(() => editor.paintMask(path, false)),
    cancel: editor.cancelPreview,
  };
}

/** Pulls the brush's ring to size. */
export function ringGesture(editor: Editor, from: Point): MaskGesture {
  const { maskBrush } = editor.store.getState();
  const size = (p: Point) =>
    editor.set({
      maskBrush: {
        ...editor.store.getState().maskBrush,
        size: Math.min(2000, Math.max(1, Math.round(2 * Math.hypot(p[0] - from[0], p[1] - from[1])))),
      },
    });
  return { move: size, end: size, cancel: () => editor.set({ maskBrush }) };
}

/** The mask's edge, or that of one shape, follows the pointer away from the outline. */
export function edgeGesture(editor: Editor, what: "feather" | "grow", { at, normal }: EdgeGrip, from: Point, shape: number | null): MaskGesture {
  const { frame, recipe } = editor.store.getState();
  const layer = selected(editor);
  const mask = maskFor(recipe, layer);
  const holder = shape === null ? mask : mask.shapes[shape];
  const begun = valueAt(holder[what] ?? 0, frame);
  const along = (p: Point) => (p[0] - at[0]) * normal[0] + (p[1] - at[1]) * normal[1];
  const apply = (p: Point, dragging: boolean) => {
    const by = along(p) - along(from);
    // half of a feather lies outside
    const value = what === "feather" ? Math.min(2000, Math.max(0, begun + 2 * by)) : begun + by;
    editor.changeMask(
      layer,
      `${what === "feather" ? "Feather" : "Grow"} ${title(editor)}`,
      (m) => {
        const d = shape === null ? m : m.shapes[shape];
        d[what] = withValue(d[what] ?? 0, frame, round(value, 1)) as typeof d.feather;
      },
      dragging && "picture",
    );
  };
  return { move: (p) => apply(p, true), end: (p) => apply(p, false), cancel: editor.cancelPreview };
}

/** What of a source is dragged. */
export type SourceGrip = "picture" | "area" | "scale" | "turn";

/** Moves, scales or turns the source under the mask; the result is live. */
export function sourceGesture(editor: Editor, grip: SourceGrip, from: Point): MaskGesture {
  const s = editor.store.getState();
  const layer = selected(editor);
  const begun = laidAt(layer, s.frame, takeOf(s).info!);
  const box = boxOfPicked(maskFor(s.recipe, layer).shapes, { shapes: maskFor(s.recipe, layer).shapes.map((_, i) => i), points: [] }, s.frame);
  const middle: Point = box ? [(box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2] : from;
  const q = readAt(begun, middle);
  const next = (p: Point, m: Mods) => {
    const [dx, dy] = [p[0] - from[0], p[1] - from[1]];
    if (grip === "picture") return { ...begun, x: begun.x + dx, y: begun.y + dy };
    if (grip === "area") return readFarther(begun, dx, dy);
    const from2 = [from[0] - q[0], from[1] - q[1]];
    const to2 = [p[0] - q[0], p[1] - q[1]];
    if (grip === "scale") {
      // a larger area of the source means a smaller picture of it
      const k = Math.max(0.05, Math.hypot(...to2) / Math.max(1e-6, Math.hypot(...from2)));
      return readTurned(begun, middle, Math.min(20, Math.max(0.05, begun.scale / k)), begun.angle);
    }
    const turn = ((Math.atan2(to2[1], to2[0]) - Math.atan2(from2[1], from2[0])) * 180) / Math.PI;
    const angle = begun.angle - (((turn + 540) % 360) - 180);
    return readTurned(begun, middle, begun.scale, m.shift ? Math.round(angle / 15) * 15 : angle);
  };
  const words = { picture: "Move the source", area: "Move the source", scale: "Scale the source", turn: "Turn the source" }[grip];
  let moved = false;
  return {
    move(p, m) {
      moved = true;
      editor.placeSource(words, () => next(p, m), "picture");
    },
    end: (p, m) => moved && editor.placeSource(words, () => next(p, m)),
    cancel: editor.cancelPreview,
  };
}
