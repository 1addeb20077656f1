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

/**
 * Noise from differences of frames that follow each other: the variance within blocks of 8 × 8, half of that of the
 * difference, tallied by brightness. Of each tally the median is taken, since whatever moves only adds to its upper part;
 * blocks that are copied from the frame before (as encoders do) are left out.
 */
export class NoiseMeter {
  private readonly tally = Array.from({ length: LEVELS }, () => new Float64Array(STEPS));
  private readonly sums = new Float64Array(3);

  /** Counts one pair of frames. Shifted or lit otherwise between the two, they only add to the upper part of the tally. */
  add(before: Plane, now: Plane, bits: number): void {
    const { width, height } = now;
    const k = 1 / (1 << (bits - 8));
    const d = new Float64Array(BLOCK * BLOCK);
    const [a, b] = [before.data, now.data];
    for (let y = 0; y + BLOCK <= height; y += BLOCK * 2)
      for (let x = 0; x + BLOCK <= width; x += BLOCK * 2) {
        let [s, q, level, same] = [0, 0, 0, 0];
        for (let j = 0; j < BLOCK; j++)
          for (let i = 0, at = (y + j) * width + x; i < BLOCK; i++, at++) {
            const v = (b[at] - a[at]) * k;
            d[j * BLOCK + i] = v;
            s += v;
            q += v * v;
            level += b[at];
            if (v === 0) same++;
          }
        if (same > (BLOCK * BLOCK * 7) / 8) continue;
        const n = BLOCK * BLOCK;
        const mean = s / n;
        const variance = (q - n * mean * mean) / (n - 1) / 2;
        const bin = Math.min(LEVELS - 1, Math.floor((((level * k) / n) * LEVELS) / 256));
        this.tally[bin][Math.min(STEPS - 1, Math.floor(Math.sqrt(Math.max(0, variance)) / STEP))]++;
        if (variance > 0.04 && variance < 25) {
          let [h, v] = [0, 0];
          for (let j = 0; j < BLOCK; j++)
            for (let i = 0; i < BLOCK; i++) {
              const c = d[j * BLOCK + i] - mean;
              if (i + 1 < BLOCK) h += c * (d[j * BLOCK + i + 1] - mean);
              if (j + 1 < BLOCK) v += c * (d[(j + 1) * BLOCK + i] - mean);
            }
          const weight = 1 / (2 * variance);
          this.sums[0] += (h * weight) / (BLOCK * (BLOCK - 1));
          this.sums[1] += (v * weight) / (BLOCK * (BLOCK - 1));
          this.sums[2]++;
        }
      }
  }

  result(): Grain {
    const middle = (t: Float64Array) => {
      const all = t.reduce((a, b) => a + b, 0);
      if (all < 24) return null;
      let sum = 0;
      for (let i = 0; i < STEPS; i++) {
        if (sum + t[i] >= all / 2) return { count: all, sigma: STEP * (i + (all / 2 - sum) / t[i]) * MEDIAN };
        sum += t[i];
      }
      return null;
    };
    const found = this.tally.map(middle);
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
