import { catmullRom } from "../pixels/resample";
import type { Gray } from "./gray";

/** A piece of the reference in which both directions can be told apart, ready to be found again. */
export interface Tile {
  /** Left upper corner, whole pixels. */
  x: number;
  y: number;
  size: number;
  /** Its values, their mean taken off. */
  values: Float32Array;
  gx: Float32Array;
  gy: Float32Array;
  /** The inverse of the structure tensor: xx, xy, yy. */
  inverse: [number, number, number];
  /** The sum of their squares. */
  spread: number;
  /** Sums of the gradients, and of their products with the values: x, y each. */
  slopes: [number, number];
  moments: [number, number];
  /** The tensor's smaller eigenvalue: how well the tile holds. */
  hold: number;
}

/** Values around (x0, y0), lightly smoothed (¼ ½ ¼ both ways) so that noise counts for less; the edge repeats. */
export function smoothed(g: Gray, x0: number, y0: number, w: number, h: number): Float32Array {
  const { width, height, data } = g;
  const cx = (x: number) => (x < 0 ? 0 : x >= width ? width - 1 : x);
  const cy = (y: number) => (y < 0 ? 0 : y >= height ? height - 1 : y);
  const rows = new Float32Array(w * (h + 2));
  for (let y = -1; y <= h; y++) {
    const row = cy(y0 + y) * width;
    const to = (y + 1) * w;
    if (x0 >= 1 && x0 + w < width) for (let x = 0, i = row + x0; x < w; x++, i++) rows[to + x] = 0.25 * (data[i - 1] + data[i + 1]) + 0.5 * data[i];
    else for (let x = 0; x < w; x++) rows[to + x] = 0.25 * (data[row + cx(x0 + x - 1)] + data[row + cx(x0 + x + 1)]) + 0.5 * data[row + cx(x0 + x)];
  }
  const out = new Float32Array(w * h);
  for (let i = 0; i < out.length; i++) out[i] = 0.25 * (rows[i] + rows[i + 2 * w]) + 0.5 * rows[i + w];
  return out;
}

/** A tile at (x, y), or null where there is too little structure (Shi & Tomasi 1994: the smaller eigenvalue decides). */
export function tileAt(g: Gray, x: number, y: number, size: number): Tile | null {
  const w = size + 2;
  const v = smoothed(g, x - 1, y - 1, w, w);
  const n = size * size;
  const values = new Float32Array(n);
  const gx = new Float32Array(n);
  const gy = new Float32Array(n);
  let [xx, xy, yy] = [0, 0, 0];
  let mean = 0;
  const slopes: [number, number] = [0, 0];
  for (let j = 0, i = 0; j < size; j++)
    for (let k = 0; k < size; k++, i++) {
      const at = (j + 1) * w + k + 1;
      values[i] = v[at];
      gx[i] = (v[at + 1] - v[at - 1]) / 2;
      gy[i] = (v[at + w] - v[at - w]) / 2;
      xx += gx[i] * gx[i];
      xy += gx[i] * gy[i];
      yy += gy[i] * gy[i];
      mean += values[i] / n;
      slopes[0] += gx[i];
      slopes[1] += gy[i];
    }
  const hold = (xx + yy) / 2 - Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy);
  const det = xx * yy - xy * xy;
  if (hold < n * 0.02 || det <= 0) return null;
  let spread = 0;
  const moments: [number, number] = [0, 0];
  for (let i = 0; i < n; i++) {
    const v = (values[i] -= mean);
    spread += v * v;
    moments[0] += gx[i] * v;
    moments[1] += gy[i] * v;
  }
  return { x, y, size, values, gx, gy, inverse: [yy / det, -xy / det, xx / det], spread, slopes, moments, hold };
}

