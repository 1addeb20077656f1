import { isEmpty, type Rect } from "../pixels/frame";
import { type GrainStatistics, kernelOf, LAGS, LIKEST, likenessBeside, type PlaneGrain } from "./grain";

const SIDE = 2 * LAGS + 1;
/** Frames that have a say in the noise of one, where it holds on in time. */
const TAPS = 8;
/** Likeness below which noise counts as new in every frame. */
const NEW = 0.04;
/** A kernel whose middle holds so much of the energy is none. */
const WHITE = 0.998;

/** Bits of the table of normal deviates. */
const BITS = 12;

/** Equally likely normal deviates, of mean 0 and variance 1: the quantiles of the normal distribution (Acklam's rational approximation, from memory; relative error 1e-9). */
const DEVIATES = (() => {
  const n = 1 << BITS;
  const t = Float64Array.from({ length: n }, (_, i) => quantile((i + 0.5) / n));
  const power = Math.sqrt(t.reduce((s, v) => s + v * v, 0) / n);
  return t.map((v) => v / power);
})();

function quantile(p: number): number {
  if (p > 0.5) return -quantile(1 - p);
  if (p < 0.02425) {
    const q = Math.sqrt(-2 * Math.log(p));
    return (
      (((((-7.784894002430293e-3 * q - 0.3223964580411365) * q - 2.400758277161838) * q - 2.549732539343734) * q + 4.374664141464968) * q +
        2.938163982698783) /
      ((((7.784695709041462e-3 * q + 0.3224671290700398) * q + 2.445134137142996) * q + 3.754408661907416) * q + 1)
    );
  }
  const q = p - 0.5;
  const r = q * q;
  return (
    ((((((-39.69683028665376 * r + 220.9460984245205) * r - 275.9285104469687) * r + 138.357751867269) * r - 30.66479806614716) * r +
      2.506628277459239) *
      q) /
    (((((-54.47609879822406 * r + 161.5858368580409) * r - 155.6989798598866) * r + 66.80131188771972) * r - 13.28068155288572) * r + 1)
  );
}

/** A whole number from a whole number, every bit from every bit (the finaliser of C. Wellons' hash prospector, from memory). */
function mixed(v: number): number {
  let h = v | 0;
  h ^= h >>> 16;
  h = Math.imul(h, 0x7feb352d);
  h ^= h >>> 15;
  h = Math.imul(h, 0x846ca68b);
  return (h ^ (h >>> 16)) >>> 0;
}

/** What tells one noise from another: the same for the same sample, whatever else is composed. */
export interface NoiseKey {
  seed: number;
  layer: string;
  plane: number;
  n: number;
}

/** The number that frame `n`'s noise is made from. */
export function numberOf({ seed, layer, plane }: NoiseKey, n: number): number {
  let h = mixed(seed ^ 0x5bd1e995);
  for (let i = 0; i < layer.length; i++) h = mixed(h ^ layer.charCodeAt(i));
  return mixed(mixed(h ^ Math.imul(plane + 1, 0x9e3779b1)) ^ Math.imul(n + 1, 0x85ebca77));
}

/** Of each row of a rectangle the part that is asked for, counted from its left side: the first sample and the one behind the last. */
export interface RowParts {
  from: Int32Array;
  to: Int32Array;
}

const wholeRows = ({ x0, y0, x1, y1 }: Rect): RowParts => ({
  from: new Int32Array(y1 - y0),
  to: new Int32Array(y1 - y0).fill(x1 - x0),
});

/** What of a rectangle that is wider by `pad` all round has a say in parts of it. */
function widened({ from, to }: RowParts, pad: number): RowParts {
  const out = { from: new Int32Array(from.length + 2 * pad), to: new Int32Array(from.length + 2 * pad) };
  for (let y = 0; y < out.from.length; y++) {
    let [first, last] = [Infinity, -Infinity];
    for (let j = Math.max(0, y - 2 * pad); j <= Math.min(from.length - 1, y); j++)
      if (to[j] > from[j]) [first, last] = [Math.min(first, from[j]), Math.max(last, to[j] + 2 * pad)];
    if (last > first) [out.from[y], out.to[y]] = [first, last];
  }
  return out;
}

