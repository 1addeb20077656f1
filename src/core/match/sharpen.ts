import { UserError } from "../user-error";
import type { Rect } from "../pixels/frame";
import { blurReach, normalBlur } from "./normal-blur";

/** A picture's sample by its place, in codes. */
type Value = (x: number, y: number) => number;

/** How the sharpness of a picture is changed, in samples of one plane. */
export interface Sharpening {
  /** Above 0 the blur by a normal curve of this σ is undone; below 0 one of −σ is laid on. */
  across: number;
  down: number;
  /** What moves while the shutter is open: it is smeared along this way. */
  smear: readonly [x: number, y: number];
}

/** Samples on either side that the change of one looks at. */
const reachOf = ({ across, down, smear }: Sharpening): number =>
  2 * blurReach(Math.max(Math.abs(across), Math.abs(down))) + Math.ceil(Math.hypot(...smear) / 2) + 2;

/**
 * A picture made softer or sharper within a rectangle; beyond it, it stays. Softer: a normal curve. Sharper: three steps of van Cittert's
 * iteration (1931), held within the least and the greatest of the 3 × 3 samples around, so that no edge overshoots. Smeared: the mean along
 * the way it moves.
 */
export function sharpened(value: Value, r: Rect, s: Sharpening): Value {
  const margin = reachOf(s);
  const [x0, y0] = [r.x0 - margin, r.y0 - margin];
  const [w, h] = [r.x1 - r.x0 + 2 * margin, r.y1 - r.y0 + 2 * margin];
  if (w <= 2 * margin || h <= 2 * margin) return value;
  const own = new Float64Array(w * h);
  for (let y = 0, i = 0; y < h; y++) for (let x = 0; x < w; x++, i++) own[i] = value(x0 + x, y0 + y);
  const data = filtered(own, w, h, s, true);
  return (x, y) => (x < r.x0 || y < r.y0 || x >= r.x1 || y >= r.y1 ? value(x, y) : data[(y - y0) * w + x - x0]);
}

/** @param held whether sharpening stays within what lies around each sample */
function filtered(data: Float64Array, w: number, h: number, { across, down, smear }: Sharpening, held: boolean): Float64Array {
  const bent = across < 0 ? normalBlur(data, w, h, -across, -down) : across > 0 ? unblurred(data, w, h, across, down, held) : data;
  return Math.hypot(...smear) > 0.25 ? smeared(bent, w, h, smear) : bent;
}

function unblurred(data: Float64Array, w: number, h: number, across: number, down: number, held: boolean): Float64Array {
  const once = normalBlur(data, w, h, across, down);
  const twice = normalBlur(once, w, h, across, down);
  const out = data.map((v, i) => 3 * v - 3 * once[i] + twice[i]);
  if (!held) return out;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      let [least, most] = [data[i], data[i]];
      for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) {
          const c = data[v * w + u];
          if (c < least) least = c;
          if (c > most) most = c;
        }
      out[i] = Math.min(most, Math.max(least, out[i]));
    }
  return out;
}

/** The mean over a way through each sample, by steps of at most half a sample, read between samples linearly. */
function smeared(data: Float64Array, w: number, h: number, [dx, dy]: readonly [number, number]): Float64Array {
  const steps = Math.max(2, Math.ceil(2 * Math.hypot(dx, dy)) + 1);
  if (!Number.isFinite(steps)) throw new UserError("refused", "A patch would be smeared without end: its track jumps.");
  const out = new Float64Array(data.length);
  for (let k = 0; k < steps; k++) {
    const t = k / (steps - 1) - 0.5;
    const [ox, oy] = [t * dx, t * dy];
    const [ix, iy] = [Math.floor(ox), Math.floor(oy)];
    const [fx, fy] = [ox - ix, oy - iy];
    // the first and the last step stand for half as much of the way
    const share = (k === 0 || k === steps - 1 ? 0.5 : 1) / (steps - 1);
    for (let y = 0; y < h; y++) {
      const [a, b] = [Math.min(h - 1, Math.max(0, y + iy)) * w, Math.min(h - 1, Math.max(0, y + iy + 1)) * w];
      for (let x = 0; x < w; x++) {
        const [l, m] = [Math.min(w - 1, Math.max(0, x + ix)), Math.min(w - 1, Math.max(0, x + ix + 1))];
        const top = data[a + l] + fx * (data[a + m] - data[a + l]);
        const bottom = data[b + l] + fx * (data[b + m] - data[b + l]);
        out[y * w + x] += share * (top + fy * (bottom - top));
      }
    }
  }
  return out;
}

/** By how much the variance of noise that is new in every sample is multiplied; sharpening counts as if it were not held back. */
export function noisePower(s: Sharpening): number {
  const reach = reachOf(s);
  const side = 2 * reach + 1;
  const single = new Float64Array(side * side);
  single[reach * side + reach] = 1;
  return filtered(single, side, side, s, false).reduce((a, v) => a + v * v, 0);
}
