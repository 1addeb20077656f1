import type { Rect } from "../pixels/frame";
import type { Edges } from "./boundary";

const TILE = 16;

/**
 * Signed distance in pixels, positive inside, from each pixel centre of `rect` to the boundary `edges`, exact
 * within ±`reach` and clamped beyond. Pixels are taken in tiles; per tile only edges that can be nearest somewhere
 * in it are tried (a bound by the triangle inequality, so nothing is approximated).
 */
export function signedDistance(edges: Edges, rect: Rect, reach: number): Float64Array {
  const w = rect.x1 - rect.x0;
  const h = rect.y1 - rect.y0;
  const out = new Float64Array(w * h).fill(reach);
  const n = edges.length / 4;
  const near = new Float64Array(n);
  const picked = new Int32Array(n);
  for (let ty = 0; ty < h; ty += TILE) {
    const th = Math.min(TILE, h - ty);
    for (let tx = 0; tx < w; tx += TILE) {
      const tw = Math.min(TILE, w - tx);
      const cx = rect.x0 + tx + tw / 2;
      const cy = rect.y0 + ty + th / 2;
      const half = Math.hypot(tw - 1, th - 1) / 2;
      let best = Infinity;
      for (let i = 0; i < n; i++) {
        near[i] = Math.sqrt(squaredDistance(edges, 4 * i, cx, cy));
        if (near[i] < best) best = near[i];
      }
      if (best - half >= reach) continue;
      let count = 0;
      const limit = Math.min(best + half, reach) + half;
      for (let i = 0; i < n; i++) if (near[i] <= limit) picked[count++] = 4 * i;
      for (let y = ty; y < ty + th; y++) {
        for (let x = tx; x < tx + tw; x++) {
          let d2 = reach * reach;
          for (let k = 0; k < count; k++) {
            const v = squaredDistance(edges, picked[k], rect.x0 + x + 0.5, rect.y0 + y + 0.5);
            if (v < d2) d2 = v;
          }
          out[y * w + x] = Math.sqrt(d2);
        }
      }
    }
  }
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
