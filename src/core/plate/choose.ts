import { type Background, backgroundOf, type Cells, offBackground, settleOn } from "./cells";
import { settleResting } from "./resting";
import { secondStates } from "./states";
import { count, type Grid, grown, hysteresis } from "./regions";

/** Frames of which a plate is made, as cells in one light and place, and what must not be taken from them. */
export interface Offer {
  /** All on one grid. */
  frames: readonly Cells[];
  /** Cells that must not be used, a frame each; null for none. */
  keepOut?: readonly (Grid | null)[];
}

/** From which frame each cell of a plate comes. */
export interface Choice {
  /** Cells across. */
  width: number;
  /** Cells down. */
  height: number;
  /** Luma pixels to a cell. */
  cell: number;
  /** Index into the frames, for each cell. */
  label: Uint16Array;
  /** In how many frames a cell was clean. */
  support: Uint16Array;
  /** Cells that were never clean. */
  never: Uint8Array;
  /** Cells in which two things are seen for a while each, so that one cannot tell which of the two is the background. */
  doubt: Uint8Array;
  /** Whether frame f is clean at cell i: `clean[f][i]`. */
  clean: Uint8Array[];
  /** What the choice was made against. */
  background: Background;
}

const LOW = 2.6;
const HIGH = 5;
/** A background seen in less than this share of the frames is a guess. */
const LEAST = 0.12;
/** Rounds of weighing each cell against its neighbours. */
const ROUNDS = 20;
/** Cells to a piece of one label that is moved as a whole. */
const ISLAND = 60;

/**
 * Chooses a real frame for each cell: one in which it is clean (near what is there most often), in pieces as large as can be,
 * with seams where the frames agree. Labels are set greedily, by the frame that serves most of what is left, and then
 * improved cell by cell (iterated conditional modes; Besag 1986).
 */
export function chooseFrames({ frames, keepOut }: Offer): Choice {
  const { width, height, cell } = frames[0];
  const n = width * height;
  const background = backgroundOf(frames);
  // without frames that are kept out the background is another one
  if (keepOut?.some((g) => g && count(g))) refine(background, frames, keepOut);
  const doubt = settleResting(frames, background, keepOut);
  secondStates(frames, background).data.forEach((v, i) => v && (doubt[i] = 1));
  const clean: Uint8Array[] = [];
  const offs: Float32Array[] = [];
  frames.forEach((f, k) => {
    const off = offBackground(f, background);
    // what touches something is doubtful: soft edges and motion blur reach a little farther
    const dirty = grown(hysteresis(off, width, height, LOW, HIGH), 1);
    const out = keepOut?.[k];
    const ok = new Uint8Array(n);
    for (let i = 0; i < n; i++) ok[i] = dirty.data[i] || out?.data[i] ? 0 : 1;
    clean.push(ok);
    offs.push(off);
  });
  const support = new Uint16Array(n);
  for (const c of clean) for (let i = 0; i < n; i++) support[i] += c[i];
  const never = new Uint8Array(n);
  for (let i = 0; i < n; i++)
    never[i] = support[i] < Math.max(1, LEAST * frames.length) && (support[i] === 0 || alwaysOut(i, keepOut, frames.length)) ? 1 : 0;
  const label = greedy(clean, n);
  unclean(label, offs, support, keepOut);
  const energy = new Energy(label, frames, offs, clean, (l, i) => !!keepOut?.[l]?.data[i], background.noise, width);
  for (let k = 0; k < 3; k++) {
    improve(label, energy);
    mergeIslands(label, energy);
  }
  return { width, height, cell, label, support, never, doubt, clean, background };
}

const alwaysOut = (i: number, keepOut: Offer["keepOut"], n: number) => (keepOut?.reduce((s, g) => s + (g?.data[i] ?? 0), 0) ?? 0) > n * 0.8;

/** The background of cells that are kept out in some frames, from the others alone. */
function refine(b: Background, frames: readonly Cells[], keepOut: readonly (Grid | null)[]): void {
  const n = b.planes[0].length;
  for (let i = 0; i < n; i++) {
    const use = frames.filter((_, f) => !keepOut[f]?.data[i]);
    if (use.length === frames.length || use.length < 2) continue;
    settleOn(b, i, use);
  }
}

