import { type Light, lightBetween, pivotOf, SAME_LIGHT } from "../match/light";
import { median } from "../motion/gray";
import type { Alignment } from "../motion/register";

/** Luma pixels to a cell, each way: some 200 to 260 cells across. */
export const cellSize = (width: number) => Math.max(4, 2 * Math.floor(width / 420));

/** A frame as means of cells: one value a cell and plane, planes on the same grid, brought to one light and one place. */
export interface Cells {
  /** Cells across. */
  width: number;
  /** Cells down. */
  height: number;
  /** Luma pixels to a cell. */
  cell: number;
  /** Means of the cells, row by row, a plane each, in 8-bit code values. */
  planes: Float32Array[];
  /** What took the reference's light to the frame's, a plane each. */
  light: Light[];
}

/** Size of a picture in cells: what does not fill a cell at the right and lower edge is shared out. */
export const gridSize = (width: number, height: number) => ({
  width: Math.max(1, Math.round(width / cellSize(width))),
  height: Math.max(1, Math.round(height / cellSize(width))),
});

/** Cells from three planes of 16 bits, code values times 256. */
export function cellsFrom(planes: Uint16Array, width: number, height: number, cell: number): Cells {
  const n = width * height;
  const of = (p: number) => {
    const out = new Float32Array(n);
    for (let i = 0, at = p * n; i < n; i++, at++) out[i] = planes[at] / 256;
    return out;
  };
  return { width, height, cell, planes: [of(0), of(1), of(2)], light: [SAME_LIGHT, SAME_LIGHT, SAME_LIGHT] };
}

/** Cells read where an alignment says that the reference's cells lie now; bilinear, edges repeated. */
export function alignedCells(c: Cells, a: Alignment): Cells {
  if (a.dx === 0 && a.dy === 0 && a.angle === 0 && a.scale === 1) return c;
  const { width: w, height: h, cell } = c;
  const r = (a.angle * Math.PI) / 180;
  const [co, si] = [Math.cos(r) * a.scale, Math.sin(r) * a.scale];
  const planes = c.planes.map(() => new Float32Array(w * h));
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const [px, py] = [x + 0.5 - w / 2, y + 0.5 - h / 2];
      const qx = Math.min(w - 1.001, Math.max(0, w / 2 + co * px - si * py + a.dx / cell - 0.5));
      const qy = Math.min(h - 1.001, Math.max(0, h / 2 + si * px + co * py + a.dy / cell - 0.5));
      const [ix, iy] = [Math.floor(qx), Math.floor(qy)];
      const [fx, fy] = [qx - ix, qy - iy];
      const at = iy * w + ix;
      planes.forEach((out, p) => {
        const v = c.planes[p];
        out[i] = (v[at] * (1 - fx) + v[at + 1] * fx) * (1 - fy) + (v[at + w] * (1 - fx) + v[at + w + 1] * fx) * fy;
      });
    }
  return { ...c, planes };
}

/** Cells in the light of `reference`; `light` says what was taken off. */
export function inLightOf(c: Cells, reference: Cells, full: boolean): Cells {
  const light = c.planes.map((v, p) => lightBetween(every(reference.planes[p]), every(v), pivotOf(p > 0, full)));
  const planes = c.planes.map((v, p) => {
    const { gain, offset } = light[p];
    const pivot = pivotOf(p > 0, full);
    const out = new Float32Array(v.length);
    for (let i = 0; i < out.length; i++) out[i] = pivot + (v[i] - pivot - offset) / gain;
    return out;
  });
  return { ...c, light, planes };
}

/** Every so-many-th value, some seven hundred of them: enough to know the light by. */
function every(v: Float32Array): Float32Array {
  const step = Math.max(1, Math.floor(v.length / 700)) | 1;
  const out = new Float32Array(Math.ceil(v.length / step));
  for (let i = 0, j = 0; i < v.length; i += step) out[j++] = v[i];
  return out;
}