/** The best-holding tile of each cell of a grid, at most `most` of them. */
export function chooseTiles(g: Gray, size = 40, most = 72): Tile[] {
  const across = Math.max(2, Math.round(Math.sqrt((most * g.width) / g.height)));
  const down = Math.max(2, Math.floor(most / across));
  const out: Tile[] = [];
  const margin = 6;
  for (let r = 0; r < down; r++)
    for (let c = 0; c < across; c++) {
      const x0 = margin + ((g.width - 2 * margin) * c) / across;
      const x1 = margin + ((g.width - 2 * margin) * (c + 1)) / across - size;
      const y0 = margin + ((g.height - 2 * margin) * r) / down;
      const y1 = margin + ((g.height - 2 * margin) * (r + 1)) / down - size;
      let best: Tile | null = null;
      for (const fy of [0, 0.5, 1])
        for (const fx of [0, 0.5, 1]) {
          const x = Math.round(x0 + fx * Math.max(0, x1 - x0));
          const y = Math.round(y0 + fy * Math.max(0, y1 - y0));
          if (x < 1 || y < 1 || x + size >= g.width || y + size >= g.height) continue;
          const t = tileAt(g, x, y, size);
          if (t && (!best || t.hold > best.hold)) best = t;
        }
      if (best) out.push(best);
    }
  // gradients of noise hold nothing: with σ = 1 they come to about 0.3 a pixel
  const firm = out.filter((t) => t.hold > 0.4 * size * size);
  return firm.length >= 12 ? firm : out;
}

/**
 * Where a tile lies in `g`, as a shift from its place in the reference, starting from (dx, dy): inverse-compositional
 * Lucas–Kanade for translation, mean and contrast matched (Baker & Matthews 2004). Null when it is not found.
 */
export function findTile(t: Tile, g: Gray, dx: number, dy: number, rounds = 12): { dx: number; dy: number; ncc: number } | null {
  const { size, spread } = t;
  const n = size * size;
  // enough room that a small move needs no new look
  const room = 4;
  const ox = Math.floor(t.x + dx) - room;
  const oy = Math.floor(t.y + dy) - room;
  const w = size + 2 * room + 1;
  if (ox < -size / 4 || oy < -size / 4 || ox + w > g.width + size / 4 || oy + w > g.height + size / 4) return null;
  const patch = smoothed(g, ox, oy, w, w);
  let ncc = 0;
  for (let round = 0; round < rounds; round++) {
    const px = t.x + dx - ox;
    const py = t.y + dy - oy;
    const ix = Math.floor(px);
    const iy = Math.floor(py);
    if (ix < 1 || iy < 1 || ix + size + 2 > w || iy + size + 2 > w) return null;
    const m = momentsAt(t, patch, w, ix, iy, px - ix, py - iy);
    const mean = m.sum / n;
    const own = m.squares - n * mean * mean;
    if (own < 1e-6 || m.both <= 0) return null;
    ncc = m.both / Math.sqrt(own * spread);
    const gain = spread / m.both;
    const bx = gain * (m.gx - mean * t.slopes[0]) - t.moments[0];
    const by = gain * (m.gy - mean * t.slopes[1]) - t.moments[1];
    const sx = t.inverse[0] * bx + t.inverse[1] * by;
    const sy = t.inverse[1] * bx + t.inverse[2] * by;
    dx -= sx;
    dy -= sy;
    if (Math.abs(sx) + Math.abs(sy) < ENOUGH) break;
  }
  return { dx, dy, ncc };
}

/** A step, in pixels, after which a tile counts as found. */
const ENOUGH = 0.003;

let room = new Float32Array(0);
/** Room of a size, the same one again and again: nothing in it outlives a call. */
const roomFor = (n: number) => (room.length < n ? (room = new Float32Array(n)) : room);

/**
 * What a tile's place is worked out from: sums over the values that lie under it at a fraction of a sample, their squares, and their
 * products with the tile's values and gradients. By cubic convolution (Keys 1981), which hardly dulls fine texture.
 */
function momentsAt(t: Tile, v: Float32Array, w: number, ix: number, iy: number, fx: number, fy: number) {
  const { size, values, gx: tx, gy: ty } = t;
  const [a, b, c, d] = catmullRom(fx);
  const [e, f, g, h] = catmullRom(fy);
  const rows = roomFor(size * (size + 3));
  for (let y = 0, o = 0; y < size + 3; y++)
    for (let x = 0, i = (iy + y - 1) * w + ix - 1; x < size; x++, i++, o++) rows[o] = a * v[i] + b * v[i + 1] + c * v[i + 2] + d * v[i + 3];
  let [sum, squares, both, gx, gy] = [0, 0, 0, 0, 0];
  for (let i = 0, n = size * size; i < n; i++) {
    const s = e * rows[i] + f * rows[i + size] + g * rows[i + 2 * size] + h * rows[i + 3 * size];
    sum += s;
    squares += s * s;
    both += s * values[i];
    gx += s * tx[i];
    gy += s * ty[i];
  }
  return { sum, squares, both, gx, gy };
}
