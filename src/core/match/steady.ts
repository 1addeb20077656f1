import { type Frame, isChroma, type Rect } from "../pixels/frame";
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

/** A part of a plane as the mean of frames in which the same is seen, and what share of the noise's variance is left. */
export interface SteadyPlane {
  width: number;
  height: number;
  data: Float32Array;
  share: Float32Array;
}

/** How far around a part of a plane its means are taken, in samples: as far as what is said of a sample depends on others. */
export const STEADY_REACH = (WIDE >> 1) + 2;

/** The same view in frames whose mean is steadier than each of them, and the light of each against the first. */
export interface SteadyViews {
  data: ArrayLike<number>;
  width: number;
  height: number;
  others: { data: ArrayLike<number>; gain: number; offset: number }[];
  /** σ of the noise of a sample by its value and place, codes of the plane. */
  sigma: (value: number, x: number, y: number) => number;
  /** Standard deviations of noise by which means of 3 × 3 samples may differ. */
  near: number;
  /** The value that light leaves alone, codes of the plane; null for colour differences. */
  black: number | null;
  /** Codes per code of 8 bits. */
  unit: number;
  /** How alike the noise of the frames is, on the average of pairs. */
  alike: number;
}

/**
 * Frames of the same view as a plane, in its light.
 * @param others frames of the same size and format @param across means of so many samples each way are its samples
 */
export function steadyViews(
  frame: Frame,
  others: readonly Frame[],
  p: number,
  grain: GrainStatistics,
  { unit, across, full, alike = 0 }: { unit: number; across: number; full: boolean; alike?: number },
): SteadyViews {
  const { width, height, data } = frame.planes[p];
  const plane = grainOfPlane(grain, p);
  const level = sigmaAt(plane, unit);
  const part = localRatio(plane, width, height) ?? (() => 1);
  const size = across > 1 ? averaged(plane, across) : 1;
  const chroma = isChroma(frame.format, p);
  const pivot = pivotOf(chroma, full || frame.format.model === "rgb");
  const base = cellMeans(data, width, height, unit);
  return {
    data,
    width,
    height,
    others: others.map((o) => {
      const other = o.planes[p].data;
      const light = lightBetween(cellMeans(other, width, height, unit), base, pivot);
      return { data: other, gain: light.gain, offset: (pivot * (1 - light.gain) + light.offset) * unit };
    }),
    sigma: (v, x, y) => part(x, y) * level(v),
    near: SAME * Math.SQRT2 * size * (across > 1 ? 1 / 3 : averaged(plane, 3)),
    black: chroma ? null : pivot * unit,
    unit,
    alike,
  };
}

/**
 * A part of a plane averaged with other frames of the same view, in its own light: at each sample only those frames in which its
 * surroundings (3 × 3) differ by no more than noise, so that what passes there has no part in it. What lies nearer than `STEADY_REACH` to a
 * side of the part that is no side of the plane is not as good as if the whole were asked for.
 */
export function steadyPart(
  { data: whole, width: stride, others, sigma, near, black, unit, alike: noiseAlike }: SteadyViews,
  area: Rect,
): SteadyPlane {
  const [width, height] = [area.x1 - area.x0, area.y1 - area.y0];
  const n = width * height;
  const data = cut(whole, stride, area);
  const level = boxMean(data, width, height, WIDE >> 1);
  const sum = Float32Array.from(data);
  const count = new Float32Array(n).fill(1);
  const d = new Float32Array(n);
  // by how much means over 3 × 3 samples may differ
  const most = new Float32Array(n);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) most[i] = near * sigma(data[i], area.x0 + x, area.y0 + y) + 0.3;
  const alike = (): Float32Array => {
    const m = boxMean(d, width, height, 1);
    const out = new Float32Array(n);
    for (let i = 0; i < n; i++) if (Math.abs(m[i]) <= most[i]) out[i] = 1;
    return out;
  };
  for (const o of others) {
    const other = cut(o.data, stride, area);
    for (let i = 0; i < n; i++) d[i] = o.gain * other[i] + o.offset - data[i];
    takeLightOff(d, alike(), data, level, width, black, unit);
    const then = alike();
    for (let i = 0; i < n; i++)
      if (then[i]) {
        sum[i] += data[i] + d[i];
        count[i]++;
      }
  }
  for (let i = 0; i < n; i++) {
    sum[i] /= count[i];
    count[i] = (1 + (count[i] - 1) * noiseAlike) / count[i];
  }
  return { width, height, data: sum, share: count };
}

/** The samples of a part of a plane. */
function cut(data: ArrayLike<number>, stride: number, { x0, y0, x1, y1 }: Rect): Float32Array {
  const out = new Float32Array((x1 - x0) * (y1 - y0));
  for (let y = y0, i = 0; y < y1; y++) for (let x = x0, at = y * stride; x < x1; x++, i++) out[i] = data[at + x];
  return out;
}

/**
 * Takes off differences `d` what light does that is another in places, as clouds make it. Where most of a square of `WIDE` is the `same`, it
 * is the mean difference of that part alone, so that whoever passes at its side has no say; elsewhere a gain about `black` by the means of
 * all of it, or their difference where there is no such, where either is so small that light can be the reason.
 * @param level means of `data` over the same squares @param black null for colour differences
 */
function takeLightOff(
  d: Float32Array,
  same: Float32Array,
  data: Float32Array,
  level: Float64Array,
  width: number,
  black: number | null,
  unit: number,
): void {
  const height = d.length / width;
  const mean = (of: ArrayLike<number>) => boxMean(of, width, height, WIDE >> 1);
  const counted = d.slice();
  for (let i = 0; i < d.length; i++) counted[i] *= same[i];
  const [share, near, all] = [mean(same), mean(counted), mean(d)];
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