/** White noise of mean 0 and variance 1 over a rectangle, by the place of each sample alone, added with a weight. */
function addWhite(field: Float64Array, weight: number, key: NoiseKey, n: number, rect: Rect, { from, to }: RowParts): void {
  const base = numberOf(key, n);
  const w = rect.x1 - rect.x0;
  for (let y = rect.y0; y < rect.y1; y++) {
    const row = mixed(base ^ Math.imul(y, 0x27d4eb2f));
    const at = (y - rect.y0) * w;
    for (let i = from[y - rect.y0], end = to[y - rect.y0]; i < end; i++)
      field[at + i] += weight * DEVIATES[mixed(row ^ Math.imul(rect.x0 + i, 0x165667b1)) >>> (32 - BITS)];
  }
}

/** Frames in which noise that is carried on becomes another one. */
const EPOCH = 24;

/** How alike the noise of frames is. */
export interface NoiseTime extends Pick<GrainStatistics, "inTime" | "held"> {
  /** From frame to frame by the sample, 0 … 1. */
  at?: ((x: number, y: number) => number) | null;
}

/** Noise of variance 1 that is carried on: one field turns into the next within an epoch. */
function addLasting(field: Float64Array, key: NoiseKey, rect: Rect, rows: RowParts): void {
  const epoch = Math.floor(key.n / EPOCH);
  const angle = (((key.n - epoch * EPOCH) / EPOCH) * Math.PI) / 2;
  const own = { ...key, layer: `${key.layer}/held` };
  addWhite(field, Math.cos(angle), own, epoch, rect, rows);
  addWhite(field, Math.sin(angle), own, epoch + 1, rect, rows);
}

/** Noise of variance 1 of which each frame's goes on in the next ones, less and less. @param like from frame to frame, 0 … 1 */
function addFading(field: Float64Array, like: number, key: NoiseKey, rect: Rect, rows: RowParts): void {
  const taps = like > NEW ? TAPS : 1;
  let energy = 0;
  for (let k = 0; k < taps; k++) energy += like ** (2 * k);
  for (let k = 0; k < taps; k++) addWhite(field, like ** k / Math.sqrt(energy), key, key.n - k, rect, rows);
}

/** Of two noises of variance 1 one of variance 1, in place: of the variance `share` is the second's, by the sample. */
function mix(field: Float64Array, lasting: Float64Array, width: number, { from, to }: RowParts, share: ArrayLike<number>): void {
  for (let y = 0; y < from.length; y++)
    for (let at = y * width + from[y], end = y * width + to[y]; at < end; at++)
      field[at] = Math.sqrt(1 - share[at]) * field[at] + Math.sqrt(share[at]) * lasting[at];
}

/** How alike neighbours are of noise that fades by so much from tap to tap, of as many taps as there are: up to 7/8 for a mere mean. */
const alikeBy = (fades: number): number => (fades < 1 ? (fades * (1 - fades ** (2 * (TAPS - 1)))) / (1 - fades ** (2 * TAPS)) : (TAPS - 1) / TAPS);
const MOST_FADING = alikeBy(1);

/** The same turned about: by how much noise has to fade from tap to tap for neighbours to be so alike, in steps of the most that is reached. */
const STEPS = 256;
const FADES = (() => {
  const out = new Float64Array(STEPS + 1);
  for (let i = 0, fades = 0; i <= STEPS; i++) {
    while (fades < 1 && alikeBy(fades) < (i * MOST_FADING) / STEPS) fades += 1 / 4096;
    out[i] = Math.min(1, fades);
  }
  return out;
})();

/**
 * Noise that is as alike from frame to frame as its place asks: of that likeness as large a part is carried on as in the whole take, the rest
 * fades from frame to frame.
 */
