import { median } from "../motion/gray";
import type { Frame, Rect, Samples } from "../pixels/frame";
import { apart, deviationBy } from "./place";

/** Clean frames that are compared, and how many of them have to be told. */
const LOOKS = { most: 9, least: 4 };

/**
 * How surely it can be told where a picture lies around a patch: clean frames are laid over each other by the same pixels. A camera that
 * drifts evenly is no error; coding that carries texture along from frame to frame is, and a standard error of pixels knows nothing of it.
 */
export class Wobble {
  /** Luma as it is coded, a part of the codes' memory as numbers; and what a code is in 8 bits. */
  private readonly looks: { n: number; luma: Samples; unit: number }[] = [];

  /** @param frame a clean one @param rect where it is asked, in pixels of the take */
  add(n: number, frame: Frame, rect: Rect): void {
    const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
    const { data, width } = frame.planes[0];
    const luma = data instanceof Uint8Array ? new Uint8Array(w * h) : new Uint16Array(w * h);
    for (let y = 0, from = rect.y0 * width + rect.x0; y < h; y++, from += width) luma.set(data.subarray(from, from + w), y * w);
    this.looks.push({ n, luma, unit: 1 / 2 ** (frame.format.bits - 8) });
  }

  /**
   * Standard deviation of a place, pixels, of two frames against each other; null where too few can be told.
   * @param counts the pixels that are asked, row by row
   */
  deviation(counts: Uint8Array, width: number, height: number): number | null {
    const every = Math.max(1, Math.ceil(this.looks.length / LOOKS.most));
    const [first, ...others] = this.looks.filter((_, k) => k % every === 0);
    if (!first) return null;
    const numbers = ({ luma, unit }: (typeof this.looks)[number]) => {
      const out = new Float32Array(luma);
      if (unit !== 1) for (let i = 0; i < out.length; i++) out[i] *= unit;
      return out;
    };
    const a = numbers(first);
    const places: { n: number; dx: number; dy: number }[] = [];
    for (const look of others) {
      const part = { width, height, a, b: numbers(look), counts };
      // a camera that drifts is not far from where it was before
      const found = (places.length && apart(part, places.at(-1))) || apart(part);
      if (found) places.push({ n: look.n, ...found });
    }
    if (places.length < LOOKS.least) return null;
    const left = [places.map((p) => p.dx), places.map((p) => p.dy)].map((v) =>
      withoutLine(
        places.map((p) => p.n),
        v,
      ),
    );
    const off = Float64Array.from(places, (_, k) => Math.hypot(left[0][k], left[1][k]));
    // two frames against each other hold twice the variance
    return Math.SQRT2 * deviationBy(off);
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
