import { type Frame, isChroma } from "../pixels/frame";
import { boxMean } from "./box-mean";
import { averaged, grainOfPlane, type GrainStatistics, localRatio, sigmaAt } from "./grain";
import { lightBetween, pivotOf } from "./light";

/** Side of the cells by which the light of two frames is compared, in samples. */
const CELL = 16;
/** Side of the squares over which the light of places is told, in samples. */
const WIDE = 33;
/** How many times as strong it may be there; or how far off, in codes of 8 bits, where it is too dark for that, or of colour. */
const LOCAL_LIGHT = 1.25;
const DARK = 10;
const LOCAL_TINT = 3;
/** A sample of another frame counts where its surroundings differ by no more than so many standard deviations of noise. */
const SAME = 3;

/** A plane as the mean of frames in which the same is seen, and what share of the noise's variance is left. */
export interface SteadyPlane {
  width: number;
  height: number;
  data: Float32Array;
  share: Float32Array;
}

/**
 * One plane of a picture averaged with other frames of the same view, in its own light: at each sample only those frames in which its
 * surroundings (3 × 3) differ by no more than noise, so that what passes there has no part in it.
 * @param others frames of the same size and format @param unit codes per code of 8 bits @param across means of so many samples each way are its samples
 */
export function steadyPlane(
  frame: Frame,
  others: readonly Frame[],
  p: number,
  grain: GrainStatistics,
  unit: number,
  across: number,
  full: boolean,
): SteadyPlane {
  const { width, height, data } = frame.planes[p];
  const plane = grainOfPlane(grain, p);
  const sigma = sigmaAt(plane, unit);
  const part = localRatio(plane, width, height) ?? (() => 1);
  const size = across > 1 ? averaged(plane, across) : 1;
  const near = SAME * Math.SQRT2 * size * (across > 1 ? 1 / 3 : averaged(plane, 3));
  const chroma = isChroma(frame.format, p);
  const level = boxMean(data, width, height, WIDE >> 1);
  const pivot = pivotOf(chroma, full || frame.format.model === "rgb");
  const n = width * height;
  const sum = Float32Array.from(data);
  const count = new Float32Array(n).fill(1);
  const d = new Float32Array(n);
  const base = cellMeans(data, width, height, unit);
  /** Where the surroundings (3 × 3) differ by no more than noise. */
  const alike = (d: Float32Array): Uint8Array => {
    const out = new Uint8Array(n);
    for (let y = 0, at = 0; y < height; y++)
      for (let x = 0; x < width; x++, at++) {
        let [s, k] = [0, 0];
        for (let j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++)
          for (let i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++, k++) s += d[j * width + i];
        if (Math.abs(s / k) <= near * part(x, y) * sigma(data[at]) + 0.3) out[at] = 1;
      }
    return out;
  };
  for (const o of others) {
    const other = o.planes[p].data;
    const light = lightBetween(cellMeans(other, width, height, unit), base, pivot);
    const [gain, offset] = [light.gain, (pivot * (1 - light.gain) + light.offset) * unit];
    for (let i = 0; i < n; i++) d[i] = gain * other[i] + offset - data[i];
    const same = alike(d);
    takeLightOff(d, same, data, level, width, chroma ? null : pivot * unit, unit);
    const then = alike(d);
    for (let i = 0; i < n; i++)
      if (then[i]) {
        sum[i] += data[i] + d[i];
        count[i]++;
      }
  }
  for (let i = 0; i < n; i++) {
    sum[i] /= count[i];
    count[i] = 1 / count[i];
  }
  return { width, height, data: sum, share: count };
}

/**
 * Takes off differences `d` what light does that is another in places, as clouds make it. Where most of a square of `WIDE` is the `same`, it
 * is the mean difference of that part alone, so that whoever passes at its side has no say; elsewhere a gain about `black` by the means of
 * all of it, or their difference where there is no such, where either is so small that light can be the reason.
 * @param level means of `data` over the same squares @param black null for colour differences
 */
function takeLightOff(
  d: Float32Array,
  same: Uint8Array,
  data: ArrayLike<number>,
  level: Float64Array,
  width: number,
  black: number | null,
  unit: number,
): void {
  const height = d.length / width;
  const mean = (of: ArrayLike<number>) => boxMean(of, width, height, WIDE >> 1);
  const [share, near, all] = [mean(same), mean(d.map((v, i) => v * same[i])), mean(d)];
  for (let i = 0; i < d.length; i++) {
    if (share[i] > 0.5) {
      d[i] -= near[i] / share[i];
      continue;
    }
    const over = black === null ? 0 : level[i] - black;
    const gain = over > DARK * unit ? over / (over + all[i]) : 0;
    if (gain > 1 / LOCAL_LIGHT && gain < LOCAL_LIGHT) d[i] = gain * (d[i] + data[i] - black!) + black! - data[i];
    else if (Math.abs(all[i]) < LOCAL_TINT * unit) d[i] -= all[i];
  }
}

/** Means of cells, codes of 8 bits. */
function cellMeans(data: ArrayLike<number>, width: number, height: number, unit: number): Float64Array {
  const out: number[] = [];
  for (let y = 0; y + CELL <= height; y += CELL)
    for (let x = 0; x + CELL <= width; x += CELL) {
      let s = 0;
      for (let j = y; j < y + CELL; j++) for (let i = x; i < x + CELL; i++) s += data[j * width + i];
      out.push(s / (CELL * CELL * unit));
    }
  return Float64Array.from(out);
}
