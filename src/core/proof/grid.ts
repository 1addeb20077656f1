import { NONE, squaredDistances } from "../match/ring";
import { colourPlanes, type Frame, intersect, type PixelFormat, planeShift, type Rect } from "../pixels/frame";
import type { Grid } from "../plate/regions";
import type { PlaneAlpha } from "../shape/chroma";

/** Cells over a part of a take; they lie alike wherever the part lies. */
export interface CellGrid {
  /** The first cell of the part, in cells of the take. */
  cx: number;
  cy: number;
  across: number;
  down: number;
  /** Side of a cell, luma pixels: even. */
  side: number;
}

/** Means of cells, one list a plane, 8-bit codes. */
export type Cells = Float32Array[];

/** Side of cells for pictures of a width: 4 px up to 1280, 6 at 1920. A rig's pole is two of them wide. */
export const sideFor = (width: number): number => 2 * Math.max(2, Math.round(width / 640));

/** The whole cells within a rectangle of a take. */
export function gridIn(rect: Rect, width: number, height: number): CellGrid {
  const side = sideFor(width);
  const r = intersect(rect, { x0: 0, y0: 0, x1: width, y1: height });
  const [cx, cy] = [Math.floor(r.x0 / side), Math.floor(r.y0 / side)];
  // cells that the picture's border cuts are left out: they have no chroma of their own
  const [ex, ey] = [Math.min(Math.floor(width / side), Math.ceil(r.x1 / side)), Math.min(Math.floor(height / side), Math.ceil(r.y1 / side))];
  return { cx, cy, across: Math.max(0, ex - cx), down: Math.max(0, ey - cy), side };
}

export const cellCount = (g: CellGrid): number => g.across * g.down;

/** A yes or no for each cell, as regions are told by. */
export const marked = ({ across, down }: CellGrid, data: Uint8Array): Grid => ({ width: across, height: down, data });

/** Some cells marked. */
export function markedCells(g: CellGrid, cells: readonly number[]): Grid {
  const data = new Uint8Array(cellCount(g));
  for (const i of cells) data[i] = 1;
  return marked(g, data);
}

/** The take's pixels that cells cover. */
export function pixelsOf(g: CellGrid, cells: Rect): Rect {
  return {
    x0: (g.cx + cells.x0) * g.side,
    y0: (g.cy + cells.y0) * g.side,
    x1: (g.cx + cells.x1) * g.side,
    y1: (g.cy + cells.y1) * g.side,
  };
}

/** Means of the cells of a frame. */
export function cellsOf(frame: Frame, g: CellGrid): Cells {
  return Array.from({ length: colourPlanes(frame.format) }, (_, p) => {
    const { sx, sy } = planeShift(frame.format, p);
    const { data, width } = frame.planes[p];
    const [w, h] = [g.side >> sx, g.side >> sy];
    const one = 1 / (w * h * 2 ** (frame.format.bits - 8));
    const out = new Float32Array(cellCount(g));
    // columns first, so that rows are gone along once
    const sums = new Int32Array(g.across * w);
    for (let j = 0, o = 0; j < g.down; j++) {
      sums.fill(0);
      for (let y = 0; y < h; y++) {
        const from = ((g.cy + j) * h + y) * width + g.cx * w;
        for (let x = 0; x < sums.length; x++) sums[x] += data[from + x];
      }
      for (let i = 0, x = 0; i < g.across; i++, o++) {
        let s = 0;
        for (const to = x + w; x < to; x++) s += sums[x];
        out[o] = s * one;
      }
    }
    return out;
  });
}

/** Means of the cells of a picture that is read sample by sample. @param read by plane, in codes of the format */
export function planes(format: PixelFormat, g: CellGrid, read: (p: number) => (x: number, y: number) => number): Cells {
  return Array.from({ length: colourPlanes(format) }, (_, p) => {
    const { sx, sy } = planeShift(format, p);
    const at = read(p);
    const [w, h] = [g.side >> sx, g.side >> sy];
    const one = 1 / (w * h * 2 ** (format.bits - 8));
    const out = new Float32Array(cellCount(g));
    for (let j = 0, o = 0; j < g.down; j++)
      for (let i = 0; i < g.across; i++, o++) {
        const [x0, y0] = [(g.cx + i) * w, (g.cy + j) * h];
        let s = 0;
        for (let y = y0; y < y0 + h; y++) for (let x = x0; x < x0 + w; x++) s += at(x, y);
        out[o] = s * one;
      }
    return out;
  });
}

/** Mean α of the cells of a luma plane, 0 … 1. */
export function alphaCells(a: PlaneAlpha, g: CellGrid): Float32Array {
  const out = new Float32Array(cellCount(g));
  const w = a.x1 - a.x0;
  const { side, cx, cy, across, down } = g;
  const one = 1 / (side * side);
  const [first, last] = [Math.max(0, Math.floor(a.x0 / side) - cx), Math.min(across - 1, Math.floor((a.x1 - 1) / side) - cx)];
  for (let y = Math.max(a.y0, cy * side); y < Math.min(a.y1, (cy + down) * side); y++) {
    const [row, to] = [(y - a.y0) * w - a.x0, (Math.floor(y / side) - cy) * across];
    for (let i = first; i <= last; i++) {
      const x = (cx + i) * side;
      let sum = 0;
      for (let k = row + Math.max(a.x0, x), end = row + Math.min(a.x1, x + side); k < end; k++) sum += a.data[k];
      out[to + i] += sum * one;
    }
  }
  return out;
}

/** Distance of each cell from the nearest that counts, in cells, between their middles; a large number where none does. */
export function distanceTo(g: CellGrid, counts: (i: number) => boolean): Float32Array {
  const d = new Float32Array(cellCount(g));
  for (let i = 0; i < d.length; i++) d[i] = counts(i) ? 0 : NONE;
  squaredDistances(d, g.across, g.down);
  return d.map(Math.sqrt);
}
