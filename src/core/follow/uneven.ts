import type { TemplateLevel } from "./template";

/** Width of the cells of the light, in samples at least, and cells across a region at most. */
const CELL = 26;
const MOST_CELLS = 6;
/** Samples' worth of certainty that a cell's light is as everywhere. */
const PRIOR = 4;

/** Where a sample lies among the cells' middles: the four around it, and how much each of them counts. */
interface Grid {
  cells: number;
  index: Int32Array;
  weight: Float64Array;
}

const grids = new WeakMap<TemplateLevel, Grid | null>();

/** The cells over a region's samples; null where it is too small to have light of more than one kind. */
function gridOf(level: TemplateLevel): Grid | null {
  const known = grids.get(level);
  if (known !== undefined) return known;
  const made = gridOver(level);
  grids.set(level, made);
  return made;
}

function gridOver({ x, y, step, every, count }: TemplateLevel): Grid | null {
  const span = (v: Float64Array) => v.reduce(([a, b], k) => [Math.min(a, k), Math.max(b, k)], [Infinity, -Infinity]);
  const [[x0, x1], [y0, y1]] = [span(x), span(y)];
  const side = Math.max(CELL * step * every, Math.max(x1 - x0, y1 - y0) / MOST_CELLS);
  const [across, down] = [x1 - x0, y1 - y0].map((v) => Math.floor(v / side) + 1);
  if (Math.min(across, down) < 2) return null;
  const index = new Int32Array(4 * count);
  const weight = new Float64Array(4 * count);
  for (let k = 0; k < count; k++) {
    const [u, v] = [((x[k] - x0) / (x1 - x0)) * (across - 1), ((y[k] - y0) / (y1 - y0)) * (down - 1)];
    const [i, j] = [Math.min(across - 2, Math.floor(u)), Math.min(down - 2, Math.floor(v))];
    for (let q = 0; q < 4; q++) {
      index[4 * k + q] = (j + (q >> 1)) * across + i + (q & 1);
      weight[4 * k + q] = (q & 1 ? u - i : 1 - u + i) * (q >> 1 ? v - j : 1 - v + j);
    }
  }
  return { cells: across * down, index, weight };
}

/**
 * Light that differs in places over a region: codes that come on top, linear between the middles of cells. Gloss and shade, beside the gain
 * and offset of the whole.
 */
export class UnevenLight {
  private readonly at: Float64Array;
  private constructor(private readonly grid: Grid) {
    this.at = new Float64Array(grid.cells);
  }

  /** None where a region is too small for it. */
  static over(level: TemplateLevel): UnevenLight | null {
    const grid = gridOf(level);
    return grid && new UnevenLight(grid);
  }

  /** How many numbers it has. */
  get freedom(): number {
    return this.grid.cells;
  }

  /** The light at a sample, codes. */
  of(k: number): number {
    const { index, weight } = this.grid;
    let s = 0;
    for (let q = 4 * k; q < 4 * k + 4; q++) s += weight[q] * this.at[index[q]];
    return s;
  }

  /**
   * Learns from what is left of each sample after it, outliers weighted down (Huber 1964): one round of fitting back what remains
   * (Friedman & Stuetzle 1981).
   * @param left codes; NaN takes no part @param limit codes beyond which a sample loses weight
   */
  learn(left: Float64Array, limit: number): void {
    const { cells, index, weight } = this.grid;
    const sum = new Float64Array(cells);
    const total = new Float64Array(cells).fill(PRIOR);
    for (let k = 0; k < left.length; k++) {
      const r = left[k];
      if (Number.isNaN(r)) continue;
      const w = Math.abs(r) < limit ? 1 : limit / Math.abs(r);
      for (let q = 4 * k; q < 4 * k + 4; q++) {
        sum[index[q]] += w * weight[q] * r;
        total[index[q]] += w * weight[q];
      }
    }
    for (let c = 0; c < cells; c++) this.at[c] += sum[c] / total[c];
  }
}
