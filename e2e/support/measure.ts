import { decodeAll } from "../../testkit/ffmpeg";

/** PSNR in dB of 8-bit luma `a` against `b` (any depth scaled to 8 bit by the caller), over the samples `where` marks. */
export function psnr(a: Uint8Array, b: ArrayLike<number>, where: (i: number) => boolean): number {
  let sum = 0;
  let n = 0;
  for (let i = 0; i < a.length; i++) {
    if (!where(i)) continue;
    sum += (a[i] - b[i]) ** 2;
    n++;
  }
  return 10 * Math.log10((255 * 255) / (sum / n));
}

/** Luma of each `every`-th frame, one after another, 8 bit, as coded (no range conversion). */
export function luma(file: string, frameSize: number, every = 1): Uint8Array {
  const all = decodeAll(file, "yuv420p", every);
  const count = all.length / (frameSize * 1.5);
  const out = new Uint8Array(count * frameSize);
  for (let n = 0; n < count; n++) out.set(all.subarray(n * frameSize * 1.5, n * frameSize * 1.5 + frameSize), n * frameSize);
  return out;
}

/** Luma of each `every`-th frame of a 10-bit file, as 8-bit numbers with fractions. */
export function luma10(file: string, frameSize: number, every = 1): Float32Array {
  const all = decodeAll(file, "yuv420p10le", every);
  const v = new Uint16Array(all.buffer, all.byteOffset, all.length / 2);
  const count = v.length / (frameSize * 1.5);
  const out = new Float32Array(count * frameSize);
  for (let n = 0; n < count; n++) for (let i = 0; i < frameSize; i++) out[n * frameSize + i] = v[n * frameSize * 1.5 + i] / 4;
  return out;
}
