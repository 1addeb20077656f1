import { solve } from "../follow/solve";
import { boxMean } from "../match/box-mean";
import { median } from "../motion/gray";

/** How far two pictures lie apart. */
export interface Apart {
  /** By how much `b` lies to the right of and below `a`, pixels. */
  dx: number;
  dy: number;
  /** Its standard error, pixels. */
  error: number;
  /** How alike they are once that is taken off, −1 … 1. */
  alike: number;
}

/** The median of a distance in two directions, of σ = 1 in either (Rayleigh). */
const MEDIAN_DISTANCE = 1.1774;

/** Standard deviation in either direction of places, by how far they lie from their middle: robustly, by the median. */
export const deviationBy = (distances: Float64Array | number[]): number => median(distances) / MEDIAN_DISTANCE;

/** A part of a plane: values and which of them count, row by row. */
export interface Part {
  width: number;
  height: number;
  a: Float32Array;
  b: Float32Array;
  counts: Uint8Array;
}

/** How far whole pixels are searched. */
const SEARCH = 8;
/** Noise of neighbours is alike: so much larger is an error than it would be of independent ones. */
const ALIKE = 2.5;
const ROUNDS = 6;
/** Pixels on either side whose mean is taken off. */
const SLOW = 8;
/** Pixels by which whole shifts are searched. */
const MOST_SEARCHED = 10_000;
/** All shifts are tried by one of so many of these, and so many of the best by all. */
const ROUGHLY = 4;
const TRIED_AGAIN = 16;
/** More pixels make nothing surer. */
const MOST_PIXELS = 40_000;
/** Fewer pixels say nothing. */
const LEAST_PIXELS = 200;
/** Standard deviations at which a residual begins to lose weight (Huber 1964), and from which it says nothing of how sure a fit is. */
const HUBER = 1.345;
const FAR = 4;

/** Of `count` pixels the gradient, and both values. */
interface Rows {
  count: number;
  gx: Float64Array;
  gy: Float64Array;
  a: Float64Array;
  b: Float64Array;
}

/**
 * How far one picture lies off another where both count: whole pixels by the least squared difference of what is left without the mean,
 * then by least squares along the gradient (Lucas & Kanade 1981) with Huber weights, gain and offset free; so that a change of light is no
 * movement. Null where too little can be seen.
 * @param near where it was found before: whole pixels are not searched again
 */
export function apart(p: Part, near?: { dx: number; dy: number }): Apart | null {
  const start = near ? { dx: Math.round(near.dx), dy: Math.round(near.dy) } : wholeShift(withoutLight(p));
  if (!start) return null;
  // what is slow is taken off both at the same places, or its rim would pull
  const found = refined(withoutLight(shifted(p, start.dx, start.dy)));
  return found && { ...found, dx: found.dx + start.dx, dy: found.dy + start.dy };
}

/** The part with its second picture moved back by whole pixels; what has no partner then does not count. */
function shifted({ width, height, a, b, counts }: Part, dx: number, dy: number): Part {
  const [other, both] = [new Float32Array(a.length), new Uint8Array(a.length)];
  for (let y = Math.max(0, -dy); y < Math.min(height, height - dy); y++)
    for (let x = Math.max(0, -dx); x < Math.min(width, width - dx); x++) {
      const [i, j] = [y * width + x, (y + dy) * width + x + dx];
      other[i] = b[j];
      both[i] = counts[i] & counts[j];
    }
  return { width, height, a, b: other, counts: both };
}

/** Light that changes in places would look like a shift of what is smooth. */
function withoutLight(p: Part): Part {
  const shares = boxMean(p.counts, p.width, p.height, SLOW);
  return { ...p, a: withoutSlow(p.a, p, shares), b: withoutSlow(p.b, p, shares) };
}

/**
 * The shift of whole pixels that makes them most alike, by normalised correlation over some of the pixels: all shifts by a part of these,
 * the best of them by all.
 */
