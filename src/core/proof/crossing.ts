import { grown, pieces } from "../plate/regions";
import type { Rect } from "../pixels/frame";
import { type CellGrid, cellCount, marked, markedCells } from "./grid";
import type { Seen } from "./sight";

/** Cells of a thing that must be seen, and that must be hidden, before a patch's edge cuts through it. */
export const LEAST_CELLS = 3;
/** In a single frame it takes more. */
export const LEAST_ALONE = 6;
/** A line of so many cells is a thing that is thin. */
const LONG = 10;
/** Standard deviations from which a line of cells is no longer what an encoder leaves. */
const STRONG = 16;
/** Cells by which a thing may move from one frame to the next, and still be the same. */
const MOVES = 6;
/** Frames in which it may not be seen, and still be the same. */
const GAP = 2;
/** How much of what is cut by an edge has to be there beside it, before or after, to have come from there. */
const CAME = 0.3;
/** Frames in which a patch has to hide something before it counts as doing so already. */
const ALREADY = 4;
/** In so many of the frames in which a patch hides anything, what it was made for is cut if any of it is. */
const MOST = 0.7;
/** Where nothing else is known: what is seen for the most part is not what the patch was made for. */
const MOSTLY_SEEN = 3;

/** A thing in one frame that a patch's edge cuts through. */
interface Piece {
  n: number;
  /** All its cells, and those of it that are seen. */
  cells: readonly number[];
  visible: number[];
  hidden: number;
  box: Rect;
  /** By how much it is seen, in standard deviations, on the mean. */
  off: number;
}

/** What of a frame's cells is seen, kept for a look at what was there before and after. */
export interface Kept {
  n: number;
  visible: Uint8Array;
  /** What the edge cuts through. */
  cut: Uint8Array;
  /** Whether the patch is laid in this frame. */
  laid: boolean;
}

/** The pieces of a frame that are partly seen and partly hidden: an edge that nobody filmed goes through them. @param near cells that are asked */
export function cutPieces(g: CellGrid, n: number, seen: Seen, near: Uint8Array): { pieces: Piece[]; cut: Uint8Array } {
  const all = new Uint8Array(cellCount(g));
  for (let i = 0; i < all.length; i++) all[i] = seen.visible[i] | seen.hidden[i];
  const cut = new Uint8Array(all.length);
  const out: Piece[] = [];
  for (const cells of pieces(marked(g, all))) {
    const hidden = cells.filter((i) => seen.hidden[i]).length;
    // what hangs together with what is hidden lies not beside it, however little it is
    if (hidden) for (const i of cells) cut[i] = 1;
    if (hidden < LEAST_CELLS) continue;
    const visible = clusters(
      g,
      cells.filter((i) => seen.visible[i]),
      seen.off,
    );
    if (visible.filter((i) => near[i]).length < LEAST_CELLS) continue;
    out.push({ n, cells, visible, hidden, box: boxOf(g, visible), off: visible.reduce((s, i) => s + seen.off[i], 0) / visible.length });
  }
  return { pieces: out, cut };
}

/**
 * Those of some cells that hang together with enough others. What an encoder leaves beside a thing that moves is weak, and single cells or
 * short lines of them: what is weak has to be broader, or longer.
 */
function clusters(g: CellGrid, cells: readonly number[], off: Float32Array): number[] {
  const grid = markedCells(g, cells);
  const { data } = grid;
  const broad = (i: number) => i % g.across < g.across - 1 && data[i] && data[i + 1] && data[i + g.across] && data[i + g.across + 1];
  return pieces(grid)
    .filter((p) => {
      if (p.length < LEAST_CELLS) return false;
      const mean = p.reduce((s, i) => s + off[i], 0) / p.length;
      return mean > STRONG || p.length >= LONG || (p.length >= LEAST_ALONE && p.some(broad));
    })
    .flat();
}

/** The box of some cells. */
export function boxOf(g: CellGrid, cells: readonly number[]): Rect {
  const b = { x0: g.across, y0: g.down, x1: 0, y1: 0 };
  for (const i of cells) {
    const [x, y] = [i % g.across, Math.floor(i / g.across)];
    [b.x0, b.y0, b.x1, b.y1] = [Math.min(b.x0, x), Math.min(b.y0, y), Math.max(b.x1, x + 1), Math.max(b.y1, y + 1)];
  }
  return b;
}

const meet = (a: Rect, b: Rect, by: number) => a.x0 - by < b.x1 && b.x0 - by < a.x1 && a.y0 - by < b.y1 && b.y0 - by < a.y1;

/** Pieces of frames that follow each other, joined into things. */
export function joinedPieces(all: readonly Piece[]): Piece[][] {
  const out: Piece[][] = [];
  for (const piece of [...all].sort((a, b) => a.n - b.n)) {
    const of = out.find((c) => {
      const last = c[c.length - 1];
      return piece.n - last.n <= GAP && meet(piece.box, last.box, MOVES);
    });
    if (of) of.push(piece);
    else out.push([piece]);
  }
  return out.filter((c) => new Set(c.map((p) => p.n)).size > 1 || c.some((p) => p.visible.length >= LEAST_ALONE));
}

/**
 * Whose a thing is that a patch's edge cuts through. What is there beside the patch before it is laid, or after, stands there by itself.
 * What comes to the edge from beside it while the patch hides something already, or goes on beside it while it goes on hiding something, is
 * somebody who passes: the patch bites into it. All else is what the patch was made for, and so is what is cut nearly always.
 * @param hides the frames in which the patch hides anything, in their order
 */
export function isOwn(g: CellGrid, crossing: readonly Piece[], frames: ReadonlyMap<number, Kept>, hides: readonly number[]): boolean {
  const [first, last] = [crossing[0], crossing[crossing.length - 1]];
  const before = frames.get(first.n - 1);
  const after = frames.get(last.n + 1);
  const came = !!before && isBeside(g, before, first);
  const goes = !!after && isBeside(g, after, last);
  if ((came && !before.laid) || (goes && !after.laid)) return false;
  if (!before && !after) return mostlyHidden(crossing);
  if (new Set(crossing.map((p) => p.n)).size >= MOST * hides.length) return true;
  // what comes in shows itself inside a frame or two before its rim is cut
  const hid = hides.filter((n) => n < first.n).length >= ALREADY;
  const hidesOn = hides.filter((n) => n > last.n).length >= ALREADY;
  return !((came && hid) || (goes && hidesOn));
}

/** Whether what is seen of a piece is there in another frame, beside the patch. */
function isBeside(g: CellGrid, k: Kept, p: Piece): boolean {
  const wide = grown(markedCells(g, p.visible), MOVES).data;
  let n = 0;
  for (let i = 0; i < wide.length; i++) if (wide[i] && k.visible[i] && !k.cut[i]) n++;
  return n >= CAME * p.visible.length;
}

function mostlyHidden(crossing: readonly Piece[]): boolean {
  const seen = crossing.reduce((s, p) => s + p.visible.length, 0);
  const hidden = crossing.reduce((s, p) => s + p.hidden, 0);
  return seen < MOSTLY_SEEN * hidden;
}
