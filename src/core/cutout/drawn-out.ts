import { median } from "../motion/gray";
import { type Cut, heightOf, widthOf } from "./cut";

/** Frames after which a shutter is known. */
const SURE = 3;
/** Movement, pixels a frame, from which a rim is drawn out by it so far that it is asked. */
const FAST = 6;
/** Pixels behind a drawn-out rim by whose mean the thing's colour is told, and how many have to tell. */
const BEHIND = 6;
const LEAST_BEHIND = 3;
/** Of what sharp rims leave unexplained of what shines through, drawn-out ones leave so much at most. */
const CLEARER = 0.4;
/** Pixels by which rims are drawn out at least. */
const LEAST_LENGTH = 2;
/** The share of those that may lie beyond what was found of the thing; and pixels beyond it that are asked at least. */
const MOST_MISSED = 0.5;
const LEAST_BEYOND = 2;
/** Codes of the ground's detail that tell, pixels of a depth that are needed, and how many times the ground's detail may be seen. */
const DETAIL = 3;
const LEAST_OF_DEPTH = 20;
const MOST_SHOWS = 4;
/** By how much a share may be off what the movement makes of it, where colours tell it. */
const FREE = 0.25;
/** Squared codes by which thing and ground must differ for a share to be told. */
const APART = 60;

/** A pixel of a drawn-out rim: how far it lies within the thing along its movement, the way inwards, and how long the thing is there. */
interface Rim {
  i: number;
  depth: number;
  inward: 1 | -1;
  chord: number;
}

/** By how many pixels rims are drawn out, and how many of those lie beyond what was found of the thing. */
interface Drawn {
  length: number;
  missed: number;
}

/** How long a take's shutter is open: what its frames have told so far. */
export class Shutter {
  private readonly told: number[] = [];

  /** Shares of a frame that one frame told. */
  add(open: number): void {
    this.told.push(open);
  }

  /** The middle of them; null where too few have told. */
  open(): number | null {
    return this.told.length < SURE ? null : median([...this.told]);
  }
}

/** A pixel of a rim and its share, 0–1. */
export type Shares = Map<number, number>;

/**
 * How much of its pixels a thing covers along the rims that its movement has drawn out. While the shutter is open it passes them, so that
 * its share rises evenly from nothing to all over as many pixels as it moves in that time. How many, is told by what shines through of the
 * ground; then the share of each by its colours, I = α·F + (1 − α)·B with F those behind the rim and B the ground, as far as it lies near that.
 * @param pace pixels a frame across and down @param shutter what other frames of the take told, and this one does from now on
 * @returns the shares of pixels of the rims, and of those just beyond; empty where nothing is drawn out
 */
export function drawnOut(cut: Cut, pace: readonly [number, number], shutter = new Shutter()): Shares {
  const fast = Math.hypot(...pace);
  const out: Shares = new Map();
  if (fast < FAST) return out;
  const walk = alongPace(cut, pace, fast);
  const rims = walk.rims();
  const shines = shinesThrough(cut, walk, rims, fast);
  if (!shines) return out;
  const all = Array.from({ length: Math.ceil(2 * (fast - LEAST_LENGTH)) }, (_, k) => LEAST_LENGTH + k / 2);
  const own = drawnOutBy(shines, all);
  if (own) shutter.add(own.length / fast);
  const open = shutter.open();
  // what one frame tells is rough; a shutter stays as it is
  const drawn = open ? drawnOutBy(shines, [open * fast]) : own;
  if (!drawn) return out;
  const { length, missed } = drawn;
  for (const r of rims) {
    const told = r.depth + missed < length ? shareOf(cut, walk, r, drawn) : null;
    if (told !== null) out.set(r.i, told);
  }
  for (const { i, away } of walk.beyond(Math.max(LEAST_BEYOND, Math.ceil(missed)))) out.set(i, Math.max(0, (missed - away) / length));
  return out;
}

/** Walks along the movement through a cut. */
interface Walk {
  rims: () => Rim[];
  /** Pixels up to so many beyond the rims. */
  beyond: (most: number) => { i: number; away: number }[];
  /** The pixel so many steps along; −1 beyond the rectangle. */
  at: (i: number, steps: number) => number;
  /** The one so many across the movement. */
  beside: (i: number, steps: number) => number;
}

function alongPace({ rect, inside }: Cut, pace: readonly [number, number], fast: number): Walk {
  const [w, h] = [widthOf(rect), heightOf(rect)];
  const [ux, uy] = [pace[0] / fast, pace[1] / fast];
  const reach = Math.ceil(fast);
  const step = (i: number, dx: number, dy: number) => {
    const x = (i % w) + Math.round(dx);
    const y = Math.floor(i / w) + Math.round(dy);
    return x < 0 || y < 0 || x >= w || y >= h ? -1 : y * w + x;
  };
  const at = (i: number, steps: number) => step(i, ux * steps, uy * steps);
  const beside = (i: number, steps: number) => step(i, -uy * steps, ux * steps);
  /** Pixels to where the thing ends; beyond the picture it goes on. */
  const toEnd = (i: number, way: number) => {
    for (let k = 1; k <= 2 * reach; k++) {
      const j = at(i, way * k);
      if (j < 0) return 2 * reach;
      if (!inside[j]) return k - 0.5;
    }
    return 2 * reach;
  };
  const rims = () => {
    const list: Rim[] = [];
    for (let i = 0; i < inside.length; i++) {
      if (!inside[i]) continue;
      // what is deep both ways is no rim: asked by one look each before it is walked
      const [a, b] = [at(i, reach), at(i, -reach)];
      if (a >= 0 && inside[a] && b >= 0 && inside[b]) continue;
      const [fore, back] = [toEnd(i, 1), toEnd(i, -1)];
      const depth = Math.min(fore, back);
      if (depth < reach) list.push({ i, depth, inward: fore < back ? -1 : 1, chord: fore + back });
    }
    return list;
  };
  const beyond = (most: number) => {
    const list: { i: number; away: number }[] = [];
    for (let i = 0; i < inside.length; i++) {
      if (inside[i]) continue;
      for (let k = 1; k <= most; k++) {
        const [a, b] = [at(i, k), at(i, -k)];
        if ((a < 0 || !inside[a]) && (b < 0 || !inside[b])) continue;
        list.push({ i, away: k - 0.5 });
        break;
      }
    }
    return list;
  };
  return { rims, beyond, at, beside };
}

