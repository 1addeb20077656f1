/** A plane of samples with its size. */
export interface Samples {
  width: number;
  height: number;
  data: ArrayLike<number>;
}

/**
 * Mean squared difference of two planes of one size, in code values squared.
 * @param where counts only samples where this is not 0; all without it
 * @throws RangeError when the sizes differ or nothing is counted
 */
export function meanSquare(a: Samples, b: Samples, where?: ArrayLike<number>): number {
  if (a.width !== b.width || a.height !== b.height)
    throw new RangeError(`Pictures of ${a.width}×${a.height} and ${b.width}×${b.height} cannot be compared: give two of one size.`);
  let sum = 0;
  let n = 0;
  for (let i = 0; i < a.width * a.height; i++) {
    if (where && !where[i]) continue;
    const d = a.data[i] - b.data[i];
    sum += d * d;
    n++;
  }
  if (!n) throw new RangeError("There is nothing to compare: the area is empty.");
  return sum / n;
}

/**
 * Peak signal to noise ratio, dB: 10·log₁₀(peak² ∕ mean squared difference); Infinity for equal planes.
 * ITU-T J.247 (2008), annex on PSNR, and common practice: the peak is the largest code value (255 at 8 bits), also of limited range.
 */
export function psnr(a: Samples, b: Samples, peak = 255, where?: ArrayLike<number>): number {
  const ms = meanSquare(a, b, where);
  return ms === 0 ? Infinity : 10 * Math.log10((peak * peak) / ms);
}
