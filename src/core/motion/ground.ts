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

/**
 * Small shifts of the regions of the ground in `g`, each by one step of least squares; those that show something else are left out. Both
 * are brought to one light by all of the picture: a region's own mean says most about how a soft slope has moved.
 */
export function groundShifts({ k, cells, regions }: Ground, g: Gray): RegionShift[] {
  const c = cellsOf(g, k);
  const light = lightBetween(every(cells.data), every(c.data), 0);
  const found: RegionShift[] = [];
  for (const r of regions) {
    const n = r.values.length;
    if (alike(r, c) < ALIKE) continue;
    let [xx, xy, yy, ex, ey, ee] = [0, 0, 0, 0, 0, 0];
    for (let y = r.y0, i = 0; y < r.y1; y++)
      for (let x = r.x0; x < r.x1; x++, i++) {
        const e = c.data[y * c.width + x] - light.gain * r.values[i] - light.offset;
        const [gx, gy] = [light.gain * r.gx[i], light.gain * r.gy[i]];
        xx += gx * gx;
        xy += gx * gy;
        yy += gy * gy;
        ex += gx * e;
        ey += gy * e;
        ee += e * e;
      }
    const det = xx * yy - xy * xy;
    if (det <= 0) continue;
    // value(p) = reference(p − d): the residual is −gradient · d
    const [dx, dy] = [-(yy * ex - xy * ey) / det, -(xx * ey - xy * ex) / det];
    found.push({
      x: (k * (r.x0 + r.x1)) / 2,
      y: (k * (r.y0 + r.y1)) / 2,
      width: k * (r.x1 - r.x0),
      height: k * (r.y1 - r.y0),
      dx: dx * k,
      dy: dy * k,
      error: k * Math.sqrt((ee / n) * ((xx + yy) / det)),
    });
  }
  return found;
}

/** How alike a region is in another picture, −1 … 1: its correlation. */
function alike(r: Region, c: Gray): number {
  const n = r.values.length;
  let [sa, sb, aa, ab, bb] = [0, 0, 0, 0, 0];
  for (let y = r.y0, i = 0; y < r.y1; y++)
    for (let x = r.x0; x < r.x1; x++, i++) {
      const [a, b] = [r.values[i], c.data[y * c.width + x]];
      sa += a;
      sb += b;
      aa += a * a;
      ab += a * b;
      bb += b * b;
    }
  const spread = (aa - (sa * sa) / n) * (bb - (sb * sb) / n);
  return spread > 0 ? (ab - (sa * sb) / n) / Math.sqrt(spread) : 0;
}

/** Some thousand values of many: enough to know the light by. */
function every(v: Float32Array | Uint8Array): Float32Array {
  const step = Math.max(1, Math.floor(v.length / 1000)) | 1;
  return Float32Array.from({ length: Math.ceil(v.length / step) }, (_, i) => v[i * step]);
}
