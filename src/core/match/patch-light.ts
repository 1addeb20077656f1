import { median } from "../motion/gray";
import { keptSurround, type PlaneAsk } from "./ring";

/** The ring by which light is told, in luma pixels outside α > 0. */
export const RING = { from: 6, to: 24 };
/** Side of the cells whose means are compared, and of the areas along the rim that have a light of their own, in luma pixels. */
const CELL = 4;
const AREA = 16;
/** Standard deviations at which a residual begins to lose weight (Huber 1964), and beyond which it has none (Beaton & Tukey 1974). */
const HUBER = 1.345;
const BISQUARE = 4.685;
/** Codes below which the spread of cells' residuals is rounding, 8 bits. */
const LEAST = 0.05;
/** What an area's light has to explain: residuals of so many times the usual spread are something else. */
const EXPLAINS = 1.5;
/** Shares of areas that vote, between which the light along the rim gives way to that of the whole. */
const VOTES = { all: 0.5, none: 0.3 };
/** A ratio beyond these is no light. */
const RATIO = { least: 0.5, most: 2 };
/** How firmly the membrane holds to an area's own light, against its four neighbours. */
const HOLD = 4;
/** Areas with fewer cells say nothing. */
const LEAST_CELLS = 4;

/** How the light of a picture's plane is changed: v′ = pivot + gain·(v − pivot) + offset. */
export interface PlaneLight {
  pivot: number;
  gain: (x: number, y: number) => number;
  offset: (x: number, y: number) => number;
  /** The share of the rim that told it, 0 … 1. */
  votes: number;
}

/** One plane of a patch and of what lies below it. */
export interface LightAsk extends PlaneAsk {
  /** The code a gain leaves alone. */
  pivot: number;
  /** Luma and R′G′B′ change by a ratio, chroma by an offset. */
  by: "gain" | "offset";
  /** Over the whole, or along the rim and spread inward. */
  spread: "whole" | "rim";
}

interface Cells {
  /** Means of the picture's and of the footage's cells, about the pivot. */
  x: Float64Array;
  y: Float64Array;
  /** The area each cell lies in. */
  area: Int32Array;
  count: number;
}

/** The grid of areas around a patch. */
interface Areas {
  x0: number;
  y0: number;
  across: number;
  down: number;
  /** Samples of the plane an area is wide and high. */
  w: number;
  h: number;
}

/**
 * The light of the footage around a patch against that of its picture: by the ring 6–24 px outside α > 0, means of cells, least squares
 * whose outliers lose their weight (Huber 1964; Beaton & Tukey 1974), so that whatever passes there counts for little. `rim`: areas along
 * the rim have each their own, spread inward by a membrane (Pérez et al. 2003) on the areas' grid, the picture's borders without flow;
 * an area that the light does not explain has no vote, and where few have one, the light of the whole is taken.
 * @returns null where the ring holds too little to tell
 */
export function patchLight(a: LightAsk): PlaneLight | null {
  const [cw, ch] = [CELL >> a.shift.sx, CELL >> a.shift.sy];
  const [from, to] = [RING.from >> a.shift.sx, RING.to >> a.shift.sx];
  const s = keptSurround(a.alpha, a.below.width, a.below.height, to);
  const areas: Areas = { x0: s.x0, y0: s.y0, w: AREA >> a.shift.sx, h: AREA >> a.shift.sy, across: 0, down: 0 };
  areas.across = Math.max(1, Math.ceil((s.x1 - s.x0) / areas.w));
  areas.down = Math.max(1, Math.ceil((s.y1 - s.y0) / areas.h));
  const cells = cellsOf(a, s, { cw, ch, from: from * from, to: to * to }, areas);
  if (cells.count < 2 * LEAST_CELLS) return null;
  const all = Int32Array.from({ length: cells.count }, (_, i) => i);
  const whole = robust(cells, all, a.by, LEAST * a.unit);
  const { pivot } = a;
  const even = { pivot, gain: () => (a.by === "gain" ? whole.value : 1), offset: () => (a.by === "gain" ? 0 : whole.value), votes: 1 };
  if (a.spread === "whole") return even;
  const { field, votes } = alongRim(cells, areas, a.by, whole.value, LEAST * a.unit);
  const local = Math.min(1, Math.max(0, (votes - VOTES.none) / (VOTES.all - VOTES.none)));
  const read = between(field, areas);
  const value = (x: number, y: number) => whole.value + local * (read(x, y) - whole.value);
  return a.by === "gain" ? { pivot, gain: value, offset: () => 0, votes } : { pivot, gain: () => 1, offset: value, votes };
}

