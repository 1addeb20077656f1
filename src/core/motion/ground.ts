import { cellMeans, type Gray, median } from "./gray";

/**
 * The soft ground of a picture: what is out of focus or nearly plain holds no tile, but all of it together says well whether it moves.
 * Means of cells in a grid of regions, each with the gradients that a shift of it would show by (Lucas & Kanade 1981).
 */
export interface Ground {
  /** Pixels to a cell. */
  k: number;
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
  return { k, regions };
}

/** How the ground lies in a picture, pixels, with its standard error; null where too little of it can be seen. */
export interface GroundShift {
  dx: number;
  dy: number;
  error: number;
  /** Share of the picture that says so. */
  share: number;
}

/**
 * The small shift of the ground in `g`, of all regions but those that `besides` names by their middle (pixels): of each by one step
 * of least squares in its own light, of all together their middle.
 */
export function groundShift(
  { k, regions }: Ground,
  g: Gray,
  besides: (x0: number, y0: number, x1: number, y1: number) => boolean,
): GroundShift | null {
  const c = cellsOf(g, k);
  const found: { dx: number; dy: number; error: number }[] = [];
  for (const r of regions) {
    if (besides(r.x0 * k, r.y0 * k, r.x1 * k, r.y1 * k)) continue;
    const n = r.values.length;
    let [ma, mb] = [0, 0];
    for (let y = r.y0, i = 0; y < r.y1; y++)
      for (let x = r.x0; x < r.x1; x++, i++) {
        ma += r.values[i];
        mb += c.data[y * c.width + x];
      }
    ma /= n;
    mb /= n;
    let [aa, ab, bb] = [0, 0, 0];
    for (let y = r.y0, i = 0; y < r.y1; y++)
      for (let x = r.x0; x < r.x1; x++, i++) {
        const [a, b] = [r.values[i] - ma, c.data[y * c.width + x] - mb];
        aa += a * a;
        ab += a * b;
        bb += b * b;
      }
    if (ab / Math.sqrt(aa * bb) < ALIKE || !aa) continue;
    const gain = ab / aa;
    let [xx, xy, yy, ex, ey, ee] = [0, 0, 0, 0, 0, 0];
    for (let y = r.y0, i = 0; y < r.y1; y++)
      for (let x = r.x0; x < r.x1; x++, i++) {
        const e = c.data[y * c.width + x] - mb - gain * (r.values[i] - ma);
        const [gx, gy] = [gain * r.gx[i], gain * r.gy[i]];
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
    found.push({ dx: dx * k, dy: dy * k, error: k * Math.sqrt((ee / n) * ((xx + yy) / det)) });
  }
  if (found.length < regions.length / 6) return null;
  // those that know best count: as many as hold half of what is known
  found.sort((a, b) => a.error - b.error);
  const sure = found.slice(0, Math.max(5, Math.ceil(found.length / 2)));
  const [dx, dy] = [median(sure.map((f) => f.dx)), median(sure.map((f) => f.dy))];
  const spread = 1.4826 * median(sure.map((f) => Math.hypot(f.dx - dx, f.dy - dy)));
  return { dx, dy, error: (1.25 * spread) / Math.sqrt(sure.length), share: found.length / regions.length };
}
