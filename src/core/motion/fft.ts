/** A complex picture of `width` × `height`, real and imaginary parts apart. */
export interface Spectrum {
  width: number;
  height: number;
  re: Float64Array;
  im: Float64Array;
}

interface Plan {
  reversed: Uint32Array;
  cos: Float64Array;
  sin: Float64Array;
}
const plans = new Map<number, Plan>();

function planOf(n: number): Plan {
  let p = plans.get(n);
  if (p) return p;
  if (n < 1 || n & (n - 1)) throw new Error(`a Fourier transform here needs a power of two, not ${n}`);
  const bits = Math.log2(n);
  const reversed = new Uint32Array(n);
  for (let i = 0; i < n; i++) for (let b = 0; b < bits; b++) if (i & (1 << b)) reversed[i] |= 1 << (bits - 1 - b);
  const cos = new Float64Array(n / 2 || 1);
  const sin = new Float64Array(n / 2 || 1);
  for (let i = 0; i < n / 2; i++) {
    cos[i] = Math.cos((2 * Math.PI * i) / n);
    sin[i] = -Math.sin((2 * Math.PI * i) / n);
  }
  plans.set(n, (p = { reversed, cos, sin }));
  return p;
}

/** One line of `n` values that lie `step` apart, in place (Cooley & Tukey 1965, radix 2). */
function line(re: Float64Array, im: Float64Array, from: number, step: number, n: number, { reversed, cos, sin }: Plan): void {
  for (let i = 0; i < n; i++) {
    const j = reversed[i];
    if (j <= i) continue;
    const a = from + i * step;
    const b = from + j * step;
    [re[a], re[b]] = [re[b], re[a]];
    [im[a], im[b]] = [im[b], im[a]];
  }
  for (let size = 2; size <= n; size *= 2) {
    const half = size / 2;
    const turn = n / size;
    for (let start = 0; start < n; start += size)
      for (let k = 0; k < half; k++) {
        const a = from + (start + k) * step;
        const b = a + half * step;
        const wr = cos[k * turn];
        const wi = sin[k * turn];
        const xr = re[b] * wr - im[b] * wi;
        const xi = re[b] * wi + im[b] * wr;
        re[b] = re[a] - xr;
        im[b] = im[a] - xi;
        re[a] += xr;
        im[a] += xi;
      }
  }
}

/** The discrete Fourier transform of a picture whose sides are powers of two, in place, without a factor. */
export function transform(s: Spectrum): Spectrum {
  const { width, height, re, im } = s;
  const across = planOf(width);
  const down = planOf(height);
  for (let y = 0; y < height; y++) line(re, im, y * width, 1, width, across);
  for (let x = 0; x < width; x++) line(re, im, x, width, height, down);
  return s;
}

/** Its inverse, in place, divided by the count of values. */
export function invert(s: Spectrum): Spectrum {
  const n = s.width * s.height;
  for (let i = 0; i < n; i++) s.im[i] = -s.im[i];
  transform(s);
  for (let i = 0; i < n; i++) {
    s.re[i] /= n;
    s.im[i] /= -n;
  }
  return s;
}
