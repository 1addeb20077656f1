import type { Plane } from "../pixels/frame";

const BLOCK = 8;
const LEVELS = 12;
/** Steps of the tally of standard deviations, 8-bit codes. */
const STEP = 0.05;
const STEPS = 400;

export interface Grain {
  /** Standard deviation of the luma noise over all brightnesses, 8-bit code values. */
  sigma: number;
  /** The same by brightness: [luma code, σ]. */
  byLevel: [number, number][];
  /** How alike the noise of neighbouring pixels is, −1 … 1: across, down. */
  correlation: [number, number];
}

/** What a meter has counted so far; two of them add up. */
export interface NoiseTally {
  /** Blocks by brightness and standard deviation. */
  tally: Float64Array[];
  /** Blocks of each brightness, tallied or not. */
  all: Float64Array;
  /** Sums for the correlation of neighbours. */
  sums: Float64Array;
}

/**
 * Noise from differences of frames that lie far apart: the variance within blocks of 8 × 8, half of that of the difference, tallied by
 * brightness. Of each tally the median is taken, since whatever moves only adds to its upper part; where that is half of the
 * picture (water, leaves) the median is what moves, and the mode tells. Blocks that are copied (as encoders do) are left out. Frames that follow each other would not do: an encoder predicts one from the other, noise and
 * all, and their difference holds only what it wrote anew (the variogram of H.264 footage rises for some thirty frames).
 */
export class NoiseMeter {
  private readonly tally = Array.from({ length: LEVELS }, () => new Float64Array(STEPS));
  /** Blocks of each brightness, tallied or not. */
  private readonly all = new Float64Array(LEVELS);
  private readonly sums = new Float64Array(3);

  /**
   * Counts one pair of frames.
   * @param shift whole samples by which the later frame lies off the earlier one
   * @param gain by which the later one is brighter, about whatever value: blocks' means are taken off
   */
  add(before: Plane, now: Plane, bits: number, shift: readonly [number, number] = [0, 0], gain = 1): void {
    const { width, height } = now;
    const k = 1 / (1 << (bits - 8));
    const d = new Float64Array(BLOCK * BLOCK);
    const [a, b] = [before.data, now.data];
    const [sx, sy] = shift;
    const back = -sy * width - sx;
    const n = BLOCK * BLOCK;
    for (let y = Math.max(0, sy); y + BLOCK <= Math.min(height, height + sy); y += BLOCK * 2)
      for (let x = Math.max(0, sx); x + BLOCK <= Math.min(width, width + sx); x += BLOCK * 2) {
        let [s, q, level, same] = [0, 0, 0, 0];
        for (let j = 0, o = 0; j < BLOCK; j++)
          for (let i = 0, at = (y + j) * width + x; i < BLOCK; i++, at++, o++) {
            const v = (b[at] - gain * a[at + back]) * k;
            d[o] = v;
            s += v;
            q += v * v;
            level += b[at];
            if (b[at] === a[at + back]) same++;
          }
        if (same > (n * 7) / 8) continue;
        const mean = s / n;
        const variance = (q - n * mean * mean) / (n - 1) / (1 + gain * gain);
        const bin = Math.min(LEVELS - 1, Math.floor((((level * k) / n) * LEVELS) / 256));
        const step = Math.floor(Math.sqrt(Math.max(0, variance)) / STEP);
        this.all[bin]++;
        if (step < STEPS) this.tally[bin][step]++; // beyond: surely no noise
        if (variance > 0.04 && variance < 25) {
          let [h, v] = [0, 0];
          for (let i = 0; i < n; i++) d[i] -= mean;
          for (let j = 0; j < n; j += BLOCK) for (let i = j; i < j + BLOCK - 1; i++) h += d[i] * d[i + 1];
          for (let i = 0; i < n - BLOCK; i++) v += d[i] * d[i + BLOCK];
          const weight = 1 / (2 * variance);
          this.sums[0] += (h * weight) / (BLOCK * (BLOCK - 1));
          this.sums[1] += (v * weight) / (BLOCK * (BLOCK - 1));
          this.sums[2]++;
        }
      }
  }

  /** What was counted. */
  tallied(): NoiseTally {
    return { tally: this.tally, all: this.all, sums: this.sums };
  }

