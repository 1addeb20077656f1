import type { Area } from "../document/touch";
import type { PaintLayer } from "../document/layer";
import type { Point } from "../document/geometry";
import type { Recipe } from "../document/recipe";
import type { Touch } from "../document/touch";
import { intersect, type Rect, union, wholeOf } from "../pixels/frame";
import { emptyMatte, join, type Matte } from "../shape/matte";
import { touchBounds, touchMatte } from "./area";
import { type PictureRef, touchSourceRef } from "./plate";
import { touchReads } from "./touch";

/** The touches of a paint layer that are laid on frame `n`, in order. */
export function touchesAt(l: PaintLayer, n: number): Touch[] {
  if (n < l.in || n > l.out) return [];
  return l.touches.filter((t) => t.on !== false && (!t.frames || (n >= t.frames[0] && n <= t.frames[1])));
}

/** All pictures the touches on frame `n` read, beside the frame. */
export function paintPictures(recipe: Recipe, l: PaintLayer, n: number): PictureRef[] {
  return touchesAt(l, n).flatMap((t) => touchSourceRef(t, { take: recipe.shot.take, frame: n }) ?? []);
}

/** Where the touches on frame `n` lay something. */
export const paintBounds = (l: PaintLayer, n: number, width: number, height: number): Rect =>
  touchesAt(l, n)
    .map((t) => touchBounds(t, width, height))
    .reduce(union, { x0: 0, y0: 0, x1: 0, y1: 0 });

/** What the touches on frame `n` read of it, and where they lay something. */
export const paintReads = (l: PaintLayer, n: number, width: number, height: number): Rect =>
  touchesAt(l, n)
    .map((t) => (t.light ? wholeOf({ width, height }) : union(touchReads(t, width, height), touchBounds(t, width, height))))
    .reduce(union, { x0: 0, y0: 0, x1: 0, y1: 0 });

const scaledPoint = (p: Point, s: number): Point => p.map((v, i) => (i === 2 ? v : v * s));
const scaledOutline = (p: Point, s: number): Point => p.map((v) => v * s);

function scaledArea<A extends Area | Touch>(a: A, s: number): A {
  return {
    ...a,
    ...(a.brush ? { brush: { ...a.brush, size: a.brush.size * s } } : {}),
    ...(a.path ? { path: a.path.map((p) => scaledPoint(p, s)) } : {}),
    ...(a.outline ? { outline: a.outline.map((p) => scaledOutline(p, s)) } : {}),
  };
}

/** Touches at other scales, by the touch they are of; a touch that did not change keeps its object, and so what is kept of it. */
const small = new WeakMap<Touch, { scale: number; touch: Touch }>();

/** A touch for a picture that is `s` times as large. */
export function scaledTouch(t: Touch, s: number): Touch {
  if (s === 1) return t;
  const had = small.get(t);
  if (had?.scale === s) return had.touch;
  const touch: Touch = {
    ...scaledArea(t, s),
    ...(t.offset ? { offset: [t.offset[0] * s, t.offset[1] * s] } : {}),
    ...(t.feather ? { feather: t.feather * s } : {}),
    ...(t.fence ? { fence: t.fence.map((o) => o.map((p) => scaledOutline(p, s))) } : {}),
    ...(t.avoid ? { avoid: t.avoid.map((a) => scaledArea(a, s)) } : {}),
    ...(t.only ? { only: t.only.map((a) => scaledArea(a, s)) } : {}),
    ...(t.guides ? { guides: t.guides.map(([a, b]) => [scaledPoint(a, s), scaledPoint(b, s)] as [Point, Point]) } : {}),
  };
  small.set(t, { scale: s, touch });
  return touch;
}

/** 1 wherever a touch on frame `n` lays anything: over the finished picture it gives exactly what the layer did. */
export function paintMatte(l: PaintLayer, n: number, width: number, height: number, scale: number): Matte {
  const picture = wholeOf({ width, height });
  let all = emptyMatte();
  for (const t of touchesAt(l, n)) {
    const m = touchMatte(scaledTouch(t, scale), width, height);
    const r = intersect(picture, m);
    if (r.x1 <= r.x0 || r.y1 <= r.y0) continue;
    all = join(all, { ...m, data: m.data.map((v) => (v > 0 ? 1 : 0)) }, "add");
  }
  return all;
}
