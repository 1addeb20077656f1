import type { Point } from "../document/geometry";
import { convexHull } from "../shape/hull";
import { signedArea, simplerLoop } from "../shape/loop";
import { count, type Grid, grown, not, pieces } from "../plate/regions";

/** Cells by which an outline may be off, so that it is drawn with few points and without stairs. */
const OFF = 0.75;

/** Cells across which what is found is joined, and the share of it below which a piece or a hole of it is left out. */
const JOINED = 2;
const SMALL = 0.03;

/** A form without the gaps and specks that noise leaves in it: closed (Serra 1982), its small pieces left out and its small holes filled. */
export function tidyForm(g: Grid): Grid {
  const { width: w, height: h } = g;
  // with room around it, so that nothing is worn off at the border of the picture
  const [wide, high] = [w + 2 * JOINED, h + 2 * JOINED];
  const roomy: Grid = { width: wide, height: high, data: new Uint8Array(wide * high) };
  for (let y = 0; y < h; y++) roomy.data.set(g.data.subarray(y * w, (y + 1) * w), (y + JOINED) * wide + JOINED);
  const shrunk = not(grown(not(grown(roomy, JOINED)), JOINED));
  const out: Grid = { width: w, height: h, data: new Uint8Array(g.data.length) };
  for (let y = 0; y < h; y++) out.data.set(shrunk.data.subarray((y + JOINED) * wide + JOINED, (y + JOINED) * wide + JOINED + w), y * w);
  const least = SMALL * count(out);
  for (const piece of pieces(out)) if (piece.length < least) for (const i of piece) out.data[i] = 0;
  for (const hole of pieces(not(out))) if (hole.length < least) for (const i of hole) out.data[i] = 1;
  return out;
}

/** The outlines of what is set in a grid, holes among them, in pixels; each of at least three points. @param cell pixels to a cell */
export function ringsOf(g: Grid, cell: number): Point[][] {
  const { width: w, height: h, data } = g;
  const at = (x: number, y: number) => x >= 0 && y >= 0 && x < w && y < h && data[y * w + x] === 1;
  const corner = (x: number, y: number) => y * (w + 1) + x;
  /** From each corner of a cell on the border to the next, what is set on the right. Two meet where cells touch by a corner. */
  const next = new Map<number, number[]>();
  const edge = (a: number, b: number) => void (next.get(a)?.push(b) ?? next.set(a, [b]));
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      if (!data[y * w + x]) continue;
      if (!at(x, y - 1)) edge(corner(x, y), corner(x + 1, y));
      if (!at(x + 1, y)) edge(corner(x + 1, y), corner(x + 1, y + 1));
      if (!at(x, y + 1)) edge(corner(x + 1, y + 1), corner(x, y + 1));
      if (!at(x - 1, y)) edge(corner(x, y + 1), corner(x, y));
    }
  const out: Point[][] = [];
  for (const start of next.keys()) {
    while (next.get(start)!.length) {
      const ring: Point[] = [];
      for (let c = start; ;) {
        const to = next.get(c)?.pop();
        if (to === undefined) break;
        ring.push([c % (w + 1), Math.floor(c / (w + 1))]);
        c = to;
      }
      const kept = simplerLoop(ring, OFF);
      if (kept.length > 2) out.push(kept.map(([x, y]): Point => [x * cell, y * cell]));
    }
  }
  return out;
}

/** One loop with some room round all that is set: its outline where that is one piece, or else the hull of all; pixels. Null where nothing is. */
export function loopRound(g: Grid, cell: number): Point[] | null {
  if (!count(g)) return null;
  const wide = grown(g, 1);
  const rings = ringsOf(wide, cell);
  return pieces(wide).length === 1 ? rings.reduce((a, b) => (Math.abs(signedArea(b)) > Math.abs(signedArea(a)) ? b : a)) : convexHull(rings.flat());
}
