import type { Gray } from "../motion/gray";
import { smoothed } from "../motion/tiles";
import type { Rect } from "../pixels/frame";

/** A piece of a picture, each level half as large as the one before; level 0 lightly smoothed. */
export interface Pyramid {
  /** The piece of the picture it is of, whole pixels; its corner a multiple of the coarsest level's pixel. */
  x0: number;
  y0: number;
  /** Pixels of the picture a sample of the first level is wide. */
  step: number;
  levels: Gray[];
}

/** The same without its finest level. */
export const coarser = ({ x0, y0, step, levels }: Pyramid): Pyramid => ({ x0, y0, step: 2 * step, levels: levels.slice(1) });

/** Means of 2 × 2 samples of what was smoothed by ¼ ½ ¼ before: the kernel 1 3 3 1 (Burt & Adelson 1983, of even length). */
function half(g: Gray): Gray {
  const { width, height, data } = g;
  const [w, h] = [width >> 1, height >> 1];
  const rows = new Float32Array(w * height);
  const at = (x: number) => (x < 0 ? 0 : x >= width ? width - 1 : x);
  for (let y = 0; y < height; y++) {
    const from = y * width;
    for (let x = 0; x < w; x++) {
      const k = 2 * x;
      rows[y * w + x] = 0.125 * (data[from + at(k - 1)] + data[from + at(k + 2)]) + 0.375 * (data[from + k] + data[from + k + 1]);
    }
  }
  const out = new Float32Array(w * h);
  const row = (y: number) => (y < 0 ? 0 : y >= height ? height - 1 : y) * w;
  for (let y = 0; y < h; y++) {
    const [a, b, c, d] = [row(2 * y - 1), row(2 * y), row(2 * y + 1), row(2 * y + 2)];
    for (let x = 0; x < w; x++) out[y * w + x] = 0.125 * (rows[a + x] + rows[d + x]) + 0.375 * (rows[b + x] + rows[c + x]);
  }
  return { width: w, height: h, data: out };
}

/** The pyramid of a piece of a picture; the piece is widened to whole pixels of the coarsest level and cut at the picture. */
export function pyramidOf(g: Gray, piece: Rect, count: number): Pyramid {
  const step = 1 << (count - 1);
  const down = (v: number, most: number) => Math.max(0, Math.min(most, Math.floor(v / step) * step));
  const up = (v: number, most: number) => Math.max(0, Math.min(most, Math.ceil(v / step) * step));
  const [x0, y0] = [down(piece.x0, g.width - 1), down(piece.y0, g.height - 1)];
  const [w, h] = [Math.max(1, up(piece.x1, g.width) - x0), Math.max(1, up(piece.y1, g.height) - y0)];
  const levels: Gray[] = [{ width: w, height: h, data: smoothed(g, x0, y0, w, h) }];
  for (let l = 1; l < count && levels[l - 1].width > 3 && levels[l - 1].height > 3; l++) levels.push(half(levels[l - 1]));
  return { x0, y0, step: 1, levels };
}