  /** Counts what another has counted as well. */
  include({ tally, all, sums }: NoiseTally): void {
    const add = (to: Float64Array, from: Float64Array) => from.forEach((v, i) => (to[i] += v));
    tally.forEach((t, i) => add(this.tally[i], t));
    add(this.all, all);
    add(this.sums, sums);
  }

  result(): Grain {
    const middle = (t: Float64Array, level: number, least: number) => {
      const count = t.reduce((a, b) => a + b, 0);
      if (count < 24) return null;
      const mode = modeOf(t, count);
      let held = 0;
      for (let i = Math.floor((1 - SPREAD) * mode); i <= (1 + SPREAD) * mode && i < STEPS; i++) held += t[i];
      // a brightness of which little but moving things is made says nothing about noise
      if (held < least * this.all[level]) return null;
      return { count: held, sigma: STEP * Math.min(medianOf(t, count), BEYOND_MODE * mode) * MEDIAN };
    };
    const strict = this.tally.map((t, i) => middle(t, i, QUIET_SHARE));
    // where nothing is quiet, what is least so
    const found = strict.some(Boolean) ? strict : this.tally.map((t, i) => middle(t, i, 0));
    const byLevel = found.flatMap((f, i): [number, number][] => (f ? [[Math.round(((i + 0.5) * 256) / LEVELS), f.sigma]] : []));
    let [s, n] = [0, 0];
    for (const f of found)
      if (f) {
        s += f.sigma * f.count;
        n += f.count;
      }
    const [h, v, c] = this.sums;
    return { sigma: n ? s / n : 0, byLevel, correlation: c ? [h / c, v / c] : [0, 0] };
  }
}

/** σ over the median of a block's standard deviation, 63 degrees of freedom (Wilson & Hilferty 1931: the median of χ² is near n(1 − 2/9n)³). */
const MEDIAN = 1 / Math.sqrt((1 - 2 / (9 * 63)) ** 3);

/**
 * How far the median of a tally may lie above its mode, for noise alone. White noise has both in one place; what encoders leave of
 * it is skewed (by up to a tenth on H.264 of several grains), and anything beyond that is something that moves.
 */
const BEYOND_MODE = 1.1;

/** The share of a brightness's blocks that must hold noise alone for it to count. */
const QUIET_SHARE = 0.45;

/** How far about their mode the blocks that hold noise alone lie, and counts as such: three times the 9 % by which 63 degrees of freedom scatter. */
const SPREAD = 0.27;

/** The median of a tally of `count`, in steps. */
function medianOf(t: Float64Array, count: number): number {
  let sum = 0;
  for (let i = 0; i < t.length; i++) {
    if (sum + t[i] >= count / 2) return i + (count / 2 - sum) / t[i];
    sum += t[i];
  }
  return t.length;
}

/** The mode of a tally of `count`, in steps: again and again the narrowest stretch that holds half of what is left (half-sample mode, Bickel & Frühwirth 2006). */
function modeOf(t: Float64Array, count: number): number {
  let [from, to, left] = [0, t.length, count];
  while (to - from > 4) {
    let best = { from, to, held: left };
    for (let a = from, b = from, held = 0; a < to; held -= t[a++]) {
      while (b < to && held < left / 2) held += t[b++];
      if (held < left / 2) break;
      if (b - a < best.to - best.from || (b - a === best.to - best.from && held > best.held)) best = { from: a, to: b, held };
    }
    if (best.to - best.from === to - from) break;
    [from, to, left] = [best.from, best.to, best.held];
  }
  let s = 0;
  for (let i = from; i < to; i++) s += t[i] * (i + 0.5);
  return s / left;
}

/**
 * The usual standard deviation in a tally of blocks: the median, since whatever moves only adds to its upper part, but no more than a little
 * above the mode, which tells where half of the picture moves.
 * @param step of the tally, codes @param all whether every block counts, since somebody has chosen where
 * @returns null where little but moving things was tallied
 */
export function middleOf(tally: Float64Array, step: number, all = false): number | null {
  const count = tally.reduce((a, b) => a + b, 0);
  if (!count) return null;
  const median = medianOf(tally, count);
  if (all) return step * median;
  const mode = modeOf(tally, count);
  let held = 0;
  for (let i = Math.floor((1 - SPREAD) * mode); i <= (1 + SPREAD) * mode && i < tally.length; i++) held += tally[i];
  return held < QUIET_SHARE * count ? null : step * Math.min(median, BEYOND_MODE * mode);
}