function cellsOf(
  a: LightAsk,
  s: { x0: number; y0: number; x1: number; y1: number; far: Float32Array },
  ring: { cw: number; ch: number; from: number; to: number },
  areas: Areas,
): Cells {
  const [w, h] = [s.x1 - s.x0, s.y1 - s.y0];
  const { cw, ch } = ring;
  const most = Math.ceil(w / cw) * Math.ceil(h / ch);
  const out = { x: new Float64Array(most), y: new Float64Array(most), area: new Int32Array(most), count: 0 };
  const half = (cw * ch) / 2;
  for (let cy = 0; cy < h; cy += ch)
    for (let cx = 0; cx < w; cx += cw) {
      let [n, p, q] = [0, 0, 0];
      for (let j = cy; j < Math.min(h, cy + ch); j++)
        for (let i = cx; i < Math.min(w, cx + cw); i++) {
          const d = s.far[j * w + i];
          if (d <= ring.from || d > ring.to || !a.counts(s.x0 + i, s.y0 + j)) continue;
          n++;
          p += a.value(s.x0 + i, s.y0 + j);
          q += a.below.data[(s.y0 + j) * a.below.width + s.x0 + i];
        }
      if (n < half) continue;
      out.x[out.count] = p / n - a.pivot;
      out.y[out.count] = q / n - a.pivot;
      out.area[out.count++] = Math.floor(cy / areas.h) * areas.across + Math.floor(cx / areas.w);
    }
  return out;
}

/** The ratio or the difference of some cells, and the spread of what it leaves over. */
function robust({ x, y }: Cells, of: Int32Array, by: "gain" | "offset", least: number): { value: number; sigma: number } {
  const n = of.length;
  const r = new Float64Array(n);
  let value: number;
  if (by === "gain") {
    // ratios of cells near the pivot say nothing
    const ratios = Array.from(of, (i) => [y[i] / x[i], Math.abs(x[i])] as const).filter(([v, m]) => Number.isFinite(v) && m > 4);
    value = ratios.length ? median(Float64Array.from(ratios, ([v]) => v)) : 1;
  } else value = median(Float64Array.from(of, (i) => y[i] - x[i]));
  let sigma = least;
  for (let round = 0; round < 20; round++) {
    for (let k = 0; k < n; k++) r[k] = y[of[k]] - (by === "gain" ? value * x[of[k]] : x[of[k]] + value);
    sigma = Math.max(least, 1.4826 * median(r.map(Math.abs)));
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
    if (moved < 1e-7 && !convex) break;
  }
  return { value, sigma };
}

/** Each area's own light where it explains what is there, spread over all areas by a membrane. */
function alongRim(cells: Cells, areas: Areas, by: "gain" | "offset", whole: number, least: number) {
  const count = areas.across * areas.down;
  const members: number[][] = Array.from({ length: count }, () => []);
  for (let i = 0; i < cells.count; i++) members[cells.area[i]].push(i);
  const asked = members.flatMap((m, i) => (m.length >= LEAST_CELLS ? [{ i, ...robust(cells, Int32Array.from(m), by, least) }] : []));
  const usual = asked.length ? median(Float64Array.from(asked, (a) => a.sigma)) : least;
  const told = asked.filter(
    (a) => a.sigma <= EXPLAINS * Math.max(usual, least) && (by === "offset" || (a.value / whole > RATIO.least && a.value / whole < RATIO.most)),
  );
  const field = new Float64Array(count).fill(whole);
  const known = new Uint8Array(count);
  for (const t of told) {
    field[t.i] = t.value;
    known[t.i] = 1;
  }
  const own = field.slice();
  // the grid is small: plain successive over-relaxation does (Young 1954)
  const { across, down } = areas;
  const rounds = 4 * (across + down) + 40;
  for (let k = 0; k < rounds; k++)
    for (let y = 0, i = 0; y < down; y++)
      for (let x = 0; x < across; x++, i++) {
        let [sum, n] = known[i] ? [HOLD * own[i], HOLD] : [0, 0];
        if (x > 0) [sum, n] = [sum + field[i - 1], n + 1];
        if (x < across - 1) [sum, n] = [sum + field[i + 1], n + 1];
        if (y > 0) [sum, n] = [sum + field[i - across], n + 1];
        if (y < down - 1) [sum, n] = [sum + field[i + across], n + 1];
        if (n) field[i] += 1.6 * (sum / n - field[i]);
      }
  return { field, votes: asked.length ? told.length / asked.length : 0 };
}

/** The areas' values, linearly between their middles. */
function between(field: Float64Array, { x0, y0, across, down, w, h }: Areas): (x: number, y: number) => number {
  return (x, y) => {
    const fx = Math.min(across - 1, Math.max(0, (x + 0.5 - x0) / w - 0.5));
    const fy = Math.min(down - 1, Math.max(0, (y + 0.5 - y0) / h - 0.5));
    const [ix, iy] = [Math.min(Math.max(0, across - 2), Math.floor(fx)), Math.min(Math.max(0, down - 2), Math.floor(fy))];
    const [tx, ty] = [fx - ix, fy - iy];
    const i = iy * across + ix;
    const dx = across > 1 ? 1 : 0;
    const dy = down > 1 ? across : 0;
    return (1 - ty) * ((1 - tx) * field[i] + tx * field[i + dx]) + ty * ((1 - tx) * field[i + dy] + tx * field[i + dy + dx]);
  };
}
