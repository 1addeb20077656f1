import { median } from "../motion/gray";
import type { Rect } from "../pixels/frame";
import { lightBetween } from "./light";
import { lightTrend } from "./light-trend";
import { type Areas, areaLights, type Cells, type LightBy, type LightRing, middleOfArea, wholeLight } from "./light-ring";

/** What an area's light has to explain: residuals of so many times the usual spread are something else. */
const EXPLAINS = 1.5;
/** Shares of areas that vote, between which the light along the rim gives way to that of the whole. */
const VOTES = { all: 0.5, none: 0.3 };
/** A ratio beyond these is no light. */
const RATIO = { least: 0.5, most: 2 };
/** How firmly the membrane holds to an area's own light, against its four neighbours. */
const HOLD = 4;
/** What a gain of an area is off by at least. */
const LEAST_GAIN = 0.001;
/** Where no area's gain moves by more in a round, the membrane is found. */
const SETTLED = 2e-6;

/** Whether light may change codes by a ratio. */
export const isRatio = (r: number): boolean => r > RATIO.least && r < RATIO.most;

/** How the light of a picture's plane is changed: v′ = pivot + gain·(v − pivot) + offset. */
export interface PlaneLight {
  pivot: number;
  gain: (x: number, y: number) => number;
  offset: (x: number, y: number) => number;
  /** The share of the rim that told it, 0 … 1. */
  votes: number;
}

/** What is asked of a plane's light. */
export interface LightAsk {
  /** Luma and R′G′B′ change by a ratio, or where codes go by a logarithm by a ratio and an offset; chroma by an offset. */
  by: LightBy | "both";
  /** Over the whole, or along the rim and spread inward. */
  spread: "whole" | "rim";
}

/** What was found of a plane's light: of the whole, or a value for each of the areas around the patch. */
export interface LightFit {
  by: LightBy;
  pivot: number;
  /** The gain of a light that is an offset beside it: one for all, or that of another plane, so many times as fine each way. */
  ratio: number | { of: LightFit; across: number; down: number };
  whole: number;
  rim: { field: Float64Array; areas: Areas } | null;
  votes: number;
}

/**
 * The light of the footage around a patch against that of its picture: by the ring 6–24 px outside α > 0, means of cells, least squares
 * whose outliers lose their weight (Huber 1964; Beaton & Tukey 1974), so that whatever passes there counts for little. `rim`: areas along
 * the rim have each their own, spread inward by a membrane (Pérez et al. 2003) on the areas' grid, the picture's borders without flow;
 * an area that the light does not explain has no vote, and where few have one, the light of the whole is taken.
 * @param luma of a chroma plane the light of luma, where that is a gain: light that makes R′, G′ and B′ as many times as strong does so to
 * their differences too, and only what is then left is an offset
 */
export function fitLight(around: LightRing, { by: how, spread }: LightAsk, luma: LightFit | null = null): LightFit {
  const { pivot, unit, shift } = around.plane;
  const by = how === "gain" ? "gain" : "offset";
  // one ratio for all, and offsets along the rim beside it
  const one = how === "both" ? ratioOf(around.cells, pivot, unit) : 1;
  const ratio = luma ? { of: luma, across: 1 << shift.sx, down: 1 << shift.sy } : one;
  const r = ratio === 1 ? around : scaled(around, luma ? gainByArea(ratioBy(ratio), around.areas) : () => one);
  const whole = wholeLight(r, by);
  if (spread === "whole") return { by, pivot, ratio, whole, rim: null, votes: 1 };
  const { field, votes } = alongRim(r, by, whole);
  const local = Math.min(1, Math.max(0, (votes - VOTES.none) / (VOTES.all - VOTES.none)));
  for (let i = 0; i < field.length; i++) field[i] = whole + local * (field[i] - whole);
  return { by, pivot, ratio, whole, rim: { field, areas: r.areas }, votes };
}

