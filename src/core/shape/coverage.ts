import type { Rect } from "../pixels/frame";
import type { Edges } from "./boundary";

const STEPS = 2 ** 34;

/**
 * Exact area coverage (0–1) of the pixels of `rect` by the shape with boundary `edges`: signed areas are
 * summed per pixel and integrated along each row (exact-area scan conversion, as in L. Levien's font-rs; from memory).
 * @returns one value a pixel, row by row.
 */
export function coverage(edges: Edges, rect: Rect): Float64Array {
  const w = rect.x1 - rect.x0;
  const h = rect.y1 - rect.y0;
  const acc = new Float64Array((w + 2) * h);
  const stride = w + 2;
  for (let i = 0; i < edges.length; i += 4)
    addEdge(acc, stride, w, h, edges[i] - rect.x0, edges[i + 1] - rect.y0, edges[i + 2] - rect.x0, edges[i + 3] - rect.y0);
  const out = new Float64Array(w * h);
  for (let y = 0; y < h; y++) {
    let sum = 0;
    let value = 0;
    for (let x = 0; x < w; x++) {
      const more = acc[y * stride + x];
      if (more !== 0) {
        sum += more;
        // sums of parts leave crumbs of 1e-16 that depend on where the rectangle begins: they are rounded away
        value = Math.min(1, Math.round(Math.abs(sum) * STEPS) / STEPS);
      }
      out[y * w + x] = value;
    }
  }
  return out;
}

function addEdge(acc: Float64Array, stride: number, w: number, h: number, x0: number, y0: number, x1: number, y1: number): void {
  if (y0 === y1) return;
  const dir = y0 < y1 ? 1 : -1;
  const [ax, ay, bx, by] = dir > 0 ? [x0, y0, x1, y1] : [x1, y1, x0, y0];
  const dxdy = (bx - ax) / (by - ay);
  const from = Math.max(0, ay);
  const to = Math.min(h, by);
  if (from >= to) return;
  for (let y = Math.floor(from); y < to; y++) {
    const ya = Math.max(y, from);
    const yb = Math.min(y + 1, to);
    if (yb <= ya) continue;
    const xa = ax + (ya - ay) * dxdy;
    const xb = ax + (yb - ay) * dxdy;
    addSpan(acc, y * stride, w, Math.min(xa, xb), Math.max(xa, xb), dir * (yb - ya));
  }
}

/** An edge that goes from xl to xr while it falls by `d` (signed) within one row. Left of the box counts as its border. */
function addSpan(acc: Float64Array, row: number, w: number, xl: number, xr: number, d: number): void {
  if (xl >= w) return;
  if (xr <= 0) {
    acc[row] += d;
    return;
  }
  if (xl < 0 || xr > w) {
    // split at the borders, each part with its share of the fall
    const share = (a: number, b: number) => (d * (b - a)) / (xr - xl);
    if (xl < 0) acc[row] += share(xl, 0);
    const a = Math.max(0, xl);
    const b = Math.min(w, xr);
    if (b > a) addSpan(acc, row, w, a, b, share(a, b));
    return;
  }
  const i0 = Math.min(w - 1, Math.floor(xl));
  if (xr <= i0 + 1) {
    const mid = (xl + xr) / 2 - i0;
    acc[row + i0] += d * (1 - mid);
    acc[row + i0 + 1] += d * mid;
    return;
  }
  const slope = d / (xr - xl);
  const first = i0 + 1 - xl;
  let covered = (slope * first * first) / 2;
  acc[row + i0] += covered;
  const i1 = Math.min(w - 1, Math.ceil(xr) - 1);
  let before = covered;
  for (let i = i0 + 1; i < i1; i++) {
    covered = slope * (i + 0.5 - xl);
    acc[row + i] += covered - before;
    before = covered;
  }
  const last = xr - i1;
  covered = d - (slope * last * last) / 2;
  acc[row + i1] += covered - before;
  acc[row + i1 + 1] += d - covered;
}
