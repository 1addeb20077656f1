import { median } from "../motion/gray";
import type { Frame, Rect } from "../pixels/frame";
import { apart } from "./place";

/** Clean frames that are compared, and how many of them have to be told. */
const LOOKS = { most: 9, least: 4 };

/**
 * How surely it can be told where a picture lies around a patch: clean frames are laid over each other by the same pixels. A camera that
 * drifts evenly is no error; coding that carries texture along from frame to frame is, and a standard error of pixels knows nothing of it.
 */
export class Wobble {
  private readonly looks: { n: number; luma: Float32Array }[] = [];

  /** @param frame a clean one @param rect where it is asked, in pixels of the take */
  add(n: number, frame: Frame, rect: Rect): void {
    const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
    const { data, width } = frame.planes[0];
    const unit = 1 / 2 ** (frame.format.bits - 8);
    const luma = new Float32Array(w * h);
    for (let y = 0; y < h; y++) for (let x = 0, i = y * w, j = (rect.y0 + y) * width + rect.x0; x < w; x++) luma[i++] = data[j++] * unit;
    this.looks.push({ n, luma });
  }

  /**
   * Standard deviation of a place, pixels, of two frames against each other; null where too few can be told.
   * @param counts the pixels that are asked, row by row
   */
  deviation(counts: Uint8Array, width: number, height: number): number | null {
    const every = Math.max(1, Math.ceil(this.looks.length / LOOKS.most));
    const [first, ...others] = this.looks.filter((_, k) => k % every === 0);
    if (!first) return null;
    const places = others.flatMap(({ n, luma }) => {
      const found = apart({ width, height, a: first.luma, b: luma, counts });
      return found ? [{ n, ...found }] : [];
    });
    if (places.length < LOOKS.least) return null;
    const left = [places.map((p) => p.dx), places.map((p) => p.dy)].map((v) =>
      withoutLine(
        places.map((p) => p.n),
        v,
      ),
    );
    const off = Float64Array.from(places, (_, k) => Math.hypot(left[0][k], left[1][k]));
    // the median of a distance in two directions is 1.18 σ of either (Rayleigh); two frames against each other hold twice the variance
    return (Math.SQRT2 * median(off)) / 1.1774;
  }
}

/** What is left of values without their line in time: the median of all slopes (Theil 1950, Sen 1968), and of what is left. */
function withoutLine(at: readonly number[], values: readonly number[]): number[] {
  const slopes: number[] = [];
  for (let a = 0; a < at.length; a++) for (let b = 0; b < a; b++) slopes.push((values[a] - values[b]) / (at[a] - at[b]));
  const slope = median(slopes);
  const left = values.map((v, k) => v - slope * at[k]);
  const middle = median([...left]);
  return left.map((v) => v - middle);
}
