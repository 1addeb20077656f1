import type { Rect } from "../pixels/frame";
import type { Edges } from "./boundary";

/** Sides of the nested tiles in which edges are sorted out, large to small. */
const TILES = [96, 24, 6];

/**
 * Signed distance in pixels, positive inside, from each pixel centre of `rect` to the boundary `edges`, exact
 * within ±`reach` and clamped beyond. Pixels are taken in nested tiles; per tile only edges that can be nearest
 * somewhere in it are handed down (a bound by the triangle inequality, so nothing is approximated).
 */
export function signedDistance(edges: Edges, rect: Rect, reach: number): Float64Array {
  const w = rect.x1 - rect.x0;
  const h = rect.y1 - rect.y0;
  const out = new Float64Array(w * h).fill(reach);
  const all = new Int32Array(edges.length / 4);
  for (let i = 0; i < all.length; i++) all[i] = 4 * i;
  const near = new Float64Array(all.length);
  const lists = TILES.map(() => new Int32Array(all.length));

  const tile = (level: number, x0: number, y0: number, x1: number, y1: number, from: Int32Array, count: number) => {
    const cx = rect.x0 + (x0 + x1) / 2;
    const cy = rect.y0 + (y0 + y1) / 2;
    const half = Math.hypot(x1 - x0 - 1, y1 - y0 - 1) / 2;
    let best = Infinity;
    for (let k = 0; k < count; k++) {
      const v = squaredDistance(edges, from[k], cx, cy);
      near[k] = v;
      if (v < best) best = v;
    }
    best = Math.sqrt(best);
    if (best - half >= reach) return;
    const limit = Math.min(best + half, reach) + half;
    const limit2 = limit * limit * (1 + 1e-12);
    const list = lists[level];
    let kept = 0;
    for (let k = 0; k < count; k++) if (near[k] <= limit2) list[kept++] = from[k];
    if (level + 1 < TILES.length) {
      const side = TILES[level + 1];
      for (let y = y0; y < y1; y += side)
        for (let x = x0; x < x1; x += side) tile(level + 1, x, y, Math.min(x1, x + side), Math.min(y1, y + side), list, kept);
      return;
    }
    for (let y = y0; y < y1; y++) {
      for (let x = x0; x < x1; x++) {
        let d2 = reach * reach;
        for (let k = 0; k < kept; k++) {
          const v = squaredDistance(edges, list[k], rect.x0 + x + 0.5, rect.y0 + y + 0.5);
          if (v < d2) d2 = v;
        }
        out[y * w + x] = Math.sqrt(d2);
      }
    }
  };
  const [side] = TILES;
  for (let y = 0; y < h; y += side) for (let x = 0; x < w; x += side) tile(0, x, y, Math.min(w, x + side), Math.min(h, y + side), all, all.length);
  negateOutside(edges, rect, out);
  return out;
}

function squaredDistance(e: Edges, i: number, x: number, y: number): number {
  const ax = e[i];
  const ay = e[i + 1];
  const dx = e[i + 2] - ax;
  const dy = e[i + 3] - ay;
  const l2 = dx * dx + dy * dy;
  let t = l2 > 0 ? ((x - ax) * dx + (y - ay) * dy) / l2 : 0;
  t = t < 0 ? 0 : t > 1 ? 1 : t;
  const px = ax + t * dx - x;
  const py = ay + t * dy - y;
  return px * px + py * py;
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
