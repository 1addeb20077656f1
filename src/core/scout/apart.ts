import type { Cells } from "../plate/cells";
import { Layer, type Shift } from "./layer";
import { type Grid, gridWith, grown, pieces } from "../plate/regions";

/** Cells that a thing may move on from one frame to the next, beside what is expected of it; and what passes it. */
const REACH = 8;
const PASSES = 4;
/** Cells beside where the thing is expected within which what is new is the thing. */
const BESIDE = 3;
/** Cells around the thing within which it is told what else is there. */
const AROUND = 24;
/** Fewest cells of something else for it to be followed, and how many such are followed, the largest first. */
const SPECK = 4;
const MANY = 8;
/** Cells away from where a thing would be that count as much as twenty codes that it looks otherwise. */
const PLACE = 0.25;
const FARTHEST = 6;
/** What a cell counts, at most, that looks otherwise where a thing is expected; and at least where it is not. */
const OTHERWISE = 3;
const ELSEWHERE = 2;
/** Below this no other is asked. */
const SURE = 0.5;
/** Frames for which a thing may be behind another. */
const HIDDEN = 24;
/** No layer's. */
const NONE = -1;

/** What is known of the thing on a frame. */
export interface Told {
  /** Which cells are it; null where it is not seen. */
  mask: Grid | null;
  /** How many cells of it another stands before. */
  hidden: number;
}

/** A thing on the next frame: by its movement, where it is expected, and which cells are it. */
interface Rival {
  layer: Layer;
  shift: Shift;
  expected: readonly number[];
  /** As a grid. */
  place: Grid;
  cells: number[];
}

/**
 * What differs from the ground, told apart from frame to frame: the outlined thing, and whatever else passes. Where several hang together each
 * cell belongs to what it looks like and lies where that is expected by its own movement; what another stands before is there all the same.
 */
export class Apart {
  private thing: Layer;
  private others: Layer[];
  /** Frames in a row in which the thing was not seen, behind another. */
  private behind = 0;
  /** Cells by which the thing has moved since the first frame. */
  moved: Shift = [0, 0];

  /** @param differs what is not the ground on a frame @param mask what of it is the thing */
  constructor(look: Cells, differs: Grid, mask: Grid) {
    this.thing = new Layer(mask, look);
    const beside = around(differs, this.thing.cells).filter((i) => !mask.data[i]);
    this.others = large(pieces(gridWith(beside, differs))).map((p) => new Layer(gridWith(p, differs), look));
  }

  /** The thing on the next frame. @param least fewest cells that are seen of it */
  next(look: Cells, differs: Grid, least: number): Told {
    const thing = rivalOf(this.thing, look, differs, REACH);
    const others = this.others.map((layer) => rivalOf(layer, look, differs, PASSES));
    const all = [thing, ...others];
    const near = grown(thing.place, BESIDE).data;
    // what is joined to nothing that was there is something new; where the thing was seen it is the thing
    const strange: number[][] = [];
    for (const piece of divided(look, around(differs, thing.expected), all)) {
      const own = piece.filter((i) => near[i]);
      thing.cells.push(...own);
      if (!own.length) strange.push(piece);
    }
    const owner = new Int16Array(differs.data.length).fill(NONE);
    all.forEach((r, k) => r.cells.forEach((i) => (owner[i] = k)));
    const hidden = all.map((r, k) => r.expected.filter((i) => owner[i] !== NONE && owner[i] !== k));
    const seen = thing.cells.length;
    // what is left of it all at once is something else that it had covered
    const there = seen >= least && seen >= 0.1 * this.thing.cells.length;
    const behind = !there && hidden[0].length > 0.5 * thing.expected.length && ++this.behind <= HIDDEN;
    if (there) this.behind = 0;
    else if (!behind) strange.push(thing.cells);
    if (there || behind) {
      this.thing = followed(thing, hidden[0], look);
      this.moved = [this.moved[0] + thing.shift[0], this.moved[1] + thing.shift[1]];
    }
    const kept = others.map((r, k) => ({ r, hidden: hidden[k + 1] })).filter(({ r }) => r.cells.length >= SPECK);
    this.others = [
      ...kept.map(({ r, hidden }) => followed(r, hidden, look)),
      ...large(strange).map((p) => new Layer(gridWith(p, differs), look)),
    ].slice(0, MANY);
    return { mask: there ? gridWith(thing.cells, differs) : null, hidden: there || behind ? hidden[0].length : 0 };
  }
}

function rivalOf(layer: Layer, look: Cells, differs: Grid, reach: number): Rival {
  const { shift } = layer.moved(look, differs, reach);
  const expected = layer.laid(shift);
  return { layer, shift, expected, place: gridWith(expected, differs), cells: [] };
}