/** Mean over squares of (2r + 1)² cells; edges repeated. By running sums. */
export function boxMean(v: Float32Array, w: number, h: number, r: number): Float32Array {
  const rows = new Float32Array(v.length);
  const out = new Float32Array(v.length);
  const n = 2 * r + 1;
  for (let y = 0; y < h; y++) {
    const at = y * w;
    let s = 0;
    for (let k = -r; k <= r; k++) s += v[at + Math.min(w - 1, Math.max(0, k))];
    for (let x = 0; x < w; x++) {
      rows[at + x] = s / n;
      s += v[at + Math.min(w - 1, x + r + 1)] - v[at + Math.max(0, x - r)];
    }
  }
  for (let x = 0; x < w; x++) {
    let s = 0;
    for (let k = -r; k <= r; k++) s += rows[Math.min(h - 1, Math.max(0, k)) * w + x];
    for (let y = 0; y < h; y++) {
      out[y * w + x] = s / n;
      s += rows[Math.min(h - 1, y + r + 1) * w + x] - rows[Math.max(0, y - r) * w + x];
    }
  }
  return out;
}

/** The background of a shot in cells: what is there most of the time, and how much it varies. */
export interface Background {
  /** What is there most of the time: values of the cells, row by row, a plane each, in 8-bit code values. */
  planes: Float32Array[];
  /** Usual deviation of a cell's value from its background, a plane each, 8-bit codes; at least the shot's noise. */
  sigma: Float32Array[];
  /** The shot's noise in a cell, a plane each. */
  noise: number[];
}

/** Middle of the shortest stretch of sorted values that holds `share` of them (the shorth; Andrews et al. 1972): what is there most often, even when not half the time. */
export function mostOften(sorted: Float64Array | Float32Array, n: number, share: number): { value: number; width: number } {
  const k = Math.max(2, Math.ceil(n * share));
  let best = 0;
  let width = Infinity;
  for (let i = 0; i + k <= n; i++) {
    const d = sorted[i + k - 1] - sorted[i];
    if (d < width) {
      width = d;
      best = i;
    }
  }
  return { value: sorted[best + ((k - 1) >> 1)], width };
}

/** Deviation of a cell, in codes, that encoders and small changes of light bring anyway. */
const UNSEEN = 0.4;

/** The background of frames in one light and place. */
export function backgroundOf(frames: readonly Cells[]): Background {
  const [first] = frames;
  const count = first.width * first.height;
  const n = frames.length;
  const column = new Float32Array(n);
  const planes = first.planes.map(() => new Float32Array(count));
  const sigma = first.planes.map(() => new Float32Array(count));
  const noise: number[] = [];
  first.planes.forEach((_, p) => {
    const widths = new Float32Array(count);
    for (let i = 0; i < count; i++) {
      for (let f = 0; f < n; f++) column[f] = frames[f].planes[p][i];
      column.sort();
      const { value, width } = mostOften(column, n, 0.5);
      planes[p][i] = value;
      widths[i] = width;
    }
    // of a normal distribution half lie within ±0.674 σ
    const usual = Math.hypot(UNSEEN, median(widths.slice()) / 1.349);
    noise.push(usual);
    for (let i = 0; i < count; i++) sigma[p][i] = Math.max(usual, widths[i] / 1.349);
  });
  return { planes, sigma, noise };
}

/** Settles a cell's background on what some frames show: their middle, and the spread of the half around it. */
export function settleOn(b: Background, i: number, frames: readonly Cells[]): void {
  b.planes.forEach((plane, p) => {
    const v = frames.map((f) => f.planes[p][i]).sort((x, y) => x - y);
    plane[i] = v[(v.length - 1) >> 1];
    const half = v[Math.floor(0.75 * (v.length - 1))] - v[Math.ceil(0.25 * (v.length - 1))];
    b.sigma[p][i] = Math.max(b.noise[p], half / 1.349);
  });
}

/**
 * How far each cell of a frame is from the background, in standard deviations, over all planes; at the cell's own size, and
 * over squares of five cells for what is large and faint, as soft shadows are.
 */
export function offBackground(c: Cells, b: Background): Float32Array {
  const count = c.width * c.height;
  const fine = new Float32Array(count);
  const wide = new Float32Array(count);
  const d = new Float32Array(count);
  for (let p = 0; p < c.planes.length; p++) {
    const [v, from, sigma] = [c.planes[p], b.planes[p], b.sigma[p]];
    for (let i = 0; i < count; i++) {
      const off = (v[i] - from[i]) / sigma[i];
      d[i] = off;
      fine[i] += off * off;
    }
    const m = boxMean(d, c.width, c.height, 2);
    for (let i = 0; i < count; i++) wide[i] += m[i] * m[i];
  }
  // means over 25 cells have a fifth of the noise, were it not for what cells share: taken as a half
  for (let i = 0; i < count; i++) fine[i] = Math.max(Math.sqrt(fine[i]), 2 * Math.sqrt(wide[i]));
  return fine;
}
