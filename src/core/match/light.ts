import { median } from "../motion/gray";

/** Light of one picture against another: value′ = pivot + gain·(value − pivot) + offset; 8-bit code values. */
export interface Light {
  gain: number;
  offset: number;
}

export const SAME_LIGHT: Light = { gain: 1, offset: 0 };

/** The value that a gain leaves alone: black for luma and R′G′B′, neutral for chroma; 8-bit code values. */
export const pivotOf = (chroma: boolean, full: boolean) => (chroma ? 128 : full ? 0 : 16);

/**
 * Gain and offset that take `before` to `after`, values at the same places: least squares whose outliers lose their weight
 * (Huber 1964, by iteration), so that what moves in the picture counts for little. Of fits that are equally good the one
 * without offset is taken: exposure is a gain, and a flat picture does not tell the two apart.
 */
export function lightBetween(before: ArrayLike<number>, after: ArrayLike<number>, pivot: number, counts?: (i: number) => boolean): Light {
  const xs: number[] = [];
  const ys: number[] = [];
  for (let i = 0; i < before.length; i++) {
    // clipped values say nothing about light
    if (before[i] < 2 || before[i] > 250 || after[i] < 2 || after[i] > 250 || (counts && !counts(i))) continue;
    xs.push(before[i] - pivot);
    ys.push(after[i] - pivot);
  }
  const n = xs.length;
  if (n < 8) return SAME_LIGHT;
  let gain = 1;
  let offset = median(ys.map((y, i) => y - xs[i]));
  // where nearly all values lie at the pivot, only the offset is known
  const spread = xs.reduce((s, x) => s + x * x, 0) / n;
  if (spread > 4) {
    const ratio = median(ys.flatMap((y, i) => (Math.abs(xs[i]) > 4 ? [y / xs[i]] : [])));
    if (Number.isFinite(ratio) && ratio > 0) [gain, offset] = [ratio, 0];
  }
  for (let round = 0; round < 12; round++) {
    const off = ys.map((y, i) => y - gain * xs[i] - offset);
    const sigma = Math.max(0.05, 1.4826 * median(off.map(Math.abs)));
    const k = 1.345 * sigma;
    let [sw, sx, sy, sxx, sxy] = [0, 0, 0, 0, 0];
    for (let i = 0; i < n; i++) {
      const r = Math.abs(off[i]);
      const w = r <= k ? 1 : k / r;
      sw += w;
      sx += w * xs[i];
      sy += w * ys[i];
      sxx += w * xs[i] * xs[i];
      sxy += w * xs[i] * ys[i];
    }
    // priors: an offset is unlikely beyond a code or so, a gain beyond a half
    const a = sw + (sw * sigma * sigma) / 1;
    const b = sxx + (sw * sigma * sigma) / 0.25;
    const rhs = sxy + (sw * sigma * sigma) / 0.25;
    const det = a * b - sx * sx;
    const g = (a * rhs - sx * sy) / det;
    const o = (b * sy - sx * rhs) / det;
    const moved = Math.abs(g - gain) + Math.abs(o - offset);
    [gain, offset] = [g, o];
    if (moved < 1e-5) break;
  }
  return { gain, offset };
}
