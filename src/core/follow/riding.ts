import type { Gray } from "../motion/gray";
import { mapped, middleOf, type Place } from "./homography";
import { boxOf, cornersOf, within } from "./template";
import { Tracker } from "./tracker";

/** What an outlined thing sits on moves with it: how far at most, in pixels, and the frames over which that was looked at. */
export interface Riding {
  by: number;
  in: number;
  out: number;
}

/** Share of its size by which a thing is surrounded by what it may sit on; pixels at least. */
const RIM = 0.12;
const LEAST_RIM = 6;
/** Pixels of movement from which it can be told what goes along, and from which it matters. */
const TOLD = 1.5;
/** What lies around it goes along where it looks so many times less like itself when it is taken to stand still. */
const ALONG = 0.6;
/** Of the rim every so many pixels each way is looked at; of so few nothing is told. */
const EVERY = 2;
const ENOUGH = 40;
/** Frames after which it is plain that it goes by itself. */
const SURE = 4;

/** The box around an outlined thing with its rim, as far as it lies in the picture: its corners. */
export function withRim(outline: readonly Place[], { width, height }: Pick<Gray, "width" | "height">): Place[] {
  const box = boxOf(outline);
  const wide = boxOf(outline, Math.max(LEAST_RIM, RIM * Math.max(box.x1 - box.x0, box.y1 - box.y0)));
  const [x0, y0] = [Math.max(0, wide.x0), Math.max(0, wide.y0)];
  const [x1, y1] = [Math.min(width, wide.x1), Math.min(height, wide.y1)];
  return cornersOf({ x0, y0, x1, y1 });
}

/**
 * Tells whether an outlined thing sits on something that moves: it is followed together with its rim, and where it has gone the rim is
 * compared with how it looked at first, once where the thing has taken it and once where it was.
 */
export class Rider {
  private readonly tracker: Tracker;
  private readonly rim: Place[] = [];
  private readonly middle: Place;
  private by = 0;
  private told = 0;
  /** How unlike itself the rim looks where the thing has taken it, and where it was. */
  private went = 0;
  private stood = 0;

  /**
   * @param first the picture it was outlined on @param outline in take pixels, a pixel's middle at ½
   * @throws RangeError where it holds too little to follow
   */
  constructor(
    private readonly first: Gray,
    outline: readonly Place[],
  ) {
    const region = withRim(outline, first);
    const { x0, y0, x1, y1 } = boxOf(region);
    this.middle = middleOf(outline);
    for (let y = y0; y < y1; y += EVERY)
      for (let x = x0; x < x1; x += EVERY) if (!within(outline, x + 0.5, y + 0.5)) this.rim.push([x + 0.5, y + 0.5]);
    this.tracker = new Tracker(first, region);
  }

  /**
   * The next frame, away from the first.
   * @param camera by how many pixels the whole picture has gone @returns whether there is more to be told by frames farther on
   */
  next(g: Gray, f: number, camera: Place): boolean {
    const t = this.tracker.next(g, f);
    if ("stopped" in t) return false;
    const there = mapped(t.matrix, this.middle);
    if (!there) return false;
    const gone = Math.hypot(there[0] - this.middle[0] - camera[0], there[1] - this.middle[1] - camera[1]);
    if (gone < TOLD) return true;
    const went = this.unlike(g, (p) => mapped(t.matrix, p));
    const stood = this.unlike(g, ([x, y]) => [x + camera[0], y + camera[1]]);
    if (went === null || stood === null) return true;
    this.told++;
    this.by = Math.max(this.by, gone);
    this.went += went;
    this.stood += stood;
    return this.told < SURE || this.went < this.stood;
  }

  /** How far it has gone beside the camera with what it sits on, in pixels; 0 where it stands still, or goes by itself. */
  get along(): number {
    return this.went < ALONG * this.stood ? this.by : 0;
  }

  /** The mean difference of the rim from how it looked at first, its light taken off; null where too little of it is in the picture. */
  private unlike(g: Gray, to: (p: Place) => Place | null): number | null {
    const d: number[] = [];
    for (const p of this.rim) {
      const q = to(p);
      const [a, b] = [at(this.first, p), q && at(g, q)];
      if (a !== null && b !== null) d.push(b - a);
    }
    if (d.length < ENOUGH) return null;
    const mean = d.reduce((s, v) => s + v, 0) / d.length;
    return d.reduce((s, v) => s + Math.abs(v - mean), 0) / d.length;
  }
}

/** The value at a place, between samples; null outside. */
function at({ width, height, data }: Gray, [x, y]: Place): number | null {
  const [u, v] = [x - 0.5, y - 0.5];
  const [i, j] = [Math.floor(u), Math.floor(v)];
  if (i < 0 || j < 0 || i + 1 >= width || j + 1 >= height) return null;
  const k = j * width + i;
  const upper = data[k] + (u - i) * (data[k + 1] - data[k]);
  const lower = data[k + width] + (u - i) * (data[k + width + 1] - data[k + width]);
  return upper + (v - j) * (lower - upper);
}