/** The share that the movement alone makes of a pixel of a rim that is drawn out by so many pixels; null where the thing is thinner than that. */
function byMovement({ depth, chord }: Rim, { length, missed }: Drawn): number | null {
  return chord + 2 * missed < 2 * length ? null : Math.min(1, (depth + missed) / length);
}

/** The mean colours behind a rim, into `into`; false where too few are seen. */
function behind({ inside, sight: { seen } }: Cut, walk: Walk, { i, depth, inward, chord }: Rim, length: number, into: Float64Array): boolean {
  let n = 0;
  into.fill(0);
  const [from, room] = [Math.max(1, Math.ceil(length - depth) + 1), chord - length];
  for (let k = from; k < from + BEHIND && depth + k < room; k++) {
    const j = walk.at(i, inward * k);
    if (j < 0 || !inside[j]) break;
    for (let p = 0; p < 3; p++) into[p] += seen[p][j];
    n++;
  }
  for (let p = 0; p < 3; p++) into[p] /= n;
  return n >= LEAST_BEHIND;
}

/** How much of the ground's detail is seen through rims, by whole pixels of depth. */
interface Shines {
  /** Shares at each depth, and how surely they are told; depths that too few pixels tell are not `usable`. */
  shares: Float64Array;
  surely: Float64Array;
  usable: number[];
  /** The share that is seen where nothing shines through any more: detail of the thing itself may be like the ground's. */
  floor: number;
}

/** Detail is what changes across the movement, which the movement does not blur. @returns null where the ground is too even to tell */
function shinesThrough({ sight: { seen, ground } }: Cut, walk: Walk, rims: readonly Rim[], fast: number): Shines | null {
  const bins = Math.ceil(fast);
  const [products, squares, counts] = [new Float64Array(bins), new Float64Array(bins), new Float64Array(bins)];
  for (const { i, depth } of rims) {
    const [a, b] = [walk.beside(i, 1), walk.beside(i, -1)];
    const bin = Math.floor(depth);
    if (a < 0 || b < 0 || bin >= bins) continue;
    const own = ground[0][a] - ground[0][b];
    if (Math.abs(own) < DETAIL) continue;
    const shows = (seen[0][a] - seen[0][b]) / own;
    // the thing's own edges say nothing of the ground
    if (Math.abs(shows) > MOST_SHOWS) continue;
    products[bin] += shows * own * own;
    squares[bin] += own * own;
    counts[bin]++;
  }
  const usable = Array.from({ length: bins }, (_, d) => d).filter((d) => counts[d] >= LEAST_OF_DEPTH);
  if (usable.length < bins / 2) return null;
  const shares = products.map((v, d) => v / squares[d]);
  const deep = usable.slice(Math.floor((2 * usable.length) / 3));
  const floor = Math.max(0, deep.reduce((s, d) => s + shares[d], 0) / deep.length);
  return { shares, surely: squares.map(Math.sqrt), usable, floor };
}

/**
 * By how many pixels rims are drawn out: of the ground's own detail as much shines through them as the thing leaves uncovered, 1 − d/length
 * at depth d, whatever the thing looks like.
 * @param lengths those that are tried @returns null where the rims are sharp
 */
function drawnOutBy({ shares, surely, usable, floor }: Shines, lengths: readonly number[]): Drawn | null {
  const off = ({ length, missed }: Drawn) => {
    let sum = 0;
    for (const d of usable) sum += surely[d] * (shares[d] - Math.max(floor, 1 - (d + 0.5 + missed) / Math.max(1, length))) ** 2;
    return sum;
  };
  let best: Drawn | null = null;
  let least = CLEARER * off({ length: 0, missed: 0 });
  for (const length of lengths)
    for (let missed = 0; missed <= MOST_MISSED * length; missed += 0.5) {
      const left = off({ length, missed });
      if (left < least) [best, least] = [{ length, missed }, left];
    }
  return best;
}

/** The share of a pixel; null where nothing tells it. */
function shareOf(cut: Cut, walk: Walk, r: Rim, drawn: Drawn): number | null {
  const { seen, ground, says } = cut.sight;
  const even = byMovement(r, drawn);
  const colour = new Float64Array(3);
  if (even === null) return null;
  if (!behind(cut, walk, r, drawn.length - drawn.missed, colour)) return even;
  let [dot, norm] = [0, 0];
  for (let p = 0; p < 3; p++) {
    const f = colour[p] - ground[p][r.i];
    dot += says[p] * (seen[p][r.i] - ground[p][r.i]) * f;
    norm += says[p] * f * f;
  }
  return norm < APART ? even : Math.min(1, even + FREE, Math.max(0, even - FREE, dot / norm));
}
