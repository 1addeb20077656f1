import type { Plane } from "./frame";
import { toCode } from "./resample";

/** Lobes of the kernel on either side. */
const LOBES = 3;

/** The Lanczos kernel of three lobes at distance t: sinc(t)·sinc(t/3) (Duchon 1979). */
function lanczos(t: number): number {
  if (t === 0) return 1;
  if (Math.abs(t) >= LOBES) return 0;
  const x = Math.PI * t;
  return (LOBES * Math.sin(x) * Math.sin(x / LOBES)) / (x * x);
}

/** What a position takes from the samples around it: the first of them, and their weights, of sum 1. */
function taps(at: number, out: Float64Array): number {
  const first = Math.floor(at) - LOBES + 1;
  let sum = 0;
  for (let i = 0; i < out.length; i++) sum += out[i] = lanczos(at - first - i);
  for (let i = 0; i < out.length; i++) out[i] /= sum;
  return first;
}

/** Where the samples of a plane are read: sample (x, y) at (a·x + b·y + c, d·x + e·y + f) of the plane itself. */
export interface Affine {
  a: number;
  b: number;
  c: number;
  d: number;
  e: number;
  f: number;
}

/**
 * A plane enlarged, moved and turned, of the same size: the Lanczos kernel of three lobes, edges clamped, rounded and clipped once.
 * Where nothing is turned rows and columns are worked out in turn.
 */
export function lanczosPlane(plane: Plane, map: Affine, top: number): Plane {
  return { ...plane, data: map.b === 0 && map.d === 0 ? straight(plane, map, top) : turned(plane, map, top) };
}

const clamped = (v: number, size: number) => (v < 0 ? 0 : v >= size ? size - 1 : v);

function straight({ width, height, data }: Plane, { a, c, e, f }: Affine, top: number): Plane["data"] {
  const w = new Float64Array(2 * LOBES);
  const out = data.slice();
  // each column's taps once
  const weights = new Float64Array(2 * LOBES * width);
  const from = new Int32Array(2 * LOBES * width);
  for (let x = 0; x < width; x++) {
    const first = taps(a * x + c, w);
    for (let i = 0; i < w.length; i++) {
      weights[x * w.length + i] = w[i];
      from[x * w.length + i] = clamped(first + i, width);
    }
  }
  const column = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    const first = taps(e * y + f, w);
    column.fill(0);
    for (let j = 0; j < w.length; j++) {
      const row = clamped(first + j, height) * width;
      for (let x = 0; x < width; x++) column[x] += w[j] * data[row + x];
    }
    for (let x = 0, k = 0; x < width; x++) {
      let sum = 0;
      for (let i = 0; i < 2 * LOBES; i++, k++) sum += weights[k] * column[from[k]];
      out[y * width + x] = toCode(sum, top);
    }
  }
  return out;
}

function turned({ width, height, data }: Plane, { a, b, c, d, e, f }: Affine, top: number): Plane["data"] {
  const [wx, wy] = [new Float64Array(2 * LOBES), new Float64Array(2 * LOBES)];
  const out = data.slice();
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const u = taps(a * x + b * y + c, wx);
      const v = taps(d * x + e * y + f, wy);
      let sum = 0;
      for (let j = 0; j < wy.length; j++) {
        const row = clamped(v + j, height) * width;
        let line = 0;
        for (let i = 0; i < wx.length; i++) line += wx[i] * data[row + clamped(u + i, width)];
        sum += wy[j] * line;
      }
      out[y * width + x] = toCode(sum, top);
    }
  return out;
}
