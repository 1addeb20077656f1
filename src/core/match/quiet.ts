import { type Frame, type Plane, type Rect, sameFormat } from "../pixels/frame";
import { within } from "../pixels/within";
import { boxMean } from "./box-mean";
import { averaged, grainOfPlane, type GrainStatistics } from "./grain";
import { STEADY_REACH, steadyPart, type SteadyViews, steadyViews } from "./steady";

/** Samples on either side over which a mean is taken. */
const RADIUS = 4;
/** What differs by less than so many times the noise's variance is taken for noise. */
const EPSILON = 2;

/** Energy of the weights of a mean of means over squares, both ways: Σ of the squares of a triangle of side d, (2d² + 1)/(3d³), squared. */
const EVEN = (() => {
  const d = 2 * RADIUS + 1;
  return ((2 * d * d + 1) / (3 * d ** 3)) ** 2;
})();

/** A plane with its noise, and what share of its variance is there. */
interface Noisy {
  width: number;
  height: number;
  data: ArrayLike<number>;
  share?: Float32Array;
}

/** A plane whose noise was taken out, between codes, and how much of it is left. */
export interface QuietPlane {
  width: number;
  height: number;
  data: Float32Array;
  /** Variance of the noise that is left over that which was there, 0 … 1, a sample each. */
  left: Float32Array;
}

/**
 * A plane with its noise taken out and its edges kept: the guided filter, guided by the plane itself (He, Sun & Tang 2013), ε twice the
 * variance of the noise at the local level. Where the picture has structure both stay, and `left` says how much:
 * of weights ā on the sample and the rest on a mean of means, ā² + (1 − ā²)·E, E the energy of such a mean.
 * @param sigma of the noise by the value and its place, codes of the plane, of which `share` of the variance is there
 */
export function quietPlane({ width, height, data, share }: Noisy, sigma: (value: number, x: number, y: number) => number): QuietPlane {
  const n = width * height;
  const mean = boxMean(data, width, height, RADIUS);
  const squares = new Float64Array(n);
  for (let i = 0; i < n; i++) squares[i] = data[i] * data[i];
  const a = boxMean(squares, width, height, RADIUS);
  const b = squares; // its room
  for (let i = 0; i < n; i++) {
    const variance = Math.max(0, a[i] - mean[i] * mean[i]);
    const noise = sigma(mean[i], i % width, (i / width) | 0) ** 2 * (share ? share[i] : 1);
    // what noise makes of the variance by itself is no structure
    const structure = Math.max(0, variance - noise);
    a[i] = noise > 0 ? structure / (structure + EPSILON * noise) : 1;
    b[i] = (1 - a[i]) * mean[i];
  }
  const [am, bm] = [boxMean(a, width, height, RADIUS), boxMean(b, width, height, RADIUS)];
  const out = { width, height, data: new Float32Array(n), left: new Float32Array(n) };
  for (let i = 0; i < n; i++) {
    out.data[i] = am[i] * data[i] + bm[i];
    out.left[i] = (am[i] * am[i] + (1 - am[i] * am[i]) * EVEN) * (share ? share[i] : 1);
  }
  return out;
}

/** What quieting a picture goes by. */
export interface QuietAsk {
  grain: GrainStatistics;
  /** Other frames of the same view, which are averaged with it where they show the same. */
  others: readonly Frame[];
  /** How alike the noise of those frames and its own is, on the average of pairs, 0 … 1: so much of it no mean takes out. */
  alike?: number;
  /** Codes per code of 8 bits. */
  unit: number;
  /** Means of so many samples each way are its samples. */
  across: number;
  /** Whether its codes run from 0. */
  full: boolean;
  /** For pictures that need not be exact: in smaller squares, so that none takes long. */
  quickly?: boolean;
}

/** Side of the squares in which a picture is quieted, as a power of two: fixed ones, so that what comes of a sample hangs on nothing that is asked besides. */
const SQUARE = 8;
/** The same for pictures that need not be exact. */
const QUICK_SQUARE = 6;
/** How far around a square its samples have a say. */
const APRON = 2 * RADIUS + STEADY_REACH;

