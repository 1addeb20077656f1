import type { Rect } from "../pixels/frame";
import type { Edges } from "./boundary";
import { signedDistance } from "./distance";
import { emptyMatte, type Matte } from "./matte";

/** The softened edge: t = clamp((d + grow) / max(feather, 1) + ½), α = t²(3 − 2t). */
export function softEdge(d: number, feather: number, grow: number): number {
  const t = Math.min(1, Math.max(0, (d + grow) / Math.max(feather, 1) + 0.5));
  return t * t * (3 - 2 * t);
}

/** α of a shape of these edges with a feather and a growth, within `field`. @param bounds of the edges */
export function softened(edges: Edges, bounds: Rect, feather: number, grow: number, field: Rect): Matte {
  if (edges.length === 0) return emptyMatte();
  const half = Math.max(feather, 1) / 2;
  const rect = grown(bounds, Math.max(0, grow + half), field);
  const data = signedDistance(edges, rect, Math.abs(grow) + half + 1);
  for (let i = 0; i < data.length; i++) data[i] = softEdge(data[i], feather, grow);
  return { ...rect, data, outside: 0 };
}

/** The rectangle round some edges. */
export function boundsOf(edges: Edges): Rect {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < edges.length; i += 2) {
    x0 = Math.min(x0, edges[i]);
    x1 = Math.max(x1, edges[i]);
    y0 = Math.min(y0, edges[i + 1]);
    y1 = Math.max(y1, edges[i + 1]);
  }
  return { x0, y0, x1, y1 };
}

/** A rectangle of whole pixels that reaches `by` farther to all sides, within `field`. */
export function grown(r: Rect, by: number, field: Rect): Rect {
  const x0 = Math.max(field.x0, Math.floor(r.x0 - by));
  const y0 = Math.max(field.y0, Math.floor(r.y0 - by));
  return { x0, y0, x1: Math.max(x0, Math.min(field.x1, Math.ceil(r.x1 + by))), y1: Math.max(y0, Math.min(field.y1, Math.ceil(r.y1 + by))) };
}
