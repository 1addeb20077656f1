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
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= w || y >= h ? m.outside : m.data[y * w + x]);
  const out: number[] = [];
  const px = m.x0 + 0.5;
  const py = m.y0 + 0.5;
  // one cell: its corners from the top left clockwise, and where it lies
  let [a, b, c, d, x, y] = [0, 0, 0, 0, 0, 0];
  const cross = (p: number, q: number) => (0.5 - p) / (q - p);
  const point = (side: number) => {
    if (side === TOP) out.push(x + px + cross(a, b), y + py);
    else if (side === RIGHT) out.push(x + 1 + px, y + py + cross(b, c));
    else if (side === BOTTOM) out.push(x + px + cross(d, c), y + 1 + py);
    else out.push(x + px, y + py + cross(a, d));
  };
  for (y = -1; y < h; y++) {
    const inner = y >= 0 && y < h - 1;
    for (x = -1; x < w; x++) {
      if (inner && x >= 0 && x < w - 1) {
        const i = y * w + x;
        a = m.data[i];
        b = m.data[i + 1];
        d = m.data[i + w];
        c = m.data[i + w + 1];
      } else {
        a = at(x, y);
        b = at(x + 1, y);
        c = at(x + 1, y + 1);
        d = at(x, y + 1);
      }
      const k = (a >= 0.5 ? 8 : 0) | (b >= 0.5 ? 4 : 0) | (c >= 0.5 ? 2 : 0) | (d >= 0.5 ? 1 : 0);
      if (k === 0 || k === 15) continue;
      const saddle = k === 5 ? 0 : k === 10 ? 2 : -1;
      const sides = saddle < 0 ? SIDES[k] : SADDLES[saddle + (a + b + c + d >= 2 ? 0 : 1)];
      for (let i = 0; i < sides.length; i++) point(sides[i]);
    }
  }
  return Float64Array.from(out);
}
