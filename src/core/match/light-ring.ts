import { median } from "../motion/gray";
import { keptRing, type PlaneAsk, type RingCells } from "./ring";

/** The ring by which light is told, in luma pixels outside α > 0. */
export const RING = { from: 6, to: 24 };
/** The same in cells, from middle to middle: α and what is compared may lie at their far ends. */
const RING_CELLS = { from: 2.4, to: 5 };
/** Side of the cells whose means are compared, and of the areas along the rim that have a light of their own, in luma pixels. */
const CELL = 4;
const AREA = 16;
/** Standard deviations at which a residual begins to lose weight (Huber 1964), and beyond which it has none (Beaton & Tukey 1974). */
const HUBER = 1.345;
const BISQUARE = 4.685;
/** Where a gain moves by no more in a round, it is found. */
const SETTLED = 2e-6;
/** Codes below which the spread of cells' residuals is rounding, 8 bits. */
const LEAST = 0.05;
/** Areas with fewer cells say nothing, and so do rings with fewer than twice as many. */
const LEAST_CELLS = 4;

/** One plane of a patch and of what lies below it. */
export interface LitPlane extends PlaneAsk {
  /** The code a gain leaves alone. */
  pivot: number;
}

/** Cells of a ring, about the pivot: means of the patch's picture and of the footage. */
export interface Cells {
  x: Float64Array;
  y: Float64Array;
  /** The area each cell lies in. */
  area: Int32Array;
  count: number;
}

/** The grid of areas around a patch. */
export interface Areas {
  x0: number;
  y0: number;
  across: number;
  down: number;
  /** Samples of the plane an area is wide and high. */
  w: number;
  h: number;
}

/** What lies around one plane of a patch, measured. */
export interface LightRing {
  plane: LitPlane;
  areas: Areas;
  cells: Cells;
  /** Codes below which residuals are rounding. */
  least: number;
  /** What the areas' own cells say, each asked once. */
  told: Partial<Record<LightBy, AreaLight[]>>;
}

/** Light changes codes by a ratio or by an offset. */
export type LightBy = "gain" | "offset";

/** The light of one area, by its own cells. */
export interface AreaLight {
  /** Its place in the grid. */
  area: number;
  /** A ratio, or codes. */
  value: number;
  /** The spread of what it leaves over, codes. */
  sigma: number;
  cells: Int32Array;
}

/** The cells of the ring around a patch, and the areas they lie in. @returns null where the ring holds too little to tell */
export function lightRing(a: LitPlane): LightRing | null {
  const cell = { w: CELL >> a.shift.sx, h: CELL >> a.shift.sy };
  const { width, height } = a.below;
  const ring = keptRing(a.alpha, width, height, cell, RING_CELLS);
  const reach = RING.to + CELL;
  const [rx, ry] = [reach >> a.shift.sx, reach >> a.shift.sy];
  const areas: Areas = {
    ...{ x0: Math.max(0, a.alpha.x0 - rx), y0: Math.max(0, a.alpha.y0 - ry), w: AREA >> a.shift.sx, h: AREA >> a.shift.sy },
    ...{ across: 0, down: 0 },
  };
  areas.across = Math.max(1, Math.ceil((Math.min(width, a.alpha.x1 + rx) - areas.x0) / areas.w));
  areas.down = Math.max(1, Math.ceil((Math.min(height, a.alpha.y1 + ry) - areas.y0) / areas.h));
  const cells = cellsOf(a, ring, cell, areas);
  return cells.count < 2 * LEAST_CELLS ? null : { plane: a, areas, cells, least: LEAST * a.unit, told: {} };
}

/** The index of the area in which a sample of the plane lies; −1 where in none. */
export function areaAt({ x0, y0, across, down, w, h }: Areas, x: number, y: number): number {
  const [i, j] = [Math.floor((x - x0) / w), Math.floor((y - y0) / h)];
  return i >= 0 && j >= 0 && i < across && j < down ? j * across + i : -1;
}

/** The middle of an area, in samples of the plane, counted from its left and upper edge. */
export const middleOfArea = ({ x0, y0, across, w, h }: Areas, area: number): [number, number] => [
  x0 + w * ((area % across) + 0.5),
  y0 + h * (Math.floor(area / across) + 0.5),
];

