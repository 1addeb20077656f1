import type { Rect } from "../pixels/frame";
import type { Sight } from "./ground";

/** What is known of a thing on one frame: 1 where it is, over a rectangle; nothing beyond it. */
export interface Cut {
  rect: Rect;
  inside: Uint8Array;
  sight: Sight;
}

export const widthOf = (r: Rect): number => r.x1 - r.x0;
export const heightOf = (r: Rect): number => r.y1 - r.y0;

/** The bounds of what is inside; null where nothing is. */
export function boundsOf({ rect, inside }: Pick<Cut, "rect" | "inside">): Rect | null {
  const w = widthOf(rect);
  const out = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (let i = 0; i < inside.length; i++) {
    if (!inside[i]) continue;
    const [x, y] = [rect.x0 + (i % w), rect.y0 + Math.floor(i / w)];
    if (x < out.x0) out.x0 = x;
    if (y < out.y0) out.y0 = y;
    if (x >= out.x1) out.x1 = x + 1;
    if (y >= out.y1) out.y1 = y + 1;
  }
  return out.x1 < 0 ? null : out;
}

/** Steps of a distance across and aslant, a third of a pixel each (Borgefors 1986: 3, 4). */
const [STRAIGHT, ASLANT] = [1, 4 / 3];

/** How far pixels are outside of what is set, in pixels, by chamfer distances; less than 0 within, at most `most` either way. */
export function signedDistance(inside: Uint8Array, w: number, h: number, most: number): Float32Array {
  const out = chamfer(inside, 1, w, h, most);
  const within = chamfer(inside, 0, w, h, most);
  for (let i = 0; i < out.length; i++) out[i] = inside[i] ? 0.5 - within[i] : out[i] - 0.5;
  return out;
}

/** Distances to the nearest pixel that is `to`. */
function chamfer(data: Uint8Array, to: number, w: number, h: number, most: number): Float32Array {
  const d = Float32Array.from(data, (v) => (v === to ? 0 : most));
  const least = (i: number, k: number, step: number) => {
    if (d[k] + step < d[i]) d[i] = d[k] + step;
  };
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (x > 0) least(i, i - 1, STRAIGHT);
      if (y > 0) {
        least(i, i - w, STRAIGHT);
        if (x > 0) least(i, i - w - 1, ASLANT);
        if (x < w - 1) least(i, i - w + 1, ASLANT);
      }
    }
  for (let y = h - 1, i = w * h - 1; y >= 0; y--)
    for (let x = w - 1; x >= 0; x--, i--) {
      if (x < w - 1) least(i, i + 1, STRAIGHT);
      if (y < h - 1) {
        least(i, i + w, STRAIGHT);
        if (x < w - 1) least(i, i + w + 1, ASLANT);
        if (x > 0) least(i, i + w - 1, ASLANT);
      }
    }
  return d;
}

/** Pixels so deep within a thing that nothing else mixes with it; and of its thin parts those that lie deepest. @param away of `signedDistance` */
export function middleOf(away: Float32Array, w: number, h: number, depth: number): Uint8Array {
  return Uint8Array.from(away, (d, i) => {
    if (d >= 0) return 0;
    if (d < -depth) return 1;
    const [x, y] = [i % w, Math.floor(i / w)];
    for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) if (away[v * w + u] < d - 1e-6) return 0;
    return 1;
  });
}
