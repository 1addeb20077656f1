/** Squared codes by which colours may leave the line between thing and ground: what noise does. */
const NOISE = 6;
/** Steps of conjugate gradients at most, and the share of the first residual at which it is done. */
const STEPS = 300;
const DONE = 1e-4;
const [SIDE, N] = [3, 9];

/** The colours of one 3 × 3 window: their distances from their mean, and the inverse of how they spread. */
interface Window {
  /** The pixels. */
  at: Int32Array;
  /** Three values a pixel. */
  off: Float64Array;
  inverse: Float64Array;
}

/**
 * The share of a thing in pixels of which nothing is known but their colours and that, within any 3 × 3 pixels, those of thing and rest lie
 * on a line each: α minimises αᵀLα, L the matting Laplacian (Levin, Lischinski & Weiss 2008, closed form), where pixels about them are known.
 * @param planes colours, codes of 8 bits, a pixel each, row by row @param alpha 0–1; what is known of it @param open 1 where it is asked for
 * @returns α, 0–1, as it was where it was not asked for
 */
export function closedForm(planes: readonly Float32Array[], w: number, h: number, alpha: Float32Array, open: Uint8Array): Float32Array {
  const list: Window[] = [];
  for (let y = 0; y + SIDE <= h; y++)
    for (let x = 0; x + SIDE <= w; x++) {
      const at = Int32Array.from({ length: N }, (_, k) => (y + Math.floor(k / SIDE)) * w + x + (k % SIDE));
      if (at.some((i) => open[i])) list.push(windowOf(planes, at));
    }
  const out = alpha.slice();
  // what is known stays: its share of the equations is their right side
  const residual = laplacian(list, out).map((v, i) => (open[i] ? -v : 0));
  const scale = diagonal(list, alpha.length);
  const soft = residual.map((v, i) => (open[i] ? v / scale[i] : 0));
  let way = soft.slice();
  let size = dot(residual, soft);
  const least = DONE * DONE * size;
  for (let k = 0; k < STEPS && size > least && size > 0; k++) {
    const along = laplacian(list, way);
    for (let i = 0; i < along.length; i++) if (!open[i]) along[i] = 0;
    const far = size / dot(way, along);
    for (let i = 0; i < out.length; i++) {
      if (!open[i]) continue;
      out[i] += far * way[i];
      residual[i] -= far * along[i];
      soft[i] = residual[i] / scale[i];
    }
    const next = dot(residual, soft);
    way = way.map((v, i) => soft[i] + (next / size) * v);
    size = next;
  }
  return out.map((v, i) => (open[i] ? Math.min(1, Math.max(0, v)) : v));
}

const dot = (a: Float64Array, b: Float64Array): number => a.reduce((sum, v, i) => sum + v * b[i], 0);

function windowOf(planes: readonly Float32Array[], at: Int32Array): Window {
  const off = new Float64Array(3 * N);
  for (let p = 0; p < 3; p++) {
    let mean = 0;
    for (const i of at) mean += planes[p][i] / N;
    for (let k = 0; k < N; k++) off[3 * k + p] = planes[p][at[k]] - mean;
  }
  const s = new Float64Array(9);
  for (let k = 0; k < N; k++) for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) s[3 * a + b] += (off[3 * k + a] * off[3 * k + b]) / N;
  for (let a = 0; a < 3; a++) s[4 * a] += NOISE;
  return { at, off, inverse: inverseOf3(s) };
}

/** Of a symmetric 3 × 3 matrix. */
function inverseOf3([a, b, c, , e, f, , , i]: Float64Array): Float64Array {
  const [A, B, C] = [e * i - f * f, c * f - b * i, b * f - c * e];
  const d = a * A + b * B + c * C;
  return Float64Array.of(A, B, C, B, a * i - c * c, b * c - a * f, C, b * c - a * f, a * e - b * b).map((v) => v / d);
}

/** L·v: in each window, what of v is no linear function of its colours. */
function laplacian(list: readonly Window[], v: ArrayLike<number>): Float64Array {
  const out = new Float64Array(v.length);
  const [sum, fit] = [new Float64Array(3), new Float64Array(3)];
  for (const { at, off, inverse } of list) {
    let mean = 0;
    sum.fill(0);
    for (let k = 0; k < N; k++) {
      const value = v[at[k]];
      mean += value / N;
      for (let p = 0; p < 3; p++) sum[p] += (off[3 * k + p] * value) / N;
    }
    for (let p = 0; p < 3; p++) fit[p] = inverse[3 * p] * sum[0] + inverse[3 * p + 1] * sum[1] + inverse[3 * p + 2] * sum[2];
    for (let k = 0; k < N; k++) out[at[k]] += v[at[k]] - mean - off[3 * k] * fit[0] - off[3 * k + 1] * fit[1] - off[3 * k + 2] * fit[2];
  }
  return out;
}

/** The diagonal of L. */
function diagonal(list: readonly Window[], n: number): Float64Array {
  const out = new Float64Array(n);
  for (const { at, off, inverse } of list)
    for (let k = 0; k < N; k++) {
      let q = 0;
      for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) q += off[3 * k + a] * inverse[3 * a + b] * off[3 * k + b];
      out[at[k]] += 1 - (1 + q) / N;
    }
  return out;
}
