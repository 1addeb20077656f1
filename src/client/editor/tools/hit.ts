import { armsOf, boxOfPicked, type Handle, handlesOf, isDrawn, type Picked } from "../shapes";
import type { Shape } from "../../../core/document/mask";
import { shapePolygon } from "../../../core/shape/polygon";
import { nearestOn } from "../../../core/shape/outline";
import { valueAt } from "../../../core/time/keyed";

/** How near the pointer must be to something, in screen pixels. */
export const NEAR = 9;
/** How far outside what is picked the frame stands that scales and turns it. */
const FRAME_OUT = 14;
/** How far above it the knob stands that turns it. */
const KNOB_OUT = 22;

/** The box round what is picked, with its pivot, in take pixels. */
export interface MoveFrame {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  pivot: [number, number];
}

/** What the pointer is on, of the selected mask. */
export type Target =
  | { kind: "handle"; handle: Handle }
  | { kind: "scale"; corner: number }
  | { kind: "turn" }
  | { kind: "pivot" }
  | { kind: "feather" | "grow"; grip: EdgeGrip }
  | { kind: "edge"; shape: number; segment: number; t: number }
  | { kind: "inside"; shape: number };

/** Even-odd test, enough for choosing with the pointer. */
export function contains(poly: Float64Array, [x, y]: readonly number[]): boolean {
  let inside = false;
  for (let i = 0, j = poly.length - 2; i < poly.length; j = i, i += 2) {
    if (poly[i + 1] > y !== poly[j + 1] > y && x < ((poly[j] - poly[i]) * (y - poly[i + 1])) / (poly[j + 1] - poly[i + 1]) + poly[i])
      inside = !inside;
  }
  return inside;
}

