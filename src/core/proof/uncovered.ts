import { grown, pieces } from "../plate/regions";
import type { Rect } from "../pixels/frame";
import { boxOf } from "./crossing";
import { type CellGrid, marked, markedCells } from "./grid";

/** Cells of a thing that count. */
const LEAST_CELLS = 4;
/** Cells by which it may lie otherwise than its movement says. */
const MOVES = 5;
/** Cells by which it may reach beyond the mask. */
const BEYOND = 2;
/** What lies beyond the mask for the most part is something else. */
const WITHIN = 0.5;

/** A frame in which the patch is not laid, or only in part. */
export interface Bare {
  n: number;
  visible: Uint8Array;
  off: Float32Array;
}

/** A frame in which what is hidden elsewhere is seen. */
export interface Uncovered {
  n: number;
  cells: number[];
  box: Rect;
  off: number;
}

/** The frame at one end of those in which a patch is laid. */
export interface End {
  /** Cells in which it hides something, and those of its mask. */
  hidden: Uint8Array;
  mask: Uint8Array;
  /** Its mask in the frame before that on the way out; null where there is none. */
  inner: Uint8Array | null;
}

/**
 * Frames before or after those that a patch covers in which the thing it hides is seen still: outward from the last frame in which something is
 * hidden, as long as what is seen lies where that was, moved on as the mask moved, and for the most part where the mask would be.
 * @param bare frames from there outward
 */
export function uncoveredFrom(g: CellGrid, { hidden, mask, inner }: End, bare: Iterable<Bare>): Uncovered[] {
  const out: Uncovered[] = [];
  const wide = (data: Uint8Array, by: number) => grown(marked(g, data), by).data;
  if (hidden.reduce((s, v) => s + v, 0) < LEAST_CELLS) return out;
  const [dx, dy] = movement(g, inner, mask);
  let [there, home] = [hidden, wide(mask, BEYOND)];
  for (const b of bare) {
    // it goes on as its mask did, or stays within it
    const moved = moveCells(g, home, dx, dy);
    home = home.map((v, i) => v | moved[i]);
    const goneOn = moveCells(g, there, dx, dy);
    const near = wide(
      there.map((v, i) => v | goneOn[i]),
      MOVES,
    );
    const cells: number[] = [];
    for (const piece of pieces(marked(g, b.visible))) {
      if (piece.length < LEAST_CELLS || !piece.some((i) => near[i])) continue;
      if (piece.filter((i) => home[i]).length < WITHIN * piece.length) continue;
      cells.push(...piece);
    }
    if (!cells.length) break;
    out.push({ n: b.n, cells, box: boxOf(g, cells), off: cells.reduce((s, i) => s + b.off[i], 0) / cells.length });
    there = markedCells(g, cells).data;
    const about = wide(there, MOVES);
    home = home.map((v, i) => v | about[i]);
  }
  return out;
}

/** By how many cells a mask's middle moves from one frame to the next. */
function movement(g: CellGrid, from: Uint8Array | null, to: Uint8Array): [number, number] {
  if (!from) return [0, 0];
  const middle = (m: Uint8Array) => {
    let [x, y, n] = [0, 0, 0];
    for (let i = 0; i < m.length; i++)
      if (m[i]) {
        x += i % g.across;
        y += Math.floor(i / g.across);
        n++;
      }
    return n ? [x / n, y / n] : null;
  };
  const [a, b] = [middle(from), middle(to)];
  return a && b ? [Math.round(b[0] - a[0]), Math.round(b[1] - a[1])] : [0, 0];
}

function moveCells(g: CellGrid, cells: Uint8Array, dx: number, dy: number): Uint8Array {
  if (!dx && !dy) return cells;
  const out = new Uint8Array(cells.length);
  for (let i = 0; i < cells.length; i++) {
    if (!cells[i]) continue;
    const [x, y] = [(i % g.across) + dx, Math.floor(i / g.across) + dy];
    if (x >= 0 && y >= 0 && x < g.across && y < g.down) out[y * g.across + x] = 1;
  }
  return out;
}
