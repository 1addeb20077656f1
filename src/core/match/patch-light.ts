import { median } from "../motion/gray";
import type { Rect } from "../pixels/frame";
import { lightBetween } from "./light";
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
/** Where no area's gain moves by more in a round, the membrane is found. */
const SETTLED = 2e-6;
/** Codes by which the tint of an area may differ from that of the whole, and standard errors: what differs by more is a thing, not light. */
const TINT = 2;
const SURE = 3;
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
export interface LitPlane extends PlaneAsk {
  /** The code a gain leaves alone. */
  pivot: number;
}

/** What is asked of its light. */
export interface LightAsk extends LitPlane {
  /** Luma and R′G′B′ change by a ratio, or where codes go by a logarithm by a ratio and an offset; chroma by an offset. */
  by: "gain" | "offset" | "both";
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
  const { areas, cells } = around(a);
  if (cells.count < 2 * LEAST_CELLS) return null;
  const { pivot } = a;
  const by = a.by === "gain" ? "gain" : "offset";
  // one ratio for all, and offsets along the rim beside it
  const ratio = a.by === "both" ? ratioOf(cells, pivot, a.unit) : 1;
  for (let i = 0; i < cells.count; i++) cells.x[i] *= ratio;
  const all = Int32Array.from({ length: cells.count }, (_, i) => i);
  const whole = robust(cells, all, by, LEAST * a.unit);
  const light = (value: (x: number, y: number) => number, votes: number): PlaneLight =>
    by === "gain" ? { pivot, gain: value, offset: () => 0, votes } : { pivot, gain: () => ratio, offset: value, votes };
  if (a.spread === "whole") return light(() => whole.value, 1);
  const { field, votes } = alongRim(cells, areas, by, whole.value, LEAST * a.unit);
  const local = Math.min(1, Math.max(0, (votes - VOTES.none) / (VOTES.all - VOTES.none)));
  for (let i = 0; i < field.length; i++) field[i] = whole.value + local * (field[i] - whole.value);
  return light(between(field, areas, a.alpha), votes);
}

/** The cells of the ring around a patch, and the areas they lie in. */
function around(a: LitPlane): { areas: Areas; cells: Cells } {
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
  return { areas, cells: cellsOf(a, ring, cell, areas) };
}

/**
 * Where around a patch something stands or passes that is no light: the tint of an area differs from that of the whole by more than light
 * makes it, though its brightness may not. Light takes luma and colour differences along by one ratio. Areas beside such a one count with
 * it, since the thing may reach into them.
 * @param luma of the patch @param chroma its colour differences @returns whether a luma pixel lies there; null where there is none
 */
export function thingsAround(luma: LitPlane, chroma: readonly LitPlane[]): ((x: number, y: number) => boolean) | null {
  const ratioAt = ratiosOf(luma);
  const found = chroma.map((a) => {
    const { areas, cells } = around(a);
    const { across, down } = areas;
    const there = new Uint8Array(across * down);
    if (cells.count < 2 * LEAST_CELLS) return { a, areas, there };
    const least = LEAST * a.unit;
    const asked = membersOf(cells, across * down).flatMap((of, i) => {
      if (of.length < LEAST_CELLS) return [];
      const { value, sigma } = robust(cells, Int32Array.from(of), "offset", least);
      const mean = of.reduce((m, k) => m + cells.x[k] / of.length, 0);
      const [x, y] = [i % across, Math.floor(i / across)];
      const ratio = ratioAt((areas.x0 + (x + 0.5) * areas.w) * (1 << a.shift.sx), (areas.y0 + (y + 0.5) * areas.h) * (1 << a.shift.sy));
      return [{ x, y, off: value - (ratio - 1) * mean, sure: (SURE * sigma) / Math.sqrt(of.length) }];
    });
    const usual = asked.length ? median(Float64Array.from(asked, (t) => t.off)) : 0;
    for (const { x, y, off, sure } of asked) {
      if (Math.abs(off - usual) <= Math.max(TINT * a.unit, sure)) continue;
      for (let v = Math.max(0, y - 1); v <= Math.min(down - 1, y + 1); v++)
        there.fill(1, v * across + Math.max(0, x - 1), v * across + Math.min(across, x + 2));
    }
    return { a, areas, there };
  });
  if (!found.some(({ there }) => there.includes(1))) return null;
  return (x, y) => found.some(({ a, areas, there }) => there[areaAt(areas, x >> a.shift.sx, y >> a.shift.sy)] === 1);
}

