import type { Plane } from "../pixels/frame";

/** One channel of values, rows without padding; any scale, usually code values. */
export interface Gray {
  width: number;
  height: number;
  data: Float32Array | Uint8Array;
}

/** The samples of a plane in code values of 8 bits; those of 8 bits are not copied. */
export function grayOf({ width, height, data }: Plane, bits: number): Gray {
  if (data instanceof Uint8Array) return { width, height, data };
  const out = new Float32Array(width * height);
  const k = 1 / (1 << (bits - 8));
  for (let i = 0; i < out.length; i++) out[i] = data[i] * k;
  return { width, height, data: out };
}

/** Means of cells of `k` × `k` samples; what does not fill a cell at the right and lower edge is left out. 8-bit code values. */
export function cellMeans({ width, height, data }: Plane, bits: number, k: number): Gray {
  const w = Math.floor(width / k);
  const h = Math.floor(height / k);
  const sums = new Float32Array(w * h);
  for (let y = 0; y < h * k; y++) {
    const row = y * width;
    const cell = Math.floor(y / k) * w;
    for (let x = 0, at = row; x < w; x++) {
      let s = 0;
      for (let i = 0; i < k; i++) s += data[at++];
      sums[cell + x] += s;
    }
  }
  const one = 1 / (k * k * (1 << (bits - 8)));
  for (let i = 0; i < sums.length; i++) sums[i] *= one;
  return { width: w, height: h, data: sums };
}

/** The middle value; of an even count the lower of the two. The list is put in another order. NaN when empty. */
export function median(values: Float64Array | Float32Array | number[]): number {
  if (values.length === 0) return NaN;
  return nth(values, (values.length - 1) >> 1);
}

/** The k-th smallest value (Hoare 1961, "Find"). The list is put in another order. */
export function nth(v: Float64Array | Float32Array | number[], k: number): number {
  let lo = 0;
  let hi = v.length - 1;
  while (lo < hi) {
    const pivot = v[(lo + hi) >> 1];
    let i = lo;
    let j = hi;
    while (i <= j) {
      while (v[i] < pivot) i++;
      while (v[j] > pivot) j--;
      if (i <= j) {
        const t = v[i];
        v[i++] = v[j];
        v[j--] = t;
      }
    }
    if (k <= j) hi = j;
    else if (k >= i) lo = i;
    else break;
  }
  return v[k];
}
