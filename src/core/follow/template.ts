import type { Place } from "./homography";
import type { Gray } from "../motion/gray";
import type { Rect } from "../pixels/frame";
import { type Pyramid, pyramidOf } from "./pyramid";

/** Samples of a level that take part at most: of larger regions every second, third … */
const MOST_SAMPLES = 5000;
/** A level on which the region has fewer samples says nothing. */
const LEAST_SAMPLES = 40;

/** What is looked for, on one level: samples of the region with their slopes. */
export interface TemplateLevel {
  /** Pixels of the picture a sample of this level is wide. */
  step: number;
  /** Of a large region every so many samples takes part. */
  every: number;
  count: number;
  /** Places in the picture's pixels, whole ones the middles of pixels. */
  x: Float64Array;
  y: Float64Array;
  value: Float64Array;
  /** Standard deviation of the values, codes. */
  contrast: number;
  /** Slopes by the picture's pixel. */
  gx: Float64Array;
  gy: Float64Array;
}

/** A region of a picture as it is looked for in others, finest level first. */
export interface Template {
  levels: TemplateLevel[];
}

/** Whether a point lies within an outline (even-odd). */
export function within(outline: readonly Place[], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [xi, yi] = outline[i];
    const [xj, yj] = outline[j];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}

/** The box around some points, with `room`. */
export function boxOf(points: readonly Place[], room = 0): Rect {
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  return {
    x0: Math.floor(Math.min(...xs) - room),
    y0: Math.floor(Math.min(...ys) - room),
    x1: Math.ceil(Math.max(...xs) + room),
    y1: Math.ceil(Math.max(...ys) + room),
  };
}

/** The corners of a box, from the upper left one round by its right. */
export const cornersOf = ({ x0, y0, x1, y1 }: Rect): Place[] => [[x0, y0], [x1, y0], [x1, y1], [x0, y1]]; // prettier-ignore

/**
 * The region of a picture as something to be found.
 * @param outline whole coordinates the middles of pixels @param avoid whether a place takes no part
 * @returns null where the region is too small, or lies outside
 */
export function templateOf(g: Gray, outline: readonly Place[], count: number, avoid?: (x: number, y: number) => boolean): Template | null {
  return templateIn(pyramidOf(g, boxOf(outline, 2 << count), count), outline, avoid);
}

/** The same, of a piece of a picture that holds it. */
export function templateIn(pyramid: Pyramid, outline: readonly Place[], avoid?: (x: number, y: number) => boolean): Template | null {
  const levels = pyramid.levels.flatMap((_, l) => levelOf(pyramid, l, outline, avoid) ?? []);
  return levels.length ? { levels } : null;
}

function levelOf(
  { x0, y0, step: finest, levels }: Pyramid,
  l: number,
  outline: readonly Place[],
  avoid?: (x: number, y: number) => boolean,
): TemplateLevel | null {
  const { width, height, data } = levels[l];
  const step = finest << l;
  const place = (i: number, from: number) => from + (i + 0.5) * step - 0.5;
  const rows: [number, number][] = [];
  const box = boxOf(outline);
  const first = (v: number, from: number) => Math.max(1, Math.floor((v - from) / step) - 1);
  const last = (v: number, from: number, size: number) => Math.min(size - 2, Math.ceil((v - from) / step) + 1);
  for (let j = first(box.y0, y0); j <= last(box.y1, y0, height); j++)
    for (let i = first(box.x0, x0); i <= last(box.x1, x0, width); i++) {
      const [x, y] = [place(i, x0), place(j, y0)];
      if (within(outline, x, y) && !avoid?.(x, y)) rows.push([i, j]);
    }
  if (rows.length < LEAST_SAMPLES) return null;
  const every = Math.max(1, Math.ceil(Math.sqrt(rows.length / MOST_SAMPLES)));
  const taken = rows.filter(([i, j]) => i % every === 0 && j % every === 0);
  const n = taken.length;
  const out: TemplateLevel = {
    step,
    every,
    count: n,
    x: new Float64Array(n),
    y: new Float64Array(n),
    value: new Float64Array(n),
    contrast: 0,
    gx: new Float64Array(n),
    gy: new Float64Array(n),
  };
  taken.forEach(([i, j], k) => {
    const at = j * width + i;
    out.x[k] = place(i, x0);
    out.y[k] = place(j, y0);
    out.value[k] = data[at];
    out.gx[k] = (data[at + 1] - data[at - 1]) / (2 * step);
    out.gy[k] = (data[at + width] - data[at - width]) / (2 * step);
  });
  out.contrast = contrastOf(out.value);
  return out;
}

/** Standard deviation of some values; those that are none left out. */
export function contrastOf(values: Float64Array): number {
  let [n, s, q] = [0, 0, 0];
  for (const v of values) {
    if (Number.isNaN(v)) continue;
    n++;
    s += v;
    q += v * v;
  }
  return n ? Math.sqrt(Math.max(0, q / n - (s / n) ** 2)) : 0;
}