/** A plane of a picture without its noise, worked out where it is asked for. */
export interface QuietPicture extends QuietPlane {
  /** Where a sample of the plane stands in `data` and `left`; after this it is there. */
  index: (x: number, y: number) => number;
  /**
   * Sees to it that all samples of a rectangle are there, for pictures that need not be exact: so many squares of them are worked out, the
   * others show the picture as it is until it is their turn. Of a rectangle that reaches beyond the plane, those of its border too.
   * @returns how many squares were not needed
   */
  workOut: (rect: Rect, squares: number) => number;
}

const kept = new WeakMap<Frame, Map<GrainStatistics, { planes: (QuietPicture | undefined)[]; others: number }>>();

/** Plane `p` of a picture without its noise; worked out once for a picture and a profile. */
export function quietPicture(frame: Frame, p: number, ask: QuietAsk): QuietPicture {
  let of = kept.get(frame);
  if (!of) kept.set(frame, (of = new Map()));
  let have = of.get(ask.grain);
  if (have?.others !== ask.others.length) of.set(ask.grain, (have = { planes: [], others: ask.others.length }));
  return (have.planes[p] ??= tiled(frame, p, ask));
}

function tiled(frame: Frame, p: number, { grain, others, alike: noiseAlike, unit, across, full, quickly }: QuietAsk): QuietPicture {
  const bits = quickly ? QUICK_SQUARE : SQUARE;
  const alike = others.filter((o) => o.width === frame.width && o.height === frame.height && sameFormat(o.format, frame.format));
  const views = steadyViews(frame, alike, p, grain, { unit, across, full, alike: noiseAlike });
  const share = across > 1 ? averaged(grainOfPlane(grain, p), across) : 1;
  const { width, height } = views;
  const columns = ((width - 1) >> bits) + 1;
  const count = columns * (((height - 1) >> bits) + 1);
  const [done, asItIs] = [new Uint8Array(count), new Uint8Array(count)];
  const out = { width, height, data: new Float32Array(width * height), left: new Float32Array(width * height) };
  const square = (k: number): Rect => {
    const [x0, y0] = [(k % columns) << bits, Math.floor(k / columns) << bits];
    return { x0, y0, x1: Math.min(width, x0 + (1 << bits)), y1: Math.min(height, y0 + (1 << bits)) };
  };
  const quieten = (k: number) => {
    done[k] = 1;
    quietSquare(out, square(k), views, (v, u, w) => share * views.sigma(v, u, w));
  };
  const index = (x: number, y: number): number => {
    const k = (y >> bits) * columns + (x >> bits);
    if (done[k] === 0) quieten(k);
    return y * width + x;
  };
  const workOut = ({ x0, y0, x1, y1 }: Rect, squares: number): number => {
    let left = squares;
    for (let y = within(y0, height) >> bits, below = within(y1 - 1, height) >> bits; y <= below; y++)
      for (let k = y * columns + (within(x0, width) >> bits), last = y * columns + (within(x1 - 1, width) >> bits); k <= last; k++) {
        if (done[k]) continue;
        if (left > 0) {
          left--;
          quieten(k);
        } else if (!asItIs[k]) {
          asItIs[k] = 1;
          showAsItIs(out, square(k), frame.planes[p]);
        }
      }
    return left;
  };
  return { ...out, index, workOut };
}

/** A square with all its noise. */
function showAsItIs({ width, data, left }: QuietPlane, { x0, y0, x1, y1 }: Rect, { data: own }: Plane): void {
  for (let y = y0; y < y1; y++) {
    data.set(own.subarray(y * width + x0, y * width + x1), y * width + x0);
    left.fill(1, y * width + x0, y * width + x1);
  }
}

function quietSquare({ width, height, data, left }: QuietPlane, square: Rect, views: SteadyViews, sigma: SteadyViews["sigma"]): void {
  const { x0, y0, x1, y1 } = square;
  const wide = { x0: Math.max(0, x0 - APRON), y0: Math.max(0, y0 - APRON), x1: Math.min(width, x1 + APRON), y1: Math.min(height, y1 + APRON) };
  const quiet = quietPlane(steadyPart(views, wide), (v, x, y) => sigma(v, wide.x0 + x, wide.y0 + y));
  for (let y = y0; y < y1; y++) {
    const at = (y - wide.y0) * quiet.width - wide.x0;
    data.set(quiet.data.subarray(at + x0, at + x1), y * width + x0);
    left.set(quiet.left.subarray(at + x0, at + x1), y * width + x0);
  }
}