function wholeShift(part: Part): { dx: number; dy: number } | null {
  const skip = Math.max(1, Math.round(countOf(part.counts) / MOST_SEARCHED));
  const tried: { dx: number; dy: number; c: number }[] = [];
  for (let dy = -SEARCH; dy <= SEARCH; dy++)
    for (let dx = -SEARCH; dx <= SEARCH; dx++) tried.push({ dx, dy, c: alikeAt(part, dx, dy, skip * ROUGHLY, LEAST_PIXELS / ROUGHLY) });
  tried.sort((p, q) => q.c - p.c);
  let best: { dx: number; dy: number } | null = null;
  let most = -Infinity;
  for (const { dx, dy } of tried.slice(0, TRIED_AGAIN)) {
    const c = alikeAt(part, dx, dy, skip, LEAST_PIXELS);
    if (c > most) [most, best] = [c, { dx, dy }];
  }
  return best;
}

/** The normalised correlation of a shift, by one pixel of so many in a row; −Infinity where fewer than `least` tell, or nothing is seen to differ. */
function alikeAt({ width: w, height: h, a, b, counts }: Part, dx: number, dy: number, skip: number, least: number): number {
  let [n, sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0, 0];
  for (let y = Math.max(0, -dy); y < Math.min(h, h - dy); y++)
    for (let x = Math.max(0, -dx) + ((y * 5) % skip); x < Math.min(w, w - dx); x += skip) {
      const i = y * w + x;
      const j = i + dy * w + dx;
      if (!counts[i] || !counts[j]) continue;
      const u = a[i];
      const v = b[j];
      n++;
      sa += u;
      sb += v;
      saa += u * u;
      sbb += v * v;
      sab += u * v;
    }
  if (n < least) return -Infinity;
  const [va, vb] = [saa - (sa * sa) / n, sbb - (sb * sb) / n];
  return va > 0 && vb > 0 ? (sab - (sa * sb) / n) / Math.sqrt(va * vb) : -Infinity;
}

function countOf(flags: Uint8Array): number {
  let n = 0;
  for (let i = 0; i < flags.length; i++) n += flags[i];
  return n;
}

function refined(part: Part): Apart | null {
  let [dx, dy] = [0, 0];
  let [error, alike] = [Infinity, -1];
  const n = countOf(part.counts);
  const of = () => new Float64Array(n);
  const rows: Rows = { count: 0, gx: of(), gy: of(), a: of(), b: of() };
  // every so many pixels of a row are enough
  const skip = Math.max(1, Math.floor(n / MOST_PIXELS));
  for (let round = 0; round < ROUNDS; round++) {
    gather(rows, part, dx, dy, skip);
    const fit = rows.count < LEAST_PIXELS ? null : solveShift(rows);
    if (!fit) return null;
    dx += fit.dx;
    dy += fit.dy;
    [error, alike] = [fit.error, fit.alike];
    if (Math.hypot(fit.dx, fit.dy) < 0.005) break;
    if (Math.hypot(dx, dy) > 3) return null;
  }
  return { dx, dy, error, alike };
}

/** Pixels that count in both pictures, the second one read (dx, dy) further on. */
function gather(rows: Rows, { width: w, height: h, a, b, counts }: Part, dx: number, dy: number, skip: number): void {
  const [ix, iy] = [Math.floor(dx), Math.floor(dy)];
  const [fx, fy] = [dx - ix, dy - iy];
  const [k00, k10, k01, k11] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
  const at = (k: number) => k00 * b[k] + k10 * b[k + 1] + k01 * b[k + w] + k11 * b[k + w + 1];
  rows.count = 0;
  for (let y = 1; y < h - 1; y++)
    for (let x = 1 + (y % skip); x < w - 1; x += skip) {
      const i = y * w + x;
      if (!counts[i]) continue;
      const bx = x + ix;
      const by = y + iy;
      if (bx < 1 || by < 1 || bx >= w - 2 || by >= h - 2) continue;
      const j = by * w + bx;
      if (!counts[j]) continue;
      const k = rows.count++;
      // the mean of both gradients halves what noise takes from either
      rows.gx[k] = (a[i + 1] - a[i - 1] + at(j + 1) - at(j - 1)) / 4;
      rows.gy[k] = (a[i + w] - a[i - w] + at(j + w) - at(j - w)) / 4;
      rows.a[k] = a[i];
      rows.b[k] = at(j);
    }
}