function cellsOf(a: LitPlane, ring: RingCells, { w, h }: { w: number; h: number }, areas: Areas): Cells {
  const most = ring.count;
  const out = { x: new Float64Array(most), y: new Float64Array(most), area: new Int32Array(most), count: 0 };
  const { data, width } = a.below;
  for (let k = 0; k < most; k++) {
    const [x, y] = [ring.x[k], ring.y[k]];
    if (!a.counts(x, y) || !a.counts(x + w - 1, y) || !a.counts(x, y + h - 1) || !a.counts(x + w - 1, y + h - 1)) continue;
    let [p, q] = [0, 0];
    for (let j = y; j < y + h; j++)
      for (let i = x; i < x + w; i++) {
        p += a.value(i, j);
        q += data[j * width + i];
      }
    out.x[out.count] = p / (w * h) - a.pivot;
    out.y[out.count] = q / (w * h) - a.pivot;
    const [ax, ay] = [Math.floor((x - areas.x0) / areas.w), Math.floor((y - areas.y0) / areas.h)];
    out.area[out.count++] = Math.min(areas.down - 1, Math.max(0, ay)) * areas.across + Math.min(areas.across - 1, Math.max(0, ax));
  }
  return out;
}

/** The light of all areas that say something. */
export function areaLights(r: LightRing, by: LightBy): AreaLight[] {
  return (r.told[by] ??= membersOf(r).flatMap((of, area) => {
    if (of.length < LEAST_CELLS) return [];
    const cells = Int32Array.from(of);
    return [{ area, cells, ...robust(r.cells, cells, by, r.least) }];
  }));
}

/** The cells of each area. */
function membersOf({ cells, areas }: LightRing): number[][] {
  const members: number[][] = Array.from({ length: areas.across * areas.down }, () => []);
  for (let i = 0; i < cells.count; i++) members[cells.area[i]].push(i);
  return members;
}

/** The light of all cells together. */
export function wholeLight({ cells, least }: LightRing, by: LightBy): number {
  const all = Int32Array.from({ length: cells.count }, (_, i) => i);
  return robust(cells, all, by, least).value;
}

/** The ratio or the difference of some cells, and the spread of what it leaves over. */
function robust({ x, y }: Cells, of: Int32Array, by: LightBy, least: number): { value: number; sigma: number } {
  const n = of.length;
  const r = new Float64Array(n);
  let value: number;
  if (by === "gain") {
    // ratios of cells near the pivot say nothing
    const ratios = Array.from(of, (i) => [y[i] / x[i], Math.abs(x[i])] as const).filter(([v, m]) => Number.isFinite(v) && m > 4);
    value = ratios.length ? median(Float64Array.from(ratios, ([v]) => v)) : 1;
  } else value = median(Float64Array.from(of, (i) => y[i] - x[i]));
  let sigma = least;
  const room = new Float64Array(n);
  for (let round = 0; round < 20; round++) {
    for (let k = 0; k < n; k++) r[k] = y[of[k]] - (by === "gain" ? value * x[of[k]] : x[of[k]] + value);
    // the spread changes slowly, and a middle value costs more than all the rest
    if (round < 3 || round % 3 === 0) {
      for (let k = 0; k < n; k++) room[k] = Math.abs(r[k]);
      sigma = Math.max(least, 1.4826 * median(room));
    }
    const convex = round < 6;
    const limit = (convex ? HUBER : BISQUARE) * sigma;
    let [sw, sv] = [0, 0];
    for (let k = 0; k < n; k++) {
      const off = Math.abs(r[k]);
      const w = off < limit ? (convex ? 1 : (1 - (off / limit) ** 2) ** 2) : convex ? limit / off : 0;
      const i = of[k];
      sw += by === "gain" ? w * x[i] * x[i] : w;
      sv += by === "gain" ? w * x[i] * y[i] : w * (y[i] - x[i]);
    }
    if (sw <= 0) break;
    const next = sv / sw;
    const moved = Math.abs(next - value);
    value = next;
    if (moved < SETTLED * (by === "gain" ? 1 : 256 * least) && !convex) break;
  }
  return { value, sigma };
}
