import type { BoxShape, EllipseShape, PathShape, Shape } from "../document/mask";
import { isEmpty, type Rect, union } from "../pixels/frame";
import { GROW, PX } from "../ranges";
import { valueAt } from "../time/keyed";
import { boundaryOf, type Edges } from "./boundary";
import { signedDistance } from "./distance";
import { emptyMatte, type Matte } from "./matte";
import { shapePolygon } from "./polygon";
import { boundsOf, grown, softEdge } from "./edge";

/** A shape whose edge is a line, and no slope of its own. */
export type HardShape = PathShape | EllipseShape | BoxShape;

/** Whether a shape is hard at frame `n`: drawn, and without a feather of its own. */
export const isHard = (s: Shape, n: number): s is HardShape =>
  (s.kind === "path" || s.kind === "ellipse" || s.kind === "box") && valueAt(s.feather ?? 0, n, PX) === 0;

interface Placed {
  shape: HardShape;
  edges: Edges;
  /** By how much it is grown, in pixels of the canvas. */
  grow: number;
}

/**
 * α of hard shapes with one feather and growth over all of them, by their own distances: the larger for `add`, the smaller with the
 * complement's for `cut`, the smaller for `cross` (signed distances joined as in constructive solid geometry: Ricci 1973). No contour
 * is looked for in samples, so an edge that moves by a fraction of a pixel changes by that fraction.
 * @param field a rectangle beyond which nothing is asked for
 */
export function hardMatte(shapes: readonly HardShape[], n: number, feather: number, grow: number, field: Rect, scale: number): Matte {
  const half = Math.max(feather, 1) / 2;
  const reach = Math.abs(grow) + half + 1;
  const placed = shapes.map((shape): Placed => ({
    shape,
    edges: boundaryOf(shapePolygon(shape, n, scale)),
    grow: valueAt(shape.grow ?? 0, n, GROW) * scale,
  }));
  const rect = placed
    .filter((p) => p.shape.op === "add" && p.edges.length)
    .map((p) => grown(boundsOf(p.edges), Math.max(0, p.grow + grow + half), field))
    .reduce(union, { x0: 0, y0: 0, x1: 0, y1: 0 });
  if (isEmpty(rect)) return emptyMatte();
  // beyond `reach` a distance says only on which side it lies
  const joined = new Float64Array((rect.x1 - rect.x0) * (rect.y1 - rect.y0)).fill(-reach);
  for (const { shape, edges, grow: own } of placed) {
    const d = edges.length ? signedDistance(edges, rect, reach + Math.abs(own)) : null;
    for (let i = 0; i < joined.length; i++) {
      const here = d ? d[i] + own : -reach;
      if (shape.op === "add") joined[i] = Math.max(joined[i], here);
      else joined[i] = Math.min(joined[i], shape.op === "cut" ? -here : here);
    }
  }
  for (let i = 0; i < joined.length; i++) joined[i] = softEdge(joined[i], feather, grow);
  return { ...rect, data: joined, outside: 0 };
}