/** What is finer than `SLOW` pixels: each value less the mean of those that count around it; 0 where it does not count. @param shares how many count there */
function withoutSlow(values: Float32Array, { width, height, counts }: Part, shares: Float64Array): Float32Array {
  const out = new Float32Array(values.length);
  for (let i = 0; i < out.length; i++) if (counts[i]) out[i] = values[i];
  const sums = boxMean(out, width, height, SLOW);
  for (let i = 0; i < out.length; i++) if (counts[i]) out[i] -= sums[i] / shares[i];
  return out;
}

/** One step: a ≈ gain · b + offset + gx · dx + gy · dy, outliers weighed down. */
function solveShift(rows: Rows): Apart | null {
  const { count, gx, gy, a, b } = rows;
  let sigma = Infinity;
  // gain, offset and shift so far, in variables of their own: they are read for every pixel
  let [gain, offset, sx, sy] = [0, 0, 0, 0];
  const every = Math.ceil(count / 2000);
  const some = new Float64Array(Math.ceil(count / every));
  for (let round = 0; round < 3; round++) {
    // sums of products of b, 1, gx and gy, in this order
    let [bb, b1, n1, xb, x1, xx, yb, y1, yx, yy] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
    let [ab, a1, ax, ay] = [0, 0, 0, 0];
    const near = HUBER * sigma;
    for (let k = 0; k < count; k++) {
      const u = a[k];
      const v = b[k];
      const p = gx[k];
      const q = gy[k];
      let w = 1;
      if (round > 0) {
        const r = Math.abs(u - (gain * v + offset + sx * p + sy * q));
        if (r > near) w = near / r;
      }
      const wb = w * v;
      const wx = w * p;
      const wy = w * q;
      bb += wb * v;
      b1 += wb;
      n1 += w;
      xb += wx * v;
      x1 += wx;
      xx += wx * p;
      yb += wy * v;
      y1 += wy;
      yx += wy * p;
      yy += wy * q;
      ab += wb * u;
      a1 += w * u;
      ax += wx * u;
      ay += wy * u;
    }
    const A = Float64Array.of(bb, 0, 0, 0, b1, n1, 0, 0, xb, x1, xx, 0, yb, y1, yx, yy);
    const right = Float64Array.of(ab, a1, ax, ay);
    if (!solve(A, right, 4)) return null;
    [gain, offset, sx, sy] = right;
    for (let i = 0; i < some.length; i++) {
      const k = i * every;
      some[i] = Math.abs(a[k] - (gain * b[k] + offset + sx * gx[k] + sy * gy[k]));
    }
    sigma = Math.max(0.05, 1.4826 * median(some));
  }
  let [n, xx, yy, xy, sa, sb, aa, bb, ab] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let k = 0; k < count; k++) {
    const u = a[k];
    const v = b[k];
    const p = gx[k];
    const q = gy[k];
    if (Math.abs(u - (gain * v + offset + sx * p + sy * q)) > FAR * sigma) continue;
    n++;
    xx += p * p;
    yy += q * q;
    xy += p * q;
    // slow changes were taken off both, so their means are small and sums of products do
    sa += u;
    sb += v;
    aa += u * u;
    bb += v * v;
    ab += u * v;
  }
  const det = xx * yy - xy * xy;
  if (n < LEAST_PIXELS || det <= 0) return null;
  const alike = (ab - (sa * sb) / n) / Math.sqrt(Math.max(1e-9, (aa - (sa * sa) / n) * (bb - (sb * sb) / n)));
  return { dx: sx, dy: sy, error: ALIKE * sigma * Math.sqrt(Math.max(xx, yy) / det), alike };
}