/** Shares out what differs among what was there, piece by piece. @returns the pieces that are joined to none of it */
function divided(look: Cells, differs: readonly number[], all: readonly Rival[]): number[][] {
  const rest: number[][] = [];
  for (const piece of pieces(gridWith(differs, look))) {
    const here = all.filter((r) => piece.some((i) => r.place.data[i]));
    if (here.length === 0) rest.push(piece);
    else if (here.length === 1) here[0].cells.push(...piece);
    else share(piece, here, look);
  }
  return rest;
}

/** Gives each cell of a piece to the likeliest of several, and then to what most of those about it are. */
function share(piece: readonly number[], here: readonly Rival[], look: Cells): void {
  const { width: w, height: h } = look;
  const first = new Map<number, number>();
  for (const i of piece) {
    const [x, y] = [i % w, Math.floor(i / w)];
    const there = here.filter((r) => r.place.data[i]);
    // by far most cells are where one is expected, and look like it
    if (there.length === 1 && price(there[0], look, x, y) < SURE) {
      first.set(i, here.indexOf(there[0]));
      continue;
    }
    let [best, least] = [0, Infinity];
    here.forEach((r, k) => {
      const p = price(r, look, x, y);
      if (p < least) [best, least] = [k, p];
    });
    first.set(i, best);
  }
  const votes = new Float32Array(here.length);
  for (const i of piece) {
    const [x, y] = [i % w, Math.floor(i / w)];
    votes.fill(0);
    votes[first.get(i)!] = 0.5;
    for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) {
        const k = first.get(v * w + u);
        if (k !== undefined) votes[k]++;
      }
    here[votes.indexOf(Math.max(...votes))].cells.push(i);
  }
}

/** What it costs to take a cell for a thing: by how it looks where that is expected, by how far away it is elsewhere. */
function price({ layer, shift, place }: Rival, look: Cells, x: number, y: number): number {
  const off = layer.at(look, x, y, shift);
  return off === null ? ELSEWHERE + PLACE * distance(place, x, y) : Math.min(OTHERWISE, off) + (place.data[y * place.width + x] ? 0 : PLACE);
}

/** Cells to the nearest one of a grid, by squares around it. */
function distance({ width, height, data }: Grid, x: number, y: number): number {
  for (let r = 1; r < FARTHEST; r++)
    for (let v = Math.max(0, y - r); v <= Math.min(height - 1, y + r); v++) {
      const step = Math.abs(v - y) === r ? 1 : 2 * r;
      for (let u = x - r; u <= x + r; u += step) if (u >= 0 && u < width && data[v * width + u]) return r;
    }
  return FARTHEST;
}

/** A thing as it is known after a frame. */
function followed({ layer, shift, expected, cells }: Rival, hidden: readonly number[], look: Cells): Layer {
  // where most of it is hidden its own movement is not seen
  const pace = hidden.length < 0.5 * expected.length ? steady(layer.pace, shift) : layer.pace;
  return new Layer(gridWith([...cells, ...hidden], look), hidden.length ? shown(layer, shift, look, hidden) : look, pace);
}

/** Its pace as it was told by some frames: whole cells of one frame alone are coarse. */
const steady = ([x, y]: Shift, [u, v]: Shift): Shift => [0.6 * x + 0.4 * u, 0.6 * y + 0.4 * v];

/** How a thing looks: as on a frame, but where it is hidden there as before, carried on by its movement. */
function shown({ look }: Layer, [dx, dy]: Shift, now: Cells, hidden: readonly number[]): Cells {
  const from = dy * now.width + dx;
  const planes = now.planes.map((v, p) => {
    const out = new Float32Array(v);
    for (const i of hidden) out[i] = look.planes[p][i - from];
    return out;
  });
  return { ...now, planes };
}

/** Of the cells that are set those near some others: within a rectangle about them. */
function around({ width: w, height: h, data }: Grid, cells: readonly number[]): number[] {
  let [x0, y0, x1, y1] = [w, h, -1, -1];
  for (const i of cells) {
    const x = i % w;
    const y = (i - x) / w;
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
  }
  const out: number[] = [];
  for (let y = Math.max(0, y0 - AROUND); y <= Math.min(h - 1, y1 + AROUND); y++)
    for (let x = Math.max(0, x0 - AROUND); x <= Math.min(w - 1, x1 + AROUND); x++) if (data[y * w + x]) out.push(y * w + x);
  return out;
}

/** The pieces that are large enough to be something, the largest first. */
const large = (list: number[][]): number[][] => list.filter((p) => p.length >= SPECK).sort((a, b) => b.length - a.length).slice(0, MANY); // prettier-ignore
