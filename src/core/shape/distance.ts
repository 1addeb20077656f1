import type { Rect } from "../pixels/frame";
import type { Edges } from "./boundary";

/** Sides of the nested tiles in which edges are sorted out, large to small. */
const TILES = [96, 24, 6];

/** An edge is left out only when it is so for sure, and relied on only when that is sure too, whatever rounding does. */
const SLACK = 1e-9;

/** Numbers kept for an edge: its start, its direction, and 1 / its squared length (0 for a point). */
const STRIDE = 5;

/**
 * Signed distance in pixels, positive inside, from each pixel centre of `rect` to the boundary `edges`, exact
 * within ±`reach` and clamped beyond. Pixels are taken in nested tiles; per tile only edges that can be nearest
 * somewhere in it are handed down, so nothing is approximated:
 * - by the triangle inequality, an edge much further from the tile's middle than the nearest one is out;
 * - an edge beyond whose end the whole tile lies is nearest by that end, which the neighbour there has too; so it is out,
 *   unless the tile lies before that neighbour's start as well: then both stay. (What lies beyond an end for a tile does
 *   so for all tiles in it, so of two neighbours that meet at the nearest point one is always left.)
 */
export function signedDistance(edges: Edges, rect: Rect, reach: number): Float64Array {
  const w = rect.x1 - rect.x0;
  const h = rect.y1 - rect.y0;
  const out = new Float64Array(w * h).fill(reach);
  const count = edges.length / 4;
  const lines = linesOf(edges, rect);
  // one level's list begins where the one above ends
  const near = new Float64Array(count);
  const { next, before } = neighbours(edges);
  /** 1 when the whole tile about (cx, cy) lies beyond the end of edge `i` by `slack` of its length, −1 before its start, else 0. */
  const side = (i: number, cx: number, cy: number, hx: number, hy: number, slack: number) => {
    const dx = lines[i + 2];
    const dy = lines[i + 3];
    const t = ((cx - lines[i]) * dx + (cy - lines[i + 1]) * dy) * lines[i + 4];
    const spread = (Math.abs(dx) * hx + Math.abs(dy) * hy) * lines[i + 4];
    return t - spread > 1 + slack ? 1 : t + spread < -slack ? -1 : 0;
  };
  const lists = [Int32Array.from({ length: count }, (_, i) => STRIDE * i), ...TILES.map(() => new Int32Array(count))];

  const tile = (level: number, x0: number, y0: number, x1: number, y1: number, have: number) => {
    const from = lists[level];
    const cx = (x0 + x1) / 2;
    const cy = (y0 + y1) / 2;
    const hx = (x1 - x0 - 1) / 2;
    const hy = (y1 - y0 - 1) / 2;
    const half = Math.hypot(hx, hy);
    const best = Math.sqrt(squares(lines, from, have, cx, cy, near));
    if (best - half >= reach) return;
    const limit = Math.min(best + half, reach) + half;
    const limit2 = limit * limit * (1 + 1e-12);
    const list = lists[level + 1];
    const last = level + 1 === TILES.length;
    let kept = 0;
    for (let k = 0; k < have; k++) {
      if (near[k] > limit2) continue;
      const i = from[k];
      const s = side(i, cx, cy, hx, hy, SLACK);
      const e = i / STRIDE;
      if (s === 1 && next[e] >= 0 && side(next[e], cx, cy, hx, hy, -SLACK) !== -1) continue;
      if (s === -1 && before[e] >= 0 && side(before[e], cx, cy, hx, hy, -SLACK) !== 1) continue;
      list[kept++] = i;
    }
    if (!last) {
      const step = TILES[level + 1];
      for (let y = y0; y < y1; y += step)
        for (let x = x0; x < x1; x += step) tile(level + 1, x, y, Math.min(x1, x + step), Math.min(y1, y + step), kept);
      return;
    }
    nearest(lines, list, kept, out, w, x0, y0, x1, y1, reach * reach);
  };
  const [step] = TILES;
  for (let y = 0; y < h; y += step) for (let x = 0; x < w; x += step) tile(0, x, y, Math.min(w, x + step), Math.min(h, y + step), count);
  negateOutside(edges, rect, out);
  return out;
}