/** The frame that serves most cells first, then the one that serves most of the rest, and so on. */
function greedy(clean: readonly Uint8Array[], n: number): Uint16Array {
  const label = new Uint16Array(n).fill(65535);
  let open = n;
  const used = new Set<number>();
  while (open > 0 && used.size < clean.length) {
    let best = -1;
    let most = 0;
    clean.forEach((c, f) => {
      if (used.has(f)) return;
      let s = 0;
      for (let i = 0; i < n; i++) if (label[i] === 65535) s += c[i];
      if (s > most) [most, best] = [s, f];
    });
    if (best < 0) break;
    used.add(best);
    for (let i = 0; i < n; i++)
      if (label[i] === 65535 && clean[best][i]) {
        label[i] = best;
        open--;
      }
  }
  return label;
}

/** Cells that were never clean get the frame that is nearest to the background there, of those that are not kept out. */
function unclean(label: Uint16Array, offs: readonly Float32Array[], support: Uint16Array, keepOut: Offer["keepOut"]): void {
  for (let i = 0; i < label.length; i++) {
    if (support[i]) continue;
    let best = 0;
    let low = Infinity;
    offs.forEach((o, f) => {
      const v = o[i] + (keepOut?.[f]?.data[i] ? 1e6 : 0);
      if (v < low) [low, best] = [v, f];
    });
    label[i] = best;
  }
}

/** What a labelling costs, in standard deviations of the noise. */
class Energy {
  constructor(
    private readonly label: Uint16Array,
    private readonly frames: readonly Cells[],
    private readonly offs: readonly Float32Array[],
    private readonly clean: readonly Uint8Array[],
    private readonly barred: (label: number, i: number) => boolean,
    private readonly noise: readonly number[],
    private readonly w: number,
  ) {}

  /** A cell's neighbours, left, right, above, below. */
  around(i: number): number[] {
    const x = i % this.w;
    const out: number[] = [];
    if (x > 0) out.push(i - 1);
    if (x < this.w - 1) out.push(i + 1);
    if (i >= this.w) out.push(i - this.w);
    if (i + this.w < this.label.length) out.push(i + this.w);
    return out;
  }

  /** Of a cell that has label `l`, by itself. */
  own(i: number, l: number): number {
    return this.clean[l][i] ? 0.15 * this.offs[l][i] : this.barred(l, i) ? 1e6 : 10 + 0.5 * Math.min(this.offs[l][i], 40);
  }

  /** Of a seam between neighbours i and j, labelled a and b. */
  seam(i: number, a: number, j: number, b: number): number {
    return a === b ? 0 : 1 + 0.5 * (this.apart(i, a, b) + this.apart(j, a, b));
  }

  private apart(i: number, a: number, b: number): number {
    let s = 0;
    for (let p = 0; p < this.noise.length; p++) s += Math.abs(this.frames[a].planes[p][i] - this.frames[b].planes[p][i]) / this.noise[p];
    return s;
  }
}

/** Lets each cell take the label of a neighbour where that costs less. */
function improve(label: Uint16Array, e: Energy): void {
  for (let round = 0; round < ROUNDS; round++) {
    let moved = 0;
    for (let i = 0; i < label.length; i++) {
      const near = e.around(i);
      if (near.every((j) => label[j] === label[i])) continue;
      const cost = (l: number) => near.reduce((s, j) => s + e.seam(i, l, j, label[j]), e.own(i, l));
      let best = label[i];
      let low = cost(best);
      for (const l of new Set(near.map((j) => label[j]))) {
        if (l === label[i]) continue;
        const c = cost(l);
        if (c < low) [low, best] = [c, l];
      }
      if (best !== label[i]) {
        label[i] = best;
        moved++;
      }
    }
    if (!moved) break;
  }
}

/** Lets each small piece of one label take that of a neighbour as a whole, which its cells cannot do one by one. */
function mergeIslands(label: Uint16Array, e: Energy): void {
  const seen = new Uint8Array(label.length);
  for (let s = 0; s < label.length; s++) {
    if (seen[s]) continue;
    const own = label[s];
    const piece = [s];
    seen[s] = 1;
    const border = new Set<number>();
    for (let q = 0; q < piece.length; q++)
      for (const j of e.around(piece[q])) {
        if (label[j] !== own) border.add(label[j]);
        else if (!seen[j]) {
          seen[j] = 1;
          piece.push(j);
        }
      }
    if (piece.length > ISLAND) continue;
    const inside = new Set(piece);
    const cost = (l: number) =>
      piece.reduce((sum, i) => sum + e.own(i, l) + e.around(i).reduce((t, j) => t + (inside.has(j) ? 0 : e.seam(i, l, j, label[j])), 0), 0);
    let best = own;
    let low = cost(own);
    for (const l of border) {
      const c = cost(l);
      if (c < low) [low, best] = [c, l];
    }
    for (const i of piece) label[i] = best;
  }
}
