import type { Area, Outline, Touch } from "../document";
import { intersect, type Rect } from "../pixels/frame";
import { boundaryOf } from "../shape/boundary";
import { coverage } from "../shape/coverage";
import { maskBounds, maskMatte } from "../shape/mask";
import { join, type Matte } from "../shape/matte";
import { flattenOutline } from "../shape/path";
import { strokeBounds, strokeMatte } from "../shape/stroke";

const outlineMask = (outline: Outline, feather = 0) => ({ shapes: [{ kind: "path" as const, op: "add" as const, points: outline }], feather });

/** α of a stroke, or of an outline with a feather. */
export function areaMatte(a: Area & { feather?: number }, width: number, height: number): Matte {
  if (a.outline) return maskMatte(outlineMask(a.outline, a.feather), 0, width, height);
  return strokeMatte(a.brush!, a.path!, { x0: 0, y0: 0, x1: width, y1: height });
}

/** α of a touch, within its fence where it has one. @throws where it has neither stroke nor outline. */
export function touchMatte(t: Touch, width: number, height: number): Matte {
  assertArea(t);
  const m = areaMatte(t, width, height);
  return t.fence?.length ? fenced(m, t.fence) : m;
}

/** A rectangle outside which a touch lays nothing. */
export function touchBounds(t: Touch, width: number, height: number): Rect {
  assertArea(t);
  const picture = { x0: 0, y0: 0, x1: width, y1: height };
  return intersect(picture, t.outline ? maskBounds(outlineMask(t.outline, t.feather), 0, width, height) : strokeBounds(t.brush!, t.path!));
}

function assertArea(t: Touch): void {
  if (!t.outline && !(t.brush && t.path?.length)) throw new Error(`The touch “${t.name ?? t.id}” has no stroke and no outline: draw it again.`);
}

/** Keeps a matte inside the outlines of a fence. */
export function fenced(m: Matte, fence: NonNullable<Touch["fence"]>): Matte {
  const rect = { x0: m.x0, y0: m.y0, x1: m.x1, y1: m.y1 };
  const parts = fence.map((o): Matte => ({ ...rect, data: coverage(boundaryOf(flattenOutline(o)), rect), outside: 0 }));
  return join(
    m,
    parts.reduce((a, b) => join(a, b, "add")),
    "cross",
  );
}
