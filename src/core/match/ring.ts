import { intersect, type Plane, type Rect } from "../pixels/frame";
import type { PlaneAlpha } from "../shape/chroma";

/** Samples of a plane around a mask, by how far they lie from it. */
export interface Surround extends Rect {
  /** Squared distance of each sample from the nearest with α > 0, in samples; 0 within. */
  far: Float32Array;
}

/** Farther than anything. */
export const NONE = 1e12;

/**
 * Squared distances from the samples with α > 0, over α's rectangle and `reach` samples around it, within the plane: exact, by lower
 * envelopes of parabolas along rows and columns (Felzenszwalb & Huttenlocher 2012).
 */
export function surroundOf(alpha: PlaneAlpha, width: number, height: number, reach: number): Surround {
  const rect = intersect({ x0: 0, y0: 0, x1: width, y1: height }, { x0: alpha.x0 - reach, y0: alpha.y0 - reach, x1: alpha.x1 + reach, y1: alpha.y1 + reach }); // prettier-ignore
  const [w, h] = [Math.max(0, rect.x1 - rect.x0), Math.max(0, rect.y1 - rect.y0)];
  const far = new Float32Array(w * h).fill(NONE);
  const aw = alpha.x1 - alpha.x0;
  for (let y = Math.max(alpha.y0, rect.y0); y < Math.min(alpha.y1, rect.y1); y++)
    for (let x = Math.max(alpha.x0, rect.x0); x < Math.min(alpha.x1, rect.x1); x++)
      if (alpha.data[(y - alpha.y0) * aw + x - alpha.x0] > 0) far[(y - rect.y0) * w + x - rect.x0] = 0;
  squaredDistances(far, w, h);
  return { ...rect, far };
}

/** Cells around a mask, each `across` × `down` samples, that lie so far from it. */
export interface RingCells {
  /** The first sample of each cell, and how many there are. */
  x: Int32Array;
  y: Int32Array;
  count: number;
}

/**
 * The cells of a ring around α > 0, on a grid that is the same wherever α lies: those whose middle lies more than `from` and at most `to`
 * cells from that of the nearest cell with any α.
 */
export function ringCells(
  alpha: PlaneAlpha,
  width: number,
  height: number,
  cell: { w: number; h: number },
  ring: { from: number; to: number },
): RingCells {
  const reach = Math.ceil(ring.to);
  const [x0, y0] = [Math.max(0, Math.floor(alpha.x0 / cell.w) - reach), Math.max(0, Math.floor(alpha.y0 / cell.h) - reach)];
  // whole cells only: one that the picture's border cuts is left out
  const [x1, y1] = [
    Math.min(Math.floor(width / cell.w), Math.ceil(alpha.x1 / cell.w) + reach),
    Math.min(Math.floor(height / cell.h), Math.ceil(alpha.y1 / cell.h) + reach),
  ];
  const [w, h] = [Math.max(0, x1 - x0), Math.max(0, y1 - y0)];
  const far = new Float32Array(w * h).fill(NONE);
  const aw = alpha.x1 - alpha.x0;
  for (let y = alpha.y0; y < alpha.y1; y++) {
    const row = (Math.floor(y / cell.h) - y0) * w;
    if (row < 0 || row >= far.length) continue;
    for (let x = alpha.x0, i = (y - alpha.y0) * aw; x < alpha.x1; x++, i++) {
      if (alpha.data[i] <= 0) continue;
      const cx = Math.floor(x / cell.w) - x0;
      if (cx >= 0 && cx < w) far[row + cx] = 0;
    }
  }
  squaredDistances(far, w, h);
  const [from, to] = [ring.from * ring.from, ring.to * ring.to];
  const out = { x: new Int32Array(w * h), y: new Int32Array(w * h), count: 0 };
  for (let i = 0; i < far.length; i++) {
    if (far[i] <= from || far[i] > to) continue;
    out.x[out.count] = (x0 + (i % w)) * cell.w;
    out.y[out.count++] = (y0 + Math.floor(i / w)) * cell.h;
  }
  return out;
}

const ringsKept = new WeakMap<PlaneAlpha, RingCells>();

/** `ringCells`, kept with the α it belongs to; of an α it is always the same ring that is asked for. */
export function keptRing(...[alpha, ...more]: Parameters<typeof ringCells>): RingCells {
  let ring = ringsKept.get(alpha);
  if (!ring) ringsKept.set(alpha, (ring = ringCells(alpha, ...more)));
  return ring;
}

/** Squared distances from the samples that are 0 to all others, which are `NONE`; in place. */
export function squaredDistances(far: Float32Array, w: number, h: number): void {
  const line = new Float64Array(Math.max(w, h));
  for (let x = 0; x < w; x++) along(far, x, w, h, line);
  for (let y = 0; y < h; y++) along(far, y * w, 1, w, line);
}

/** One row or column, in place. */
function along(data: Float32Array, from: number, step: number, n: number, f: Float64Array): void {
  for (let i = 0; i < n; i++) f[i] = data[from + i * step];
  const v = new Int32Array(n);
  const z = new Float64Array(n + 1);
  let k = -1;
  for (let q = 0; q < n; q++) {
    if (f[q] >= NONE) continue;
    let s = -Infinity;
    while (k >= 0) {
      s = (f[q] + q * q - (f[v[k]] + v[k] * v[k])) / (2 * (q - v[k]));
      if (s > z[k]) break;
      k--;
    }
    k++;
    v[k] = q;
    z[k] = k ? s : -Infinity;
    z[k + 1] = Infinity;
  }
  if (k < 0) return;
  for (let i = 0, j = 0; i < n; i++) {
    while (z[j + 1] < i) j++;
    data[from + i * step] = (i - v[j]) ** 2 + f[v[j]];
  }
}

/** One plane of a patch beside what lies around it. */
export interface PlaneAsk {
  alpha: PlaneAlpha;
  /** What lies below the patch. */
  below: Plane;
  /** The patch's picture at a sample of the plane, in codes. */
  value: (x: number, y: number) => number;
  /** Whether a sample of the surroundings may be asked: within the source, under no other layer. */
  counts: (x: number, y: number) => boolean;
  /** log2 of the plane's subsampling. */
  shift: { sx: number; sy: number };
  /** Codes per code of 8 bits. */
  unit: number;
}

/** A still α is asked for at every frame, by its light and by its seam; its surroundings are worked out once for either reach. */
const kept = new WeakMap<PlaneAlpha, Map<number, Surround>>();

/** `surroundOf`, kept with the α it belongs to. */
export function keptSurround(alpha: PlaneAlpha, width: number, height: number, reach: number): Surround {
  let of = kept.get(alpha);
  if (!of) kept.set(alpha, (of = new Map()));
  let surround = of.get(reach);
  if (!surround) of.set(reach, (surround = surroundOf(alpha, width, height, reach)));
  return surround;
}