/** Per edge, the one that begins where it ends and the one that ends where it begins, as places in `linesOf`, always mutual; −1 where there is none. */
function neighbours(e: Edges): { next: Int32Array; before: Int32Array } {
  const count = e.length / 4;
  const next = new Int32Array(count).fill(-1);
  const before = new Int32Array(count).fill(-1);
  const starts = new Map<number, number[]>();
  for (let k = 0; k < count; k++) {
    const list = starts.get(e[4 * k]);
    if (list) list.push(k);
    else starts.set(e[4 * k], [k]);
  }
  for (let k = 0; k < count; k++)
    for (const j of starts.get(e[4 * k + 2]) ?? [])
      if (j !== k && before[j] < 0 && e[4 * j + 1] === e[4 * k + 3]) {
        next[k] = STRIDE * j;
        before[j] = STRIDE * k;
        break;
      }
  return { next, before };
}

/** Edges as start, direction and inverse squared length, counted from the rectangle's corner. */
function linesOf(e: Edges, rect: Rect): Float64Array {
  const out = new Float64Array((e.length / 4) * STRIDE);
  for (let i = 0, o = 0; i < e.length; i += 4, o += STRIDE) {
    const dx = e[i + 2] - e[i];
    const dy = e[i + 3] - e[i + 1];
    const l2 = dx * dx + dy * dy;
    out[o] = e[i] - rect.x0;
    out[o + 1] = e[i + 1] - rect.y0;
    out[o + 2] = dx;
    out[o + 3] = dy;
    out[o + 4] = l2 > 1e-12 ? 1 / l2 : 0; // a shorter one is a point, lest rounding decides on which side of it a tile lies
  }
  return out;
}

/** Squared distances from a point to edges of a list, into `to`; returns the smallest. */
function squares(lines: Float64Array, list: Int32Array, count: number, x: number, y: number, to: Float64Array): number {
  let best = Infinity;
  for (let k = 0; k < count; k++) {
    const v = squared(lines, list[k], x, y);
    to[k] = v;
    if (v < best) best = v;
  }
  return best;
}

/** Distances of a tile's pixels to the nearest edge of a list, at most √`most`. */
function nearest(
  lines: Float64Array,
  list: Int32Array,
  count: number,
  out: Float64Array,
  w: number,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  most: number,
): void {
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      let d2 = most;
      for (let k = 0; k < count; k++) {
        const v = squared(lines, list[k], x + 0.5, y + 0.5);
        if (v < d2) d2 = v;
      }
      out[y * w + x] = Math.sqrt(d2);
    }
}

function squared(l: Float64Array, i: number, x: number, y: number): number {
  const px = x - l[i];
  const py = y - l[i + 1];
  const dx = l[i + 2];
  const dy = l[i + 3];
  let t = (px * dx + py * dy) * l[i + 4];
  t = t < 0 ? 0 : t > 1 ? 1 : t;
  const qx = px - t * dx;
  const qy = py - t * dy;
  return qx * qx + qy * qy;
}

/** Makes distances of pixels whose centres lie outside negative, row by row, by counting crossings. */
function negateOutside(edges: Edges, rect: Rect, out: Float64Array): void {
  const w = rect.x1 - rect.x0;
  const h = rect.y1 - rect.y0;
  const rows: number[][] = Array.from({ length: h }, () => []);
  for (let i = 0; i < edges.length; i += 4) {
    const [x0, y0, x1, y1] = [edges[i], edges[i + 1], edges[i + 2], edges[i + 3]];
    if (y0 === y1) continue;
    const first = Math.max(0, Math.ceil(Math.min(y0, y1) - 0.5 - rect.y0));
    const end = Math.min(h, Math.ceil(Math.max(y0, y1) - 0.5 - rect.y0));
    for (let r = first; r < end; r++) rows[r].push(x0 + ((r + rect.y0 + 0.5 - y0) / (y1 - y0)) * (x1 - x0));
  }
  for (let r = 0; r < h; r++) {
    const xs = rows[r].sort((a, b) => a - b);
    let k = 0;
    for (let x = 0; x < w; x++) {
      while (k < xs.length && xs[k] <= rect.x0 + x + 0.5) k++;
      if (!(k & 1)) out[r * w + x] = -out[r * w + x];
    }
  }
}
