import { type Frame, isChroma } from "../pixels/frame";
import { averaged, grainOfPlane, type GrainStatistics, sigmaAt } from "./grain";
import { lightBetween, pivotOf } from "./light";

/** Side of the cells by which the light of two frames is compared, in samples. */
const CELL = 16;
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
  const size = across > 1 ? averaged(plane, across) : 1;
  const near = SAME * Math.SQRT2 * size * (across > 1 ? 1 / 3 : averaged(plane, 3));
  const pivot = pivotOf(isChroma(frame.format, p), full || frame.format.model === "rgb");
  const n = width * height;
  const sum = Float32Array.from(data);
  const count = new Float32Array(n).fill(1);
  const d = new Float32Array(n);
  const base = cellMeans(data, width, height, unit);
  for (const o of others) {
    const other = o.planes[p].data;
    const light = lightBetween(cellMeans(other, width, height, unit), base, pivot);
    const [gain, offset] = [light.gain, (pivot * (1 - light.gain) + light.offset) * unit];
    for (let i = 0; i < n; i++) d[i] = gain * other[i] + offset - data[i];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let [s, k] = [0, 0];
        for (let j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++)
          for (let i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++, k++) s += d[j * width + i];
        const at = y * width + x;
        if (Math.abs(s / k) > near * sigma(data[at]) + 0.3) continue;
        sum[at] += data[at] + d[at];
        count[at]++;
      }
  }
  for (let i = 0; i < n; i++) {
    sum[i] /= count[i];
    count[i] = 1 / count[i];
  }
  return { width, height, data: sum, share: count };
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
