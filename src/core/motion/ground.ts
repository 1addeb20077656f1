import { lightBetween } from "../match/light";
import { cellMeans, type Gray } from "./gray";

/**
 * The soft ground of a picture: what is out of focus or nearly plain holds no tile, but all of it together says well whether it moves.
 * Means of cells in a grid of regions, each with the gradients that a shift of it would show by (Lucas & Kanade 1981).
 */
export interface Ground {
  /** Pixels to a cell. */
  k: number;
  cells: Gray;
  regions: Region[];
}

interface Region {
  /** In cells. */
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  values: Float32Array;
  gx: Float32Array;
  gy: Float32Array;
}

const ACROSS = 8;
const DOWN = 5;
/** Cells across the picture. */
const CELLS = 320;
/** A region that looks less like itself than this has something else in it. */
const ALIKE = 0.6;

const cellsOf = (g: Gray, k: number) => cellMeans({ width: g.width, height: g.height, data: g.data as Uint8Array }, 8, k);

/** Prepares the ground of the picture that others are measured against. */
export function groundOf(g: Gray): Ground {
  const k = Math.max(2, Math.round(g.width / CELLS));
  const c = cellsOf(g, k);
  const regions: Region[] = [];
  for (let r = 0; r < DOWN; r++)
    for (let q = 0; q < ACROSS; q++) {
      const [x0, x1] = [1 + Math.floor(((c.width - 2) * q) / ACROSS), 1 + Math.floor(((c.width - 2) * (q + 1)) / ACROSS)];
      const [y0, y1] = [1 + Math.floor(((c.height - 2) * r) / DOWN), 1 + Math.floor(((c.height - 2) * (r + 1)) / DOWN)];
      const n = (x1 - x0) * (y1 - y0);
      const [values, gx, gy] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
      for (let y = y0, i = 0; y < y1; y++)
        for (let x = x0; x < x1; x++, i++) {
          const at = y * c.width + x;
          values[i] = c.data[at];
          gx[i] = (c.data[at + 1] - c.data[at - 1]) / 2;
          gy[i] = (c.data[at + c.width] - c.data[at - c.width]) / 2;
        }
      if (n > 16) regions.push({ x0, y0, x1, y1, values, gx, gy });
    }
  return { k, cells: c, regions };
}

/** How one region of the ground lies in a picture: its middle and its shift, pixels, and that shift's standard error. */
export interface RegionShift {
  x: number;
  y: number;
  width: number;
  height: number;
  dx: number;
  dy: number;
  error: number;
}

/** How many times the noise's a region's slopes must be, both ways, to hold anything. */
const HOLDS = 2;

/** A shift of a region, in cells, what is left of it at the whole cells it was looked for from and once it is shifted, and how alike it is. */
interface Fit {
  dx: number;
  dy: number;
  squares: number;
  rest: number;
  alike: number;
  /** The trace of the inverse of the structure tensor, by which errors are told. */
  loose: number;
}

/**
 * Small shifts of the regions of the ground in `g`, each by one step of least squares; those that show something else are left out. Both
 * are brought to one light by all of the picture: a region's own mean says most about how a soft slope has moved.
 * @param guess where a region may lie as well, pixels: it is looked for from the whole cells next to that too, and what leaves less is taken.
 * Nothing is interpolated: that would take noise away, and with it speak for whatever is no whole cell
 */
export function groundShifts({ k, cells, regions }: Ground, g: Gray, guess?: (x: number, y: number) => readonly [number, number]): RegionShift[] {
  const c = cellsOf(g, k);
  const light = lightBetween(every(cells.data), every(c.data), 0);
  const found: RegionShift[] = [];
  for (const r of regions) {
    const [x, y] = [(k * (r.x0 + r.x1)) / 2, (k * (r.y0 + r.y1)) / 2];
    const by = guess?.(x, y).map((v) => Math.round(v / k)) ?? [0, 0];
    const starts = by[0] || by[1] ? [[0, 0], by] : [by];
    const fits = starts.flatMap(([dx, dy]) => shiftFrom(r, c, light, dx, dy) ?? []);
    if (!fits.length) continue;
    const { dx, dy, squares, alike, loose } = fits.reduce((p, q) => (q.rest < p.rest ? q : p));
    if (alike < ALIKE) continue;
    const error = k * Math.sqrt((squares / r.values.length) * loose);
    found.push({ x, y, width: k * (r.x1 - r.x0), height: k * (r.y1 - r.y0), dx: dx * k, dy: dy * k, error });
  }
  return found;
}

/** A region's shift, looked for so many whole cells to the right and down; null where it cannot be told, or would lie beyond the picture. */
function shiftFrom(r: Region, c: Gray, { gain, offset }: { gain: number; offset: number }, right: number, down: number): Fit | null {
  if (r.x0 + right < 0 || r.y0 + down < 0 || r.x1 + right > c.width || r.y1 + down > c.height) return null;
  const n = r.values.length;
  let [xx, xy, yy, ex, ey, squares] = [0, 0, 0, 0, 0, 0];
  let [sa, sb, aa, ab, bb] = [0, 0, 0, 0, 0];
  for (let y = r.y0, i = 0; y < r.y1; y++)
    for (let x = r.x0; x < r.x1; x++, i++) {
      const [a, b] = [r.values[i], c.data[(y + down) * c.width + x + right]];
      const e = b - gain * a - offset;
      const [gx, gy] = [gain * r.gx[i], gain * r.gy[i]];
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
      ex += gx * e;
      ey += gy * e;
      squares += e * e;
      sa += a;
      sb += b;
      aa += a * a;
      ab += a * b;
      bb += b * b;
    }
  const plain = xx * yy - xy * xy;
  if (plain <= 0) return null;
  const rest = squares - (yy * ex * ex - 2 * xy * ex * ey + xx * ey * ey) / plain;
  // slopes of noise hold nothing, and would make every shift look smaller: half of what is left is the reference's, a half of that in each slope
  const noise = rest / (4 * gain * gain);
  if ((xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy) < HOLDS * noise) return null;
  [xx, yy] = [xx - noise, yy - noise];
  const det = xx * yy - xy * xy;
  // value(p) = reference(p − d): the residual is −gradient · d
  const [mx, my] = [-(yy * ex - xy * ey) / det, -(xx * ey - xy * ex) / det];
  const spread = (aa - (sa * sa) / n) * (bb - (sb * sb) / n);
  return {
    dx: right + mx,
    dy: down + my,
    squares,
    rest,
    alike: spread > 0 ? (ab - (sa * sb) / n) / Math.sqrt(spread) : 0,
    loose: (xx + yy) / det,
  };
}

/** Some thousand values of many: enough to know the light by. */
function every(v: Float32Array | Uint8Array): Float32Array {
  const step = Math.max(1, Math.floor(v.length / 1000)) | 1;
  return Float32Array.from({ length: Math.ceil(v.length / step) }, (_, i) => v[i * step]);
}
