import { median } from "../motion/gray";

/** Light of one picture against another: value′ = pivot + gain·(value − pivot) + offset; 8-bit code values. */
export interface Light {
  gain: number;
  offset: number;
}

export const SAME_LIGHT: Light = { gain: 1, offset: 0 };

/** The value that a gain leaves alone: black for luma and R′G′B′, neutral for chroma; 8-bit code values. */
export const pivotOf = (chroma: boolean, full: boolean) => (chroma ? 128 : full ? 0 : 16);

/** How far an offset is expected, in codes, before anything is known: one observation's worth, so that data outweigh it. */
const OFFSET_PRIOR = 1;
/**
 * How sure a gain of 1 is held for before anything is known, in multiples of √n σ²: what chance makes of the products of two noises
 * grows so, and where a plane shows nothing but noise they must not become a gain.
 */
const GAIN_PRIOR = 6;
/** Standard deviations at which a residual begins to lose weight (Huber 1964), and from which it has none (Beaton & Tukey 1974): 95 % efficiency on normal noise each. */
const HUBER = 1.345;
const BISQUARE = 4.685;
/** Rounds with weights that only lessen, which lead to the fit from anywhere; after them what is far off counts no more. */
const CONVEX_ROUNDS = 12;
/** A fit that moves by less has been led where they lead. */
const LED = 1e-4;
/** Codes below which the spread of residuals is rounding. */
const LEAST_SIGMA = 0.05;

/** Room for the absolute values of residuals, and for those that are near. */
interface Room {
  all: Float64Array;
  near: Float64Array;
}

/** Standard deviation of what is left, from its middle absolute value; the second look leaves out what is not noise. */
function spreadOf(off: Float64Array, { all, near }: Room): number {
  const n = off.length;
  for (let i = 0; i < n; i++) all[i] = Math.abs(off[i]);
  const first = 1.4826 * median(all);
  let count = 0;
  for (let i = 0; i < n; i++) {
    const r = Math.abs(off[i]);
    if (r < 3.5 * first) near[count++] = r;
  }
  return count > n / 3 ? 1.4826 * median(near.subarray(0, count)) : first;
}

/**
 * Gain and offset that take `before` to `after`, values at the same places and best means of cells: least squares whose outliers
 * lose their weight, by iteration, so that what moves in the picture counts for little. Both pictures are noisy
 * alike, so the noise of `before` is taken out of its variance (errors in variables; Deming 1943, with equal variances), or a
 * gain would come out too small on a plane of little contrast. Of fits that are equally good the one without offset is
 * taken: exposure is a gain, and a flat picture does not tell the two apart.
 * @param before,after 8-bit code values @param pivot of `pivotOf` @param counts which places count; all without it
 * @returns no change where fewer than eight places count
 */
export function lightBetween(before: ArrayLike<number>, after: ArrayLike<number>, pivot: number, counts?: (i: number) => boolean): Light {
  const [allXs, allYs] = [new Float64Array(before.length), new Float64Array(before.length)];
  let n = 0;
  for (let i = 0; i < before.length; i++) {
    // clipped values say nothing about light
    if (before[i] < 2 || before[i] > 250 || after[i] < 2 || after[i] > 250 || (counts && !counts(i))) continue;
    allXs[n] = before[i] - pivot;
    allYs[n++] = after[i] - pivot;
  }
  if (n < 8) return SAME_LIGHT;
  const [xs, ys] = [allXs.subarray(0, n), allYs.subarray(0, n)];
  const off = new Float64Array(n);
  const room = { all: new Float64Array(n), near: new Float64Array(n) };
  let gain = 1;
  let offset = median(ys.map((y, i) => y - xs[i]));
  // where nearly all values lie at the pivot, only the offset is known
  const spread = xs.reduce((s, x) => s + x * x, 0) / n;
  if (spread > 4) {
    let far = 0;
    for (let i = 0; i < n; i++) if (Math.abs(xs[i]) > 4) room.near[far++] = ys[i] / xs[i];
    const ratio = median(room.near.subarray(0, far));
    if (Number.isFinite(ratio) && ratio > 0) [gain, offset] = [ratio, 0];
  }
  let noise = 0;
  for (let round = 0; round < 40; round++) {
    for (let i = 0; i < n; i++) off[i] = ys[i] - gain * xs[i] - offset;
    // the spread changes slowly, and a middle value costs more than all the rest
    const fresh = round < 3 || round % 3 === 0;
    if (fresh) noise = spreadOf(off, room);
    const sigma = Math.max(LEAST_SIGMA, noise);
    const convex = round < CONVEX_ROUNDS;
    const k = (convex ? HUBER : BISQUARE) * sigma;
    let [sw, sx, sy, sxx, sxy] = [0, 0, 0, 0, 0];
    for (let i = 0; i < n; i++) {
      const r = Math.abs(off[i]);
      const w = r < k ? (convex ? 1 : (1 - (r / k) ** 2) ** 2) : convex ? k / r : 0;
      sw += w;
      sx += w * xs[i];
      sy += w * ys[i];
      sxx += w * xs[i] * xs[i];
      sxy += w * xs[i] * ys[i];
    }
    // what of the spread of `before` is noise; the residual holds that of both
    const own = Math.min((noise * noise) / (1 + gain * gain), Math.max(0, sxx / sw - (sx / sw) ** 2));
    const held = GAIN_PRIOR * Math.sqrt(n) * sigma * sigma;
    const a = sw + (sigma / OFFSET_PRIOR) ** 2;
    const b = sxx - sw * own + held;
    const rhs = sxy + held;
    const det = a * b - sx * sx;
    const g = (a * rhs - sx * sy) / det;
    const o = (b * sy - sx * rhs) / det;
    const moved = Math.abs(g - gain) + Math.abs(o - offset);
    [gain, offset] = [g, o];
    if (moved < 1e-6 && fresh && round > CONVEX_ROUNDS) break;
    if (convex && moved < LED) round = CONVEX_ROUNDS - 1;
  }
  return { gain, offset };
}
