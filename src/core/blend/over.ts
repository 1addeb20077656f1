import { copyFrame, type Frame, type Plane } from "../pixels/frame";
import { type MovedPlane, toCode } from "../pixels/resample";
import { within } from "../pixels/within";
import type { PlaneAlpha } from "../shape/chroma";
import { tileColumn, type TiledNoise, tileRow } from "./tiled-noise";

const FULL = 65535;
const SHARE = 1 / FULL;

/** α·opacity as whole steps of 1/65535, and for each row where it shows (`from` … `to`) and the run of it that is full (`solid` … `end`). */
interface Steps {
  opacity: number;
  a: Uint16Array;
  rows: Int32Array;
}

/** A still α is asked for at every frame of a render; its steps are worked out once. */
const kept = new WeakMap<PlaneAlpha, Steps>();

function stepsOf(alpha: PlaneAlpha, opacity: number): Steps {
  const hit = kept.get(alpha);
  if (hit?.opacity === opacity) return hit;
  const w = alpha.x1 - alpha.x0;
  const h = alpha.y1 - alpha.y0;
  const a = new Uint16Array(w * h);
  const rows = new Int32Array(4 * h);
  const k = FULL * opacity;
  for (let i = 0; i < a.length; i++) a[i] = alpha.data[i] * k + 0.5;
  for (let y = 0; y < h; y++) {
    const at = y * w;
    let from = 0;
    let to = w;
    while (from < w && a[at + from] === 0) from++;
    while (to > from && a[at + to - 1] === 0) to--;
    let solid = from;
    while (solid < to && a[at + solid] !== FULL) solid++;
    let end = solid;
    while (end < to && a[at + end] === FULL) end++;
    rows.set([from, solid, end, to], 4 * y);
  }
  const steps = { opacity, a, rows };
  kept.set(alpha, steps);
  return steps;
}

/** Of each row of α's rectangle the part that shows, counted from its left side: the first sample and the one behind the last. */
export function shownRows(alpha: PlaneAlpha, opacity: number): { from: Int32Array; to: Int32Array } {
  const { rows } = stepsOf(alpha, opacity);
  const every = (k: number) => Int32Array.from({ length: alpha.y1 - alpha.y0 }, (_, y) => rows[4 * y + k]);
  return { from: every(0), to: every(3) };
}

/**
 * Lays a source over `below`, in place, within α's rectangle (Porter & Duff 1984, *over*, on code values):
 * a = round(65535·α·opacity); out = floor((src·a + below·(65535 − a) + 32767) / 65535).
 * Samples with a = 0 are not written; a = 65535 copies.
 */
export function layOver(below: Plane, source: MovedPlane, alpha: PlaneAlpha, opacity: number): void {
  const { a, rows } = stepsOf(alpha, opacity);
  const w = alpha.x1 - alpha.x0;
  const { data, whole } = source;
  const out = below.data;
  for (let y = alpha.y0; y < alpha.y1; y++) {
    const r = 4 * (y - alpha.y0);
    if (rows[r] === rows[r + 3]) continue;
    const row = y * below.width;
    const at = (y - alpha.y0) * w - alpha.x0;
    // where the shift is by whole samples and the row lies inside the source, its samples are read directly
    const inside = whole && whole.y + y >= 0 && whole.y + y < source.height;
    const line = inside ? (whole.y + y) * source.width + whole.x : 0;
    const first = inside ? -whole.x : Infinity;
    const last = inside ? source.width - whole.x : -Infinity;
    const mix = (x0: number, x1: number) => {
      if (x0 >= first && x1 <= last) mixRow(out, row, data, line, a, at, x0, x1);
      else for (let x = x0; x < x1; x++) out[row + x] = mixed(x >= first && x < last ? data[line + x] : source.read(x, y), out[row + x], a[at + x]);
    };
    const [from, solid, end, to] = [rows[r], rows[r + 1], rows[r + 2], rows[r + 3]].map((x) => x + alpha.x0);
    mix(from, solid);
    if (solid >= first && end <= last) out.set(data.subarray(line + solid, line + end), row + solid);
    else mix(solid, end);
    mix(end, to);
  }
}

/** Noise that is laid with a picture: `unit` has mean 0 and variance 1 at each sample. */
export interface LaidNoise {
  unit: (x: number, y: number) => number;
  /** Variance that noise has to have at a sample whose value is `value`, squared codes. */
  wanted: (value: number, x: number, y: number) => number;
  /** Variance of the noise the source has left itself, squared codes. */
  left: (x: number, y: number) => number;
}

/**
 * Lays values between codes over `below`, in place, and rounds once: out = round(clip(a·P + (1 − a)·below + g)), a as in `layOver`. With
 * `noise`, g = unit·√max(0, σ² − (1 − a)²σ² − a²σ_s²): what is missing of the noise σ once that of the picture below and that of the
 * source, which are independent, are mixed by a. Samples with a = 0 are not written.
 * @param value P at a sample of the plane, in codes @param top the largest code @param off what is taken off the picture below, where it is laid over
 */