/** The index of the area in which a sample of the plane lies; −1 where in none. */
function areaAt({ x0, y0, across, down, w, h }: Areas, x: number, y: number): number {
  const [i, j] = [Math.floor((x - x0) / w), Math.floor((y - y0) / h)];
  return i >= 0 && j >= 0 && i < across && j < down ? j * across + i : -1;
}

/** The ratio of luma in the area of a luma pixel; 1 where it is not known, or no light. */
function ratiosOf(luma: LitPlane): (x: number, y: number) => number {
  const { areas, cells } = around(luma);
  const members = membersOf(cells, areas.across * areas.down);
  const ratios = members.map((of) => (of.length < LEAST_CELLS ? 1 : robust(cells, Int32Array.from(of), "gain", LEAST * luma.unit).value));
  return (x, y) => {
    const r = ratios[areaAt(areas, Math.floor(x), Math.floor(y))] ?? 1;
    return r > RATIO.least && r < RATIO.most ? r : 1;
  };
}

/** The cells of each area. */
function membersOf(cells: Cells, count: number): number[][] {
  const members: number[][] = Array.from({ length: count }, () => []);
  for (let i = 0; i < cells.count; i++) members[cells.area[i]].push(i);
  return members;
}

/** The gain of a light that is a gain and an offset, of all cells together. */
function ratioOf({ x, y, count }: Cells, pivot: number, unit: number): number {
  const codes = (v: Float64Array) => Float64Array.from({ length: count }, (_, i) => (v[i] + pivot) / unit);
  return lightBetween(codes(x), codes(y), pivot / unit).gain;
}

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
  const asked = membersOf(cells, count).flatMap((m, i) => (m.length >= LEAST_CELLS ? [{ i, ...robust(cells, Int32Array.from(m), by, least) }] : []));
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
  const settled = by === "gain" ? SETTLED : 256 * SETTLED * least;
  for (let k = 0, moved = Infinity; k < rounds && moved > settled; k++) {
    moved = 0;
    for (let y = 0, i = 0; y < down; y++)
      for (let x = 0; x < across; x++, i++) {
        let sum = known[i] ? HOLD * own[i] : 0;
        let n = known[i] ? HOLD : 0;
        if (x > 0) {
          sum += field[i - 1];
          n++;
        }
        if (x < across - 1) {
          sum += field[i + 1];
          n++;
        }
        if (y > 0) {
          sum += field[i - across];
          n++;
        }
        if (y < down - 1) {
          sum += field[i + across];
          n++;
        }
        if (!n) continue;
        const step = 1.6 * (sum / n - field[i]);
        field[i] += step;
        moved = Math.max(moved, Math.abs(step));
      }
  }
  return { field, votes: asked.length ? told.length / asked.length : 0 };
}

/** The areas' values, linearly between their middles; worked out at once for a rectangle, in which most are asked for. */
function between(field: Float64Array, { x0, y0, across, down, w, h }: Areas, rect: Rect): (x: number, y: number) => number {
  const place = (v: number, from: number, size: number, cells: number): [number, number] => {
    const u = Math.min(cells - 1, Math.max(0, (v + 0.5 - from) / size - 0.5));
    const i = Math.min(Math.max(0, cells - 2), Math.floor(u));
    return [i, u - i];
  };
  const dx = across > 1 ? 1 : 0;
  const dy = down > 1 ? across : 0;
  const at = (x: number, y: number) => {
    const [ix, tx] = place(x, x0, w, across);
    const [iy, ty] = place(y, y0, h, down);
    const i = iy * across + ix;
    return (1 - ty) * ((1 - tx) * field[i] + tx * field[i + dx]) + ty * ((1 - tx) * field[i + dy] + tx * field[i + dy + dx]);
  };
  const wide = rect.x1 - rect.x0;
  const all = new Float64Array(wide * (rect.y1 - rect.y0));
  const columns = Array.from({ length: wide }, (_, i) => place(rect.x0 + i, x0, w, across));
  const [ix, tx] = [Int32Array.from(columns, (c) => c[0]), Float64Array.from(columns, (c) => c[1])];
  const row = new Float64Array(across);
  for (let y = rect.y0, o = 0; y < rect.y1; y++) {
    const [iy, ty] = place(y, y0, h, down);
    for (let k = 0; k < across; k++) row[k] = (1 - ty) * field[iy * across + k] + ty * field[iy * across + k + dy];
    for (let i = 0; i < wide; i++, o++) all[o] = (1 - tx[i]) * row[ix[i]] + tx[i] * row[ix[i] + dx];
  }
  return (x, y) => (x < rect.x0 || y < rect.y0 || x >= rect.x1 || y >= rect.y1 ? at(x, y) : all[(y - rect.y0) * wide + x - rect.x0]);
}
