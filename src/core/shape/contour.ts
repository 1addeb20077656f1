import type { Edges } from "./boundary";
import type { Matte } from "./matte";

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
  const cross = (a: number, b: number) => (0.5 - a) / (b - a);
  for (let y = -1; y < h; y++) {
    const inner = y >= 0 && y < h - 1;
    for (let x = -1; x < w; x++) {
      let a: number;
      let b: number;
      let c: number;
      let d: number;
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
      const top = () => [x + px + cross(a, b), y + py];
      const right = () => [x + 1 + px, y + py + cross(b, c)];
      const bottom = () => [x + px + cross(d, c), y + 1 + py];
      const left = () => [x + px, y + py + cross(a, d)];
      const edge = (p: number[], q: number[]) => out.push(p[0], p[1], q[0], q[1]);
      const middle = a + b + c + d >= 2;
      // every edge runs with the inside on its right (y down)
      if (k === 1) edge(bottom(), left());
      else if (k === 2) edge(right(), bottom());
      else if (k === 3) edge(right(), left());
      else if (k === 4) edge(top(), right());
      else if (k === 6) edge(top(), bottom());
      else if (k === 7) edge(top(), left());
      else if (k === 8) edge(left(), top());
      else if (k === 9) edge(bottom(), top());
      else if (k === 11) edge(right(), top());
      else if (k === 12) edge(left(), right());
      else if (k === 13) edge(bottom(), right());
      else if (k === 14) edge(left(), bottom());
      else if (k === 5) {
        if (middle) {
          edge(top(), left());
          edge(bottom(), right());
        } else {
          edge(top(), right());
          edge(bottom(), left());
        }
      } else if (middle) {
        edge(right(), top());
        edge(left(), bottom());
      } else {
        edge(left(), top());
        edge(right(), bottom());
      }
    }
  }
  return Float64Array.from(out);
}