function addPlaced(field: Float64Array, time: NoiseTime, at: (x: number, y: number) => number, key: NoiseKey, rect: Rect, rows: RowParts): void {
  const w = rect.x1 - rect.x0;
  const held = time.inTime > NEW ? Math.min(1, (time.held ?? 0) / time.inTime) : 1;
  const [fades, share] = [new Float64Array(field.length), new Float64Array(field.length)];
  let [most, lasts] = [0, 0];
  for (let y = 0; y < rows.from.length; y++)
    for (let i = rows.from[y], o = y * w + i; i < rows.to[y]; i++, o++) {
      const like = Math.min(LIKEST, at(rect.x0 + i, rect.y0 + y));
      const carried = Math.max(held * like, likenessBeside(like, MOST_FADING));
      share[o] = carried;
      fades[o] = FADES[Math.min(STEPS, Math.round((likenessBeside(like, carried) * STEPS) / MOST_FADING))];
      most = Math.max(most, fades[o]);
      lasts = Math.max(lasts, carried);
    }
  if (most <= NEW) addWhite(field, 1, key, key.n, rect, rows);
  else {
    for (let k = TAPS - 1; k >= 0; k--) {
      for (let o = 0; o < field.length; o++) field[o] *= fades[o];
      addWhite(field, 1, key, key.n - k, rect, rows);
    }
    for (let o = 0; o < field.length; o++)
      field[o] *= fades[o] < 1 ? Math.sqrt((1 - fades[o] ** 2) / (1 - fades[o] ** (2 * TAPS))) : Math.sqrt(1 / TAPS);
  }
  if (lasts <= NEW) return;
  const lasting = new Float64Array(field.length);
  addLasting(lasting, key, rect, rows);
  mix(field, lasting, w, rows, share);
}

/**
 * Noise of mean 0 and variance 1 with the covariance of some grain, over a rectangle of a plane: white noise by counters through a kernel
 * (cf. Norkin & Birkbeck 2018, "Film grain synthesis for AV1"), over eight frames where it holds on in time; a share of it lasts longer, as
 * an encoder carries it on: there one field turns into the next within an epoch, its variance always 1. A sample's noise depends on its
 * place, frame, layer and seed alone, never on what else is composed.
 * @param time likeness from frame to frame, and after some, 0 … 1; by its place where that was told
 * @param plain without the kernel, for pictures that are averages already
 * @param parts of the rectangle's rows that are needed; elsewhere it is 0
 */
export function grainOver(grain: PlaneGrain, time: NoiseTime, key: NoiseKey, rect: Rect, plain = false, parts = wholeRows(rect)): Float64Array {
  if (isEmpty(rect)) return new Float64Array(0);
  const kernel = kernelFor(grain);
  const flat = plain || kernel[LAGS * SIDE + LAGS] ** 2 > WHITE;
  const pad = flat ? 0 : LAGS;
  const wide = { x0: rect.x0 - pad, y0: rect.y0 - pad, x1: rect.x1 + pad, y1: rect.y1 + pad };
  const rows = flat ? parts : widened(parts, pad);
  const field = new Float64Array((wide.x1 - wide.x0) * (wide.y1 - wide.y0));
  if (time.at) addPlaced(field, time, time.at, key, wide, rows);
  else {
    const held = (time.held ?? 0) > NEW ? Math.min(time.held!, LIKEST) : 0;
    // what of the likeness of neighbours is not carried on for longer
    addFading(field, likenessBeside(time.inTime, held), key, wide, rows);
    if (held) {
      const lasting = new Float64Array(field.length);
      addLasting(lasting, key, wide, rows);
      mix(field, lasting, wide.x1 - wide.x0, rows, new Float64Array(field.length).fill(held));
    }
  }
  return flat ? field : filtered(field, wide.x1 - wide.x0, rect, kernel, parts);
}

const kernels = new WeakMap<PlaneGrain, Float64Array>();
function kernelFor(g: PlaneGrain): Float64Array {
  let k = kernels.get(g);
  if (!k) kernels.set(g, (k = kernelOf(g)));
  return k;
}

/** Nine taps of a row at a time: a sample's sum is read and written once for a row of the kernel, not once for a tap. */
function filtered(field: Float64Array, stride: number, rect: Rect, kernel: Float64Array, parts: RowParts): Float64Array {
  const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
  const out = new Float64Array(w * h);
  const taps = kernel.map((k) => (Math.abs(k) < 1e-4 ? 0 : k));
  for (let dy = 0; dy < SIDE; dy++) {
    const [a, b, c, d, e, f, g, i, j] = taps.subarray(dy * SIDE, (dy + 1) * SIDE);
    for (let y = 0; y < h; y++) {
      let at = (y + dy) * stride + parts.from[y];
      for (let to = y * w + parts.from[y], end = y * w + parts.to[y]; to < end; to++, at++)
        out[to] +=
          a * field[at] +
          b * field[at + 1] +
          c * field[at + 2] +
          d * field[at + 3] +
          e * field[at + 4] +
          f * field[at + 5] +
          g * field[at + 6] +
          i * field[at + 7] +
          j * field[at + 8];
    }
  }
  return out;
}
