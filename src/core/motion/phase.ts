import { invert, transform, type Spectrum } from "./fft";
import type { Gray } from "./gray";

export interface Shift {
  dx: number;
  dy: number;
  /** Share of the correlation that lies at the peak, 0–1: near 0 the two pictures have nothing in common. */
  response: number;
}

const powerOfTwo = (n: number) => 1 << Math.ceil(Math.log2(n));

/** A picture's spectrum: mean taken off, under a Hann window, filled up with 0 to powers of two. */
export function windowed({ width, height, data }: Gray): Spectrum {
  const w = powerOfTwo(width);
  const h = powerOfTwo(height);
  const re = new Float64Array(w * h);
  let mean = 0;
  for (const v of data) mean += v;
  mean /= data.length;
  const hann = (n: number) => Float64Array.from({ length: n }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / n));
  const wx = hann(width);
  const wy = hann(height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) re[y * w + x] = (data[y * width + x] - mean) * wx[x] * wy[y];
  return transform({ width: w, height: h, re, im: new Float64Array(w * h) });
}

/**
 * How far picture `b` is shifted against picture `a`, from their spectra (Kuglin & Hines 1975); the fraction of a
 * sample from the peak and its higher neighbour (Foroosh, Zerubia & Berthod 2002).
 */
export function phaseCorrelate(a: Spectrum, b: Spectrum): Shift {
  const { width: w, height: h } = a;
  const n = w * h;
  const re = new Float64Array(n);
  const im = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const x = b.re[i] * a.re[i] + b.im[i] * a.im[i];
    const y = b.im[i] * a.re[i] - b.re[i] * a.im[i];
    const m = Math.hypot(x, y);
    if (m < 1e-12) continue;
    re[i] = x / m;
    im[i] = y / m;
  }
  const c = invert({ width: w, height: h, re, im }).re;
  let top = 0;
  for (let i = 1; i < n; i++) if (c[i] > c[top]) top = i;
  const px = top % w;
  const py = Math.floor(top / w);
  const at = (x: number, y: number) => c[((y + h) % h) * w + ((x + w) % w)];
  const peak = c[top];
  const between = (before: number, after: number) => {
    const [side, sign] = after > before ? [after, 1] : [before, -1];
    return side > 0 ? (sign * side) / (side + peak) : 0;
  };
  const dx = px + between(at(px - 1, py), at(px + 1, py));
  const dy = py + between(at(px, py - 1), at(px, py + 1));
  return { dx: dx > w / 2 ? dx - w : dx, dy: dy > h / 2 ? dy - h : dy, response: peak };
}