/** The frame that scales and turns what is picked: whole shapes, or more than one point. */
export function frameOf(shapes: readonly Shape[], picked: Picked, n: number, pivot: readonly number[] | null): MoveFrame | null {
  if (picked.points.length === 1 || (!picked.points.length && !picked.shapes.length)) return null;
  const box = boxOfPicked(shapes, picked, n);
  if (!box || box.x1 - box.x0 + box.y1 - box.y0 < 1) return null;
  return { ...box, pivot: pivot ? [pivot[0], pivot[1]] : [(box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2] };
}

/** The frame's corners, clockwise from the upper left, and its knob, in take pixels. */
export function frameMarks(f: MoveFrame, scale: number): { corners: [number, number][]; knob: [number, number] } {
  const out = FRAME_OUT / scale;
  const [x0, y0, x1, y1] = [f.x0 - out, f.y0 - out, f.x1 + out, f.y1 + out];
  return { corners: [[x0, y0], [x1, y0], [x1, y1], [x0, y1]], knob: [(x0 + x1) / 2, y0 - KNOB_OUT / scale] }; // prettier-ignore
}

/** Handles that can be seen: of all shapes that are not locked, and the arms of picked points. */
export function visibleHandles(shapes: readonly Shape[], picked: Picked, n: number): Handle[] {
  const arms = picked.points.flatMap(({ shape, index }) => (shapes[shape] ? armsOf(shapes[shape], shape, index, n) : []));
  return [...arms, ...shapes.flatMap((s, i) => (s.locked || s.on === false ? [] : handlesOf(s, i, n)))];
}

/** What lies at a point of the take; the nearest handle first, then the frame, then edges and insides from the top. */
export function targetAt(
  shapes: readonly Shape[],
  picked: Picked,
  frame: MoveFrame | null,
  p: readonly number[],
  n: number,
  scale: number,
  alt = false,
  bands: readonly Band[] = [],
): Target | null {
  const off = (q: readonly number[]) => Math.hypot(q[0] - p[0], q[1] - p[1]) * scale;
  const near = visibleHandles(shapes, picked, n)
    .map((handle) => ({ handle, d: off([handle.x, handle.y]) }))
    .sort((a, b) => a.d - b.d)[0];
  if (near && near.d < NEAR) return { kind: "handle", handle: near.handle };
  if (frame) {
    const { corners, knob } = frameMarks(frame, scale);
    const corner = corners.findIndex((c) => off(c) < NEAR + 2);
    if (corner >= 0) return { kind: "scale", corner };
    if (off(knob) < NEAR + 2) return { kind: "turn" };
    // what is dragged by its middle is moved; the pivot there needs Alt
    if (alt && off(frame.pivot) < NEAR) return { kind: "pivot" };
  }
  const edge = edgeAt(bands, p, scale);
  if (edge) return edge;
  for (let i = shapes.length - 1; i >= 0; i--) {
    const s = shapes[i];
    if (!isDrawn(s) || s.locked || s.on === false) continue;
    if (s.kind === "path") {
      const on = nearestOn(valueAt(s.points, n), p[0], p[1]);
      if (on.distance * scale < NEAR - 2) return { kind: "edge", shape: i, segment: on.segment, t: on.t };
    }
    if (contains(shapePolygon(s, n), p)) return { kind: "inside", shape: i };
  }
  return null;
}

/** The edge of a shape as it is drawn, in take pixels. */
export interface Band {
  polygon: Float64Array;
  feather: number;
  grow: number;
}

/** Where an edge is taken hold of: the nearest place of its outline, and the way outward from there. */
export interface EdgeGrip {
  at: [number, number];
  normal: [number, number];
}

/** How far from the outline its edge can be taken hold of at the nearest, and how far beyond its rims, in screen pixels. */
const EDGE_NEAR = 8;
const EDGE_REACH = 11;
/** A shape smaller than this on the screen has its inside for being moved. */
const EDGE_LEAST = 64;

/** Which side of an edge lies at a point: beyond the outline its feather, at its inner rim its growth; the nearest of several. */
export function edgeAt(bands: readonly Band[], p: readonly number[], scale: number): { kind: "feather" | "grow"; grip: EdgeGrip } | null {
  let best: { kind: "feather" | "grow"; grip: EdgeGrip; off: number } | null = null;
  for (const b of bands) {
    const { at, normal, off } = fromEdge(b.polygon, p);
    const o = off * scale;
    const outer = Math.max(EDGE_NEAR, (b.grow + b.feather / 2) * scale);
    const inner = Math.max(EDGE_NEAR, (b.feather / 2 - b.grow) * scale);
    const kind = o >= EDGE_NEAR && o <= outer + EDGE_REACH ? "feather" : -o >= inner - 2 && -o <= inner + EDGE_REACH ? "grow" : null;
    if (!kind || (kind === "grow" && leastSide(b.polygon) * scale < EDGE_LEAST) || (best && Math.abs(best.off) <= Math.abs(o))) continue;
    best = { kind, grip: { at, normal }, off: o };
  }
  return best && { kind: best.kind, grip: best.grip };
}

/** The place of a polygon nearest to a point, the way outward there, and how far outward the point lies (below 0: inward). */
function fromEdge(poly: Float64Array, p: readonly number[]): EdgeGrip & { off: number } {
  let [d2, fx, fy, sx, sy] = [Infinity, 0, 0, 1, 0];
  for (let i = 0, j = poly.length - 2; i < poly.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [poly[j], poly[j + 1], poly[i], poly[i + 1]];
    const [vx, vy] = [bx - ax, by - ay];
    const t = Math.min(1, Math.max(0, ((p[0] - ax) * vx + (p[1] - ay) * vy) / (vx * vx + vy * vy || 1)));
    const [qx, qy] = [ax + t * vx, ay + t * vy];
    const e = (p[0] - qx) ** 2 + (p[1] - qy) ** 2;
    if (e < d2) [d2, fx, fy, sx, sy] = [e, qx, qy, vx, vy];
  }
  const inside = contains(poly, p);
  const length = Math.sqrt(d2);
  const way = inside ? -1 : 1;
  const normal: [number, number] =
    length > 1e-6 ? [(way * (p[0] - fx)) / length, (way * (p[1] - fy)) / length] : [sy / (Math.hypot(sx, sy) || 1), -sx / (Math.hypot(sx, sy) || 1)];
  return { at: [fx, fy], normal, off: way * length };
}

function leastSide(poly: Float64Array): number {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < poly.length; i += 2)
    [x0, y0, x1, y1] = [Math.min(x0, poly[i]), Math.min(y0, poly[i + 1]), Math.max(x1, poly[i]), Math.max(y1, poly[i + 1])];
  return Math.min(x1 - x0, y1 - y0);
}
