import { type Frame, type Plane, planeShift } from "../pixels/frame";
import { median } from "../motion/gray";
import { type GrainStatistics, grainOfPlane, LAGS, localInTime, meansAlike, type PlaneGrain } from "./grain";
import { type Block, blocksOf, type FlatBox } from "./grain-blocks";
import { grainOver, type NoiseKey, type RowParts } from "./synthesis";

const SIDE = 2 * LAGS + 1;
/** Planes whose noise is less alike count as not alike. */
const LEAST_LIKE = 0.1;
/** Noise that is more alike counts as this: a little of its own is left, as rounding leaves it. */
const MOST_LIKE = 0.99;
/** Blocks that are enough to tell. */
const ENOUGH = 20;

/** How the planes of some footage lie over each other: subsampling of plane `p`, as powers of two. */
interface Shift {
  sx: number;
  sy: number;
}

/**
 * How alike the noise of plane `p` and that of the first one is, −1 … 1, in the middle of blocks: of noise that R′G′B′ have each for itself
 * colour differences have some against luma, and film and what was graded may have the same in all. The first plane counts by its means over
 * what a sample of the other one spans.
 * @param pairs frames whose noises have nothing to do with each other @param pivots of the light of the first plane and of this one
 */
export function likenessToFirst(
  pairs: readonly (readonly [Frame, Frame])[],
  p: number,
  unit: number,
  [firstPivot, pivot]: readonly [number | null, number | null],
  box?: FlatBox,
): number {
  const { format } = pairs[0][0];
  const shift = planeShift(format, p);
  // sums of samples that would not fit are means
  const more = Math.min(1 << (shift.sx + shift.sy), 2 ** (16 - format.bits));
  const found: number[] = [];
  for (const [a, b] of pairs) {
    const own = blocksOf(a.planes[p], b.planes[p], unit, pivot, box, true);
    const first = blocksOf(
      sums(a.planes[0], a.planes[p], shift, more),
      sums(b.planes[0], b.planes[p], shift, more),
      unit * more,
      firstPivot,
      box,
      true,
    );
    own.forEach((o, i) => {
      const like = likeness(o, first[i]);
      if (like !== null) found.push(like);
    });
  }
  const like = found.length < ENOUGH ? 0 : median(found);
  return Math.abs(like) < LEAST_LIKE ? 0 : Math.max(-MOST_LIKE, Math.min(MOST_LIKE, like));
}

function likeness(a: Block, b: Block): number | null {
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.d.length; i++) {
    ab += a.d[i] * b.d[i];
    aa += a.d[i] * a.d[i];
    bb += b.d[i] * b.d[i];
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : null;
}

/** Means of the first plane over what each sample of a smaller one spans, so many times as large. */
function sums(first: Plane, { width, height }: Plane, { sx, sy }: Shift, more: number): Plane {
  if (!sx && !sy) return first;
  const data = new Uint16Array(width * height);
  const count = 1 << (sx + sy);
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o++) {
      let sum = 0;
      for (let j = 0; j < 1 << sy; j++)
        for (let i = 0; i < 1 << sx; i++)
          sum += first.data[Math.min(first.height - 1, (y << sy) + j) * first.width + Math.min(first.width - 1, (x << sx) + i)];
      data[o] = Math.round((sum * more) / count);
    }
  return { data, width, height };
}

const parts = new WeakMap<PlaneGrain, { of: PlaneGrain; w: number; h: number; spread: number; own: PlaneGrain }>();

/** What a plane's noise has of its own beside what it has of the first one's, and the spread of that one's means. */
function apartFrom(first: PlaneGrain, g: PlaneGrain, like: number, { sx, sy }: Shift): { spread: number; own: PlaneGrain } {
  const [w, h] = [1 << sx, 1 << sy];
  const had = parts.get(g);
  if (had?.of === first && had.w === w && had.h === h) return had;
  const power = Math.max(1e-6, meansAlike(first, w, h));
  const covariance = g.covariance.map((v, i) => {
    const shared = meansAlike(first, w, h, (i % SIDE) - LAGS, Math.floor(i / SIDE) - LAGS) / power;
    return (v - like * like * shared) / (1 - like * like);
  });
  const made = { of: first, w, h, spread: Math.sqrt(power), own: { sigma: g.sigma, covariance } };
  parts.set(g, made);
  return made;
}

/** A plane that noise is made for: which it is, how large, and how it lies over the first. */
export interface NoisePlane {
  p: number;
  width: number;
  height: number;
  shift: Shift;
}

/**
 * Noise of mean 0 and variance 1 as `grainOver` has it, of a colour plane as alike to that of the first plane as it was found to be: of two
 * noises, the means of the first plane's and one of its own, whose covariance makes good what is then missing.
 * @param alpha the rectangle of the plane that it is wanted for @param rows which of its rows' parts
 */
export function planeGrainOver(
  g: GrainStatistics,
  { p, width, height, shift }: NoisePlane,
  key: NoiseKey,
  alpha: Parameters<typeof grainOver>[3],
  plain: boolean,
  rows: RowParts,
): Float64Array {
  const { inTime, held } = g;
  const of = grainOfPlane(g, p);
  const like = p > 0 ? (of.likeFirst ?? 0) : 0;
  const time = { inTime, held, at: localInTime(of, width, height) };
  if (!like) return grainOver(of, time, key, alpha, plain, rows);
  const [first] = g.planes;
  const { spread, own } = apartFrom(first, of, like, shift);
  const out = grainOver(own, time, key, alpha, plain, rows);
  const { sx, sy } = shift;
  const rect = { x0: alpha.x0 << sx, y0: alpha.y0 << sy, x1: alpha.x1 << sx, y1: alpha.y1 << sy };
  const below = grainOver(first, { inTime, held, at: localInTime(first, width << sx, height << sy) }, { ...key, plane: 0 }, rect, plain);
  const [w, stride] = [alpha.x1 - alpha.x0, rect.x1 - rect.x0];
  const [a, b] = [like / (plain ? Math.sqrt(1 / (1 << (sx + sy))) : spread) / (1 << (sx + sy)), Math.sqrt(1 - like * like)];
  for (let y = 0; y < rows.from.length; y++)
    for (let x = rows.from[y], o = y * w + x; x < rows.to[y]; x++, o++) {
      let sum = 0;
      for (let j = 0; j < 1 << sy; j++) for (let i = 0; i < 1 << sx; i++) sum += below[((y << sy) + j) * stride + (x << sx) + i];
      out[o] = a * sum + b * out[o];
    }
  return out;
}
