import type { Area } from "../document/touch";
import type { Outline } from "../document/geometry";
import type { Touch } from "../document/touch";
import { intersect, type Rect } from "../pixels/frame";
import { boundaryOf } from "../shape/boundary";
import { coverage } from "../shape/coverage";
import { maskBounds, maskMatte } from "../shape/mask";
import { join, type Matte } from "../shape/matte";
import { flattenOutline } from "../shape/path";
import { strokeBounds, strokeMatte } from "../shape/stroke";

const outlineMask = (outline: Outline, feather = 0) => ({ shapes: [{ kind: "path" as const, op: "add" as const, points: outline }], feather });

/** α of a stroke, or of an outline with a feather. */
export function areaMatte(a: Area, width: number, height: number, feather = 0): Matte {
  if (a.outline) return maskMatte(outlineMask(a.outline, feather), 0, width, height);
  return strokeMatte(a.brush, a.path, { x0: 0, y0: 0, x1: width, y1: height });
}

/** α of a touch, within its fence where it has one. @throws where it has neither stroke nor outline. */
export function touchMatte(t: Touch, width: number, height: number): Matte {
  const m = areaMatte(areaOf(t), width, height, t.feather);
  return t.fence?.length ? fenced(m, t.fence) : m;
}

/** A rectangle outside which a touch lays nothing. */
export function touchBounds(t: Touch, width: number, height: number): Rect {
  const a = areaOf(t);
  const picture = { x0: 0, y0: 0, x1: width, y1: height };
  return intersect(picture, a.outline ? maskBounds(outlineMask(a.outline, t.feather), 0, width, height) : strokeBounds(a.brush, a.path));
}

/** Where a touch is laid. @throws Error where it has neither stroke nor outline */
function areaOf(t: Touch): Area {
  if (t.outline) return { outline: t.outline };
  if (t.brush && t.path?.length) return { brush: t.brush, path: t.path };
  throw new Error(`The touch “${t.name ?? t.id}” has no stroke and no outline: draw it again.`);
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
