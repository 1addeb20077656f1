import type { Edges } from "./boundary";
import type { Matte } from "./matte";

const [TOP, RIGHT, BOTTOM, LEFT] = [0, 1, 2, 3];

/** From side to side of a cell, by which of its corners lie inside; every edge runs with the inside on its right (y down). */
const SIDES: readonly number[][] = [
  [],
  [BOTTOM, LEFT],
  [RIGHT, BOTTOM],
  [RIGHT, LEFT],
  [TOP, RIGHT],
  [],
  [TOP, BOTTOM],
  [TOP, LEFT],
  [LEFT, TOP],
  [BOTTOM, TOP],
  [],
  [RIGHT, TOP],
  [LEFT, RIGHT],
  [BOTTOM, RIGHT],
  [LEFT, BOTTOM],
  [],
];
/** Two opposite corners inside: joined in the middle or not, for either pair. */
const SADDLES: readonly number[][] = [
  [TOP, LEFT, BOTTOM, RIGHT],
  [TOP, RIGHT, BOTTOM, LEFT],
  [RIGHT, TOP, LEFT, BOTTOM],
  [LEFT, TOP, RIGHT, BOTTOM],
];

/**
 * The α = ½ contour of a matte as edges, inside on one hand: marching squares over pixel centres with linear
 * interpolation (Lorensen & Cline 1987, in two dimensions); saddles are settled by the mean of the four.
 * What lies outside the matte's rectangle counts as its `outside` value.
 */
export function halfContour(m: Matte): Edges {
  const w = m.x1 - m.x0;
  const h = m.y1 - m.y0;
  const { data } = m;
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= w || y >= h ? m.outside : data[y * w + x]);
  const out: number[] = [];
  for (let y = -1; y < h; y++) {
    const inner = y >= 0 && y < h - 1;
    for (let x = -1; x < w; x++) {
      if (inner && x >= 0 && x < w - 1) {
        const i = y * w + x;
        const a = data[i];
        // by far most cells are all in or all out
        if (a === data[i + 1] && a === data[i + w] && a === data[i + w + 1]) continue;
        cell(out, x + m.x0 + 0.5, y + m.y0 + 0.5, a, data[i + 1], data[i + w + 1], data[i + w]);
      } else cell(out, x + m.x0 + 0.5, y + m.y0 + 0.5, at(x, y), at(x + 1, y), at(x + 1, y + 1), at(x, y + 1));
    }
  }
  return Float64Array.from(out);
}

/** The edges of one cell, whose top left corner is at (x, y), by its corners from there clockwise. */
function cell(out: number[], x: number, y: number, a: number, b: number, c: number, d: number): void {
  const k = (a >= 0.5 ? 8 : 0) | (b >= 0.5 ? 4 : 0) | (c >= 0.5 ? 2 : 0) | (d >= 0.5 ? 1 : 0);
  if (k === 0 || k === 15) return;
  const saddle = k === 5 ? 0 : k === 10 ? 2 : -1;
  const sides = saddle < 0 ? SIDES[k] : SADDLES[saddle + (a + b + c + d >= 2 ? 0 : 1)];
  for (const side of sides) {
    if (side === TOP) out.push(x + half(a, b), y);
    else if (side === RIGHT) out.push(x + 1, y + half(b, c));
    else if (side === BOTTOM) out.push(x + half(d, c), y + 1);
    else out.push(x, y + half(a, d));
  }
}

/** Where between p and q the value is ½. */
const half = (p: number, q: number) => (0.5 - p) / (q - p);