export function layUnrounded(
  below: Plane,
  value: (x: number, y: number) => number,
  alpha: PlaneAlpha,
  opacity: number,
  top: number,
  noise?: LaidNoise,
  off?: (x: number, y: number) => number,
): void {
  const { a: steps, rows } = stepsOf(alpha, opacity);
  const w = alpha.x1 - alpha.x0;
  const missing = noise && missingOf(noise);
  for (let y = alpha.y0; y < alpha.y1; y++) {
    const r = 4 * (y - alpha.y0);
    for (let x = alpha.x0 + rows[r], to = alpha.x0 + rows[r + 3]; x < to; x++) {
      const step = steps[(y - alpha.y0) * w + x - alpha.x0];
      if (step === 0) continue;
      const a = step / FULL;
      const at = y * below.width + x;
      const p = value(x, y);
      let v = a * p + (1 - a) * (off ? below.data[at] - off(x, y) : below.data[at]);
      if (missing) v += noise!.unit(x, y) * missing(v, a, x, y);
      below.data[at] = toCode(v, top);
    }
  }
}

/** Standard deviation of the noise that is missing at a sample. */
const missingOf = (noise: Pick<LaidNoise, "wanted" | "left">) => (v: number, a: number, x: number, y: number) => {
  const wanted = noise.wanted(v, x, y);
  return Math.sqrt(Math.max(0, wanted - (1 - a) ** 2 * wanted - a * a * noise.left(x, y)));
};

/** Side of the squares in which light and noise count as alike in quick pictures, as a power of two. */
const ALIKE = 2;

/** A picture in quick pictures: whole samples of a plane, and what its light is multiplied by and offset by about a pivot. */
export interface QuickSource {
  data: ArrayLike<number>;
  width: number;
  height: number;
  /** Sample (x, y) of the picture it is laid over is its own (x + dx, y + dy); beyond its border as at it. */
  dx: number;
  dy: number;
  /** A code becomes gain·code + offset, by the sample. */
  light: (x: number, y: number) => readonly [gain: number, offset: number];
}

/**
 * `layUnrounded` for pictures that need not be exact: light and the noise that is missing are those of the first sample of squares of 4 × 4.
 * @param noise with the noise of variance 1 that is laid, and how strongly
 */
export function layInSquares(
  below: Plane,
  source: QuickSource,
  alpha: PlaneAlpha,
  opacity: number,
  top: number,
  noise?: Omit<LaidNoise, "unit"> & { quick: TiledNoise; strength: number },
): void {
  const { a: steps, rows } = stepsOf(alpha, opacity);
  const { x0, x1, y0, y1 } = alpha;
  const { data, width, height, dx, dy } = source;
  const missing = noise && missingOf(noise);
  const first = x0 >> ALIKE;
  const squares = (x1 >> ALIKE) - first + 1;
  const of = new Int32Array(squares).fill(-1);
  const [gains, offsets, sigmas] = [new Float64Array(squares), new Float64Array(squares), new Float64Array(squares)];
  const out = below.data;
  const quick = noise?.quick;
  const tile = quick?.tile;
  for (let y = y0; y < y1; y++) {
    const r = 4 * (y - y0);
    const at = y * below.width;
    const line = Math.min(height - 1, Math.max(0, y + dy)) * width;
    const row = (y - y0) * (x1 - x0) - x0;
    const noisy = quick ? tileRow(quick, y) : 0;
    for (let x = x0 + rows[r], to = x0 + rows[r + 3]; x < to;) {
      const i = (x >> ALIKE) - first;
      const end = Math.min(to, ((x >> ALIKE) + 1) << ALIKE);
      if (of[i] !== y >> ALIKE) {
        of[i] = y >> ALIKE;
        const light = source.light(x, y);
        gains[i] = light[0];
        offsets[i] = light[1];
        if (missing) sigmas[i] = noise!.strength * missing(gains[i] * data[line + within(x + dx, width)] + offsets[i], steps[row + x] / FULL, x, y);
      }
      const gain = gains[i];
      const offset = offsets[i];
      const sigma = sigmas[i];
      for (; x < end; x++) {
        const step = steps[row + x];
        if (step === 0) continue;
        let v = gain * data[line + within(x + dx, width)] + offset;
        if (step !== FULL) v = step * SHARE * v + (1 - step * SHARE) * out[at + x];
        if (tile) v += sigma * tile[noisy + tileColumn(quick!, x)];
        out[at + x] = v < 0 ? 0 : v > top ? top : v + 0.5;
      }
    }
  }
}

function mixRow(out: Plane["data"], row: number, data: Plane["data"], line: number, a: Uint16Array, at: number, x0: number, x1: number): void {
  for (let x = x0; x < x1; x++) out[row + x] = mixed(data[line + x], out[row + x], a[at + x]);
}

/** `above` over `below` with one α for the whole picture, by the same rule. */
export function dissolved(below: Frame, above: Frame, share: number): Frame {
  const a = Math.floor(FULL * share + 0.5);
  const out = copyFrame(below);
  out.planes.forEach(({ data }, p) => {
    const over = above.planes[p].data;
    for (let i = 0; i < data.length; i++) data[i] = mixed(over[i], data[i], a);
  });
  return out;
}

/** At a = 0 this gives `below`, at a = 65535 `src`. */
const mixed = (src: number, below: number, a: number) => Math.floor((src * a + below * (FULL - a) + 32767) / FULL);
