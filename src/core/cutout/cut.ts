import type { Rect } from "../pixels/frame";
import type { Sight } from "./ground";

/** What is known of a thing on one frame: 1 where it is, over a rectangle; nothing beyond it. */
export interface Cut {
  rect: Rect;
  inside: Uint8Array;
  /** How far each pixel lies outside of it, in pixels; less than 0 within; at most `AWAY` either way. */
  away: Float32Array;
  sight: Sight;
}

/** How far from a thing's rim distances are known. */
export const AWAY = 8;

/** A cut, with its distances. */
export function cutOf(rect: Rect, inside: Uint8Array, sight: Sight): Cut {
  return { rect, inside, away: signedDistance(inside, widthOf(rect), heightOf(rect), AWAY), sight };
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

/** How far pixels are outside of what is set, in pixels, by chamfer distances; less than 0 within, at most about `most` either way. */
export function signedDistance(inside: Uint8Array, w: number, h: number, most: number): Float32Array {
  const out = new Float32Array(inside.length).fill(most);
  const b = boundsOf({ rect: { x0: 0, y0: 0, x1: w, y1: h }, inside });
  if (!b) return out;
  // beyond its bounds nothing is nearer than `most`
  const [x0, y0] = [Math.max(0, Math.floor(b.x0 - most)), Math.max(0, Math.floor(b.y0 - most))];
  const [x1, y1] = [Math.min(w, Math.ceil(b.x1 + most)), Math.min(h, Math.ceil(b.y1 + most))];
  const [bw, bh] = [x1 - x0, y1 - y0];
  const beyond = new Float32Array(bw * bh);
  const within = new Float32Array(bw * bh);
  for (let y = 0, k = 0; y < bh; y++)
    for (let x = 0, i = (y + y0) * w + x0; x < bw; x++, i++, k++) {
      beyond[k] = inside[i] ? 0 : most;
      within[k] = inside[i] ? most : 0;
    }
  chamfer(beyond, bw, bh);
  chamfer(within, bw, bh);
  for (let y = 0, k = 0; y < bh; y++)
    for (let x = 0, i = (y + y0) * w + x0; x < bw; x++, i++, k++) out[i] = inside[i] ? 0.5 - within[k] : beyond[k] - 0.5;
  return out;
}

/** Distances to the nearest pixel that is 0, in place; what is larger to begin with bounds them. */
function chamfer(d: Float32Array, w: number, h: number): void {
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      let v = d[i];
      if (v === 0) continue;
      if (x > 0 && d[i - 1] + STRAIGHT < v) v = d[i - 1] + STRAIGHT;
      if (y > 0) {
        if (d[i - w] + STRAIGHT < v) v = d[i - w] + STRAIGHT;
        if (x > 0 && d[i - w - 1] + ASLANT < v) v = d[i - w - 1] + ASLANT;
        if (x < w - 1 && d[i - w + 1] + ASLANT < v) v = d[i - w + 1] + ASLANT;
      }
      d[i] = v;
    }
  for (let y = h - 1, i = w * h - 1; y >= 0; y--)
    for (let x = w - 1; x >= 0; x--, i--) {
      let v = d[i];
      if (v === 0) continue;
      if (x < w - 1 && d[i + 1] + STRAIGHT < v) v = d[i + 1] + STRAIGHT;
      if (y < h - 1) {
        if (d[i + w] + STRAIGHT < v) v = d[i + w] + STRAIGHT;
        if (x < w - 1 && d[i + w + 1] + ASLANT < v) v = d[i + w + 1] + ASLANT;
        if (x > 0 && d[i + w - 1] + ASLANT < v) v = d[i + w - 1] + ASLANT;
      }
      d[i] = v;
    }
}

/** Pixels so deep within a thing that nothing else mixes with it; and of its thin parts those that lie deepest. @param away of `signedDistance` */
export function middleOf(away: Float32Array, w: number, h: number, depth: number): Uint8Array {
  const out = new Uint8Array(away.length);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const d = away[i];
      if (d < 0) out[i] = d < -depth || !deeperBeside(away, w, h, x, y, d) ? 1 : 0;
    }
  return out;
}

function deeperBeside(away: Float32Array, w: number, h: number, x: number, y: number, d: number): boolean {
  for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++)
    for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) if (away[v * w + u] < d - 1e-6) return true;
  return false;
}