/** A light that was found, by the sample. @param rect of the plane in which most samples are asked for */
export function lightOf({ by, pivot, ratio, whole, rim, votes }: LightFit, rect?: Rect): PlaneLight {
  const value = rim ? between(rim.field, rim.areas, rect) : () => whole;
  return by === "gain" ? { pivot, gain: value, offset: () => 0, votes } : { pivot, gain: ratioBy(ratio, rect), offset: value, votes };
}

/** A gain by the sample of the plane that has it. */
function ratioBy(ratio: LightFit["ratio"], rect?: Rect): (x: number, y: number) => number {
  if (typeof ratio === "number") return () => ratio;
  const { of, across, down } = ratio;
  if (!of.rim) return () => of.whole;
  const { areas, field } = of.rim;
  const own = { ...areas, x0: areas.x0 / across, y0: areas.y0 / down, w: areas.w / across, h: areas.h / down };
  return between(field, own, rect);
}

/** The gain in the middle of each area. */
function gainByArea(gain: (x: number, y: number) => number, areas: Areas): (area: number) => number {
  return (area) => {
    const [x, y] = middleOfArea(areas, area);
    return gain(x - 0.5, y - 0.5);
  };
}

/** A ring with the patch's picture in another light, by areas. */
function scaled(r: LightRing, gain: (area: number) => number): LightRing {
  const { x, area } = r.cells;
  return { ...r, cells: { ...r.cells, x: x.map((v, i) => v * gain(area[i])) }, told: {} };
}

/** The gain of a light that is a gain and an offset, of all cells together. */
function ratioOf({ x, y, count }: Cells, pivot: number, unit: number): number {
  const codes = (v: Float64Array) => Float64Array.from({ length: count }, (_, i) => (v[i] + pivot) / unit);
  return lightBetween(codes(x), codes(y), pivot / unit).gain;
}

/** Each area's own light where it explains what is there, spread over all areas by a membrane. */
function alongRim(r: LightRing, by: LightBy, whole: number) {
  const { areas, least } = r;
  const count = areas.across * areas.down;
  const asked = areaLights(r, by);
  const usual = asked.length ? median(Float64Array.from(asked, (a) => a.sigma)) : least;
  const told = asked.filter((a) => a.sigma <= EXPLAINS * Math.max(usual, least) && (by === "offset" || isRatio(a.value / whole)));
  // the membrane alone would hold what the rim says at the picture's border, where a bowl of light goes on
  const trend = trendOver(r, told, by === "gain" ? LEAST_GAIN : least, whole);
  const field = new Float64Array(count);
  const known = new Uint8Array(count);
  for (const t of told) {
    field[t.area] = t.value - trend[t.area];
    known[t.area] = 1;
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
  for (let i = 0; i < count; i++) field[i] += trend[i];
  return { field, votes: asked.length ? told.length / asked.length : 0 };
}

/** The trend of what areas told, at each area; the light of the whole where none did. */
function trendOver(
  { areas, plane: { below } }: LightRing,
  told: readonly { area: number; value: number }[],
  least: number,
  whole: number,
): Float64Array {
  const { across, down, w, h } = areas;
  const out = new Float64Array(across * down).fill(whole);
  if (!told.length) return out;
  // in widths of the picture, from its middle; chroma's samples may be wider than high
  const place = (area: number): [number, number] => {
    const [x, y] = middleOfArea(areas, area);
    return [x / below.width - 0.5, ((y - below.height / 2) * (w / h)) / below.width];
  };
  const trend = lightTrend(
    told.map(({ area, value }) => {
      const [u, v] = place(area);
      return { u, v, value };
    }),
    least,
  );
  return out.map((_, area) => trend(...place(area)));
}

/** The areas' values, linearly between their middles; worked out at once for a rectangle, where most of one are asked for. */
function between(field: Float64Array, { x0, y0, across, down, w, h }: Areas, rect?: Rect): (x: number, y: number) => number {
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
  if (!rect) return at;
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
