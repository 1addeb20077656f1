import type { Samples } from "./psnr";

export interface SsimOptions {
  /** Largest code value. */
  peak?: number;
  /**
   * `gaussian`: 11×11, σ 1.5, at every place where it lies wholly inside; `block`: 8×8 evenly weighted at every fourth place,
   * as x264 and ffmpeg's filter `ssim` measure.
   */
  window?: "gaussian" | "block";
}

/** One value per place of the window, with the pixel at its middle. */
export interface SsimMap {
  /** Middle of the first window, and steps from one to the next, in pixels. */
  x: number;
  y: number;
  step: number;
  width: number;
  height: number;
  data: Float64Array;
}

const gaussian = (size: number, sigma: number) => {
  const k = Array.from({ length: size }, (_, i) => Math.exp(-((i - (size - 1) / 2) ** 2) / (2 * sigma * sigma)));
  const sum = k.reduce((a, b) => a + b, 0);
  return k.map((v) => v / sum);
};

/** Weighted means over a separable window at every `step`-th place. */
function means(data: Float64Array, width: number, height: number, k: number[], step: number) {
  const n = k.length;
  const w = Math.floor((width - n) / step) + 1;
  const h = Math.floor((height - n) / step) + 1;
  const rows = new Float64Array(w * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < w; x++) {
      let s = 0;
      for (let i = 0; i < n; i++) s += k[i] * data[y * width + x * step + i];
      rows[y * w + x] = s;
    }
  const out = new Float64Array(w * h);
  for (let y = 0; y < h; y++)
    for (let i = 0; i < n; i++) {
      const from = (y * step + i) * w;
      for (let x = 0; x < w; x++) out[y * w + x] += k[i] * rows[from + x];
    }
  return { data: out, width: w, height: h };
}

/**
 * Structural similarity, −1 to 1, at every place of the window.
 * Z. Wang, A. C. Bovik, H. R. Sheikh, E. P. Simoncelli, “Image quality assessment: from error visibility to structural
 * similarity”, IEEE Trans. Image Processing 13 (2004), equation 13, K₁ = 0.01, K₂ = 0.03.
 * @throws RangeError when the sizes differ or the window does not fit
 */
export function ssimMap(a: Samples, b: Samples, { peak = 255, window = "gaussian" }: SsimOptions = {}): SsimMap {
  if (a.width !== b.width || a.height !== b.height)
    throw new RangeError(`Pictures of ${a.width}×${a.height} and ${b.width}×${b.height} cannot be compared: give two of one size.`);
  const k = window === "gaussian" ? gaussian(11, 1.5) : Array<number>(8).fill(1 / 8);
  const step = window === "gaussian" ? 1 : 4;
  const { width, height } = a;
  if (width < k.length || height < k.length)
    throw new RangeError(`A picture of ${width}×${height} is too small for this measure: it needs ${k.length} pixels each way.`);
  const n = width * height;
  const value = new Float64Array(n);
  const product = (p: ArrayLike<number> | null, q: ArrayLike<number>) => {
    for (let i = 0; i < n; i++) value[i] = p ? p[i] * q[i] : q[i];
    return means(value, width, height, k, step);
  };
  const ma = product(null, a.data);
  const mb = product(null, b.data).data;
  const aa = product(a.data, a.data).data;
  const bb = product(b.data, b.data).data;
  const ab = product(a.data, b.data).data;
  const c1 = (0.01 * peak) ** 2;
  const c2 = (0.03 * peak) ** 2;
  const out = new Float64Array(ma.data.length);
  for (let i = 0; i < out.length; i++) {
    const [p, q] = [ma.data[i], mb[i]];
    const va = aa[i] - p * p;
    const vb = bb[i] - q * q;
    out[i] = ((2 * p * q + c1) * (2 * (ab[i] - p * q) + c2)) / ((p * p + q * q + c1) * (va + vb + c2));
  }
  return { x: (k.length - 1) / 2, y: (k.length - 1) / 2, step, width: ma.width, height: ma.height, data: out };
}

/**
 * Mean structural similarity; with `where`, over the windows whose middle pixel is not 0 there.
 * @throws RangeError as `ssimMap`, or when nothing is counted
 */
export function ssim(a: Samples, b: Samples, options: SsimOptions = {}, where?: ArrayLike<number>): number {
  const m = ssimMap(a, b, options);
  let sum = 0;
  let n = 0;
  for (let y = 0; y < m.height; y++)
    for (let x = 0; x < m.width; x++) {
      if (where && !where[(Math.floor(m.y) + y * m.step) * a.width + Math.floor(m.x) + x * m.step]) continue;
      sum += m.data[y * m.width + x];
      n++;
    }
  if (!n) throw new RangeError("There is nothing to compare: the area is empty, or too near the picture's edge.");
  return sum / n;
}
