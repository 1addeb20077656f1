import { isEmpty, type Rect } from "../pixels/frame";
import { type GrainStatistics, kernelOf, LAGS, type PlaneGrain } from "./grain";

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

/** White noise of mean 0 and variance 1 over a rectangle, by the place of each sample alone. */
function white(key: NoiseKey, n: number, rect: Rect): Float64Array {
  const base = numberOf(key, n);
  const w = rect.x1 - rect.x0;
  const out = new Float64Array(w * (rect.y1 - rect.y0));
  for (let y = rect.y0, i = 0; y < rect.y1; y++) {
    const row = mixed(base ^ Math.imul(y, 0x27d4eb2f));
    for (let x = rect.x0; x < rect.x1; x++, i++) out[i] = DEVIATES[mixed(row ^ Math.imul(x, 0x165667b1)) >>> (32 - BITS)];
  }
  return out;
}

/** Frames in which noise that is carried on becomes another one. */
const EPOCH = 24;

/** Noise that changes slowly: one field turns into the next, its variance always 1. */
function slow(key: NoiseKey, rect: Rect): Float64Array {
  const epoch = Math.floor(key.n / EPOCH);
  const angle = (((key.n - epoch * EPOCH) / EPOCH) * Math.PI) / 2;
  const own = { ...key, layer: `${key.layer}/held` };
  const [a, b] = [white(own, epoch, rect), white(own, epoch + 1, rect)];
  for (let i = 0; i < a.length; i++) a[i] = Math.cos(angle) * a[i] + Math.sin(angle) * b[i];
  return a;
}

/**
 * Noise of mean 0 and variance 1 with the covariance of some grain, over a rectangle of a plane: white noise by counters through a kernel
 * (cf. Norkin & Birkbeck 2018, "Film grain synthesis for AV1"), over eight frames where it holds on in time; a share of it lasts longer, as
 * an encoder carries it on. A sample's noise depends on its place, frame, layer and seed alone, never on what else is composed.
 * @param time likeness from frame to frame, and after some, 0 … 1 @param plain without the kernel, for pictures that are averages already
 */
export function grainOver(grain: PlaneGrain, time: Pick<GrainStatistics, "inTime" | "held">, key: NoiseKey, rect: Rect, plain = false): Float64Array {
  if (isEmpty(rect)) return new Float64Array(0);
  const kernel = kernelFor(grain);
  const flat = plain || kernel[LAGS * SIDE + LAGS] ** 2 > WHITE;
  const pad = flat ? 0 : LAGS;
  const wide = { x0: rect.x0 - pad, y0: rect.y0 - pad, x1: rect.x1 + pad, y1: rect.y1 + pad };
  const field = white(key, key.n, wide);
  const held = (time.held ?? 0) > NEW ? Math.min(time.held!, 0.95) : 0;
  // what of the likeness of neighbours is not carried on for longer
  const inTime = Math.max(0, (time.inTime - held) / (1 - held));
  if (inTime > NEW) {
    let energy = 1;
    for (let k = 1; k < TAPS; k++) {
      const share = inTime ** k;
      energy += share * share;
      const before = white(key, key.n - k, wide);
      for (let i = 0; i < field.length; i++) field[i] += share * before[i];
    }
    const scale = 1 / Math.sqrt(energy);
    for (let i = 0; i < field.length; i++) field[i] *= scale;
  }
  if (held) {
    const lasting = slow(key, wide);
    const [a, b] = [Math.sqrt(1 - held), Math.sqrt(held)];
    for (let i = 0; i < field.length; i++) field[i] = a * field[i] + b * lasting[i];
  }
  return flat ? field : filtered(field, wide.x1 - wide.x0, rect, kernel);
}

const kernels = new WeakMap<PlaneGrain, Float64Array>();
function kernelFor(g: PlaneGrain): Float64Array {
  let k = kernels.get(g);
  if (!k) kernels.set(g, (k = kernelOf(g)));
  return k;
}

function filtered(field: Float64Array, stride: number, rect: Rect, kernel: Float64Array): Float64Array {
  const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
  const out = new Float64Array(w * h);
  for (let dy = 0; dy < SIDE; dy++)
    for (let dx = 0; dx < SIDE; dx++) {
      const k = kernel[dy * SIDE + dx];
      if (Math.abs(k) < 1e-4) continue;
      for (let y = 0; y < h; y++) {
        const from = (y + dy) * stride + dx;
        const to = y * w;
        for (let x = 0; x < w; x++) out[to + x] += k * field[from + x];
      }
    }
  return out;
}
