import { grown, pieces } from "../plate/regions";
import type { Rect } from "../pixels/frame";
import { boxOf } from "./crossing";
import { type CellGrid, cellCount } from "./grid";

/** Cells of a thing that count. */
const LEAST_CELLS = 4;
/** Cells by which it may have moved from one frame to the next. */
const MOVES = 5;
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

/**
 * Frames before or after those that a patch covers in which the thing it hides is seen still: from the first frame in which something is
 * hidden on, as long as what is seen lies where that was in the frame beside it, and for the most part where the mask is.
 * @param hidden cells that are hidden in the nearest frame in which the patch is laid altogether @param bare frames from there outward
 * @param mask cells of the mask in that frame
 */
export function uncoveredFrom(g: CellGrid, hidden: Uint8Array, mask: Uint8Array, bare: Iterable<Bare>): Uncovered[] {
  const out: Uncovered[] = [];
  const wide = (data: Uint8Array, by: number) => grown({ width: g.across, height: g.down, data }, by).data;
  let [there, home] = [hidden, wide(mask, 2)];
  if (there.reduce((s, v) => s + v, 0) < LEAST_CELLS) return out;
  for (const b of bare) {
    const near = wide(there, MOVES);
    const next = new Uint8Array(cellCount(g));
    const cells: number[] = [];
    for (const piece of pieces({ width: g.across, height: g.down, data: b.visible })) {
      if (piece.length < LEAST_CELLS || !piece.some((i) => near[i])) continue;
      if (piece.filter((i) => home[i]).length < WITHIN * piece.length) continue;
      for (const i of piece) next[i] = 1;
      cells.push(...piece);
    }
    if (!cells.length) break;
    out.push({ n: b.n, cells, box: boxOf(g, cells), off: cells.reduce((s, i) => s + b.off[i], 0) / cells.length });
    // it moves on: what was its place may be so beyond the mask
    there = next;
    home = wide(next, MOVES).map((v, i) => v | home[i]);
  }
  return out;
}
