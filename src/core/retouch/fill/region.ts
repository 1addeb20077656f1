import type { Area } from "../../document/touch";
import type { Touch } from "../../document/touch";
import type { SitingName } from "../../pixels/colour";
import { colourPlanes, type Frame, intersect, maxCode, planeShift, type Rect, union } from "../../pixels/frame";
import type { MovedPlane } from "../../pixels/resample";
import { overFootprint, sitedPlane } from "../../pixels/siting";
import type { Matte } from "../../shape/matte";
import { areaMatte } from "../area";
import { strokeBounds } from "../../shape/stroke";
import { fillHole } from "./fill";
import { throughPoints } from "./guides";
import { CHANNELS, createFillPicture, type FillPicture } from "./picture";

/** How far around a hole picture is taken from, in sizes of the hole, and in pixels. */
const AROUND = 1;
const LEAST = 48;
const MOST = 200;

/** What a fill reads: its surroundings, and the areas it takes from. */
export function fillReach(t: Touch, r: Rect, width: number, height: number): Rect {
  const far = Math.round(Math.min(MOST, Math.max(LEAST, AROUND * Math.max(r.x1 - r.x0, r.y1 - r.y0))));
  const around = { x0: r.x0 - far, y0: r.y0 - far, x1: r.x1 + far, y1: r.y1 + far };
  const all = (t.only ?? []).map(areaBounds).reduce(union, around);
  return intersect({ x0: 0, y0: 0, x1: width, y1: height }, all);
}

function areaBounds(a: Area): Rect {
  if (a.brush && a.path) return strokeBounds(a.brush, a.path);
  const xs = a.outline!.map((p) => p[0]);
  const ys = a.outline!.map((p) => p[1]);
  return { x0: Math.floor(Math.min(...xs)), y0: Math.floor(Math.min(...ys)), x1: Math.ceil(Math.max(...xs)), y1: Math.ceil(Math.max(...ys)) };
}

/** The last results by what they were made from; the same is never worked out twice in a row. */
const kept = new Map<string, MovedPlane[]>();
const MOST_KEPT = 24;

/**
 * Fills the area of a touch from its surroundings; yields how far it is. Asked for again with the same samples around it, the
 * answer is at hand.
 */
export function* filledPlanes(work: Frame, t: Touch, m: Matte, siting: SitingName, seed: number): Generator<number, MovedPlane[]> {
  const r = fillReach(t, m, work.width, work.height);
  const p = workingPicture(work, t, m, r, siting);
  const from = JSON.stringify([seed, r, digest(p), t.guides ?? [], siting, work.format]);
  const old = kept.get(from);
  if (old) {
    kept.delete(from);
    kept.set(from, old);
    return old;
  }
  const guides = (t.guides ?? []).map(([a, b]) => throughPoints([a[0] - r.x0, a[1] - r.y0], [b[0] - r.x0, b[1] - r.y0]));
  yield* fillHole(p, guides, seed);
  const planes = samplesOf(p, m, r, work, siting);
  kept.set(from, planes);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return planes;
}

/** The surroundings of a hole as three full-size channels; chroma is read linearly at where it lies. */
function workingPicture(work: Frame, t: Touch, m: Matte, r: Rect, siting: SitingName): FillPicture {
  const { format } = work;
  const one = 1 << (format.bits - 8);
  const [width, height] = [r.x1 - r.x0, r.y1 - r.y0];
  const p = createFillPicture(width, height);
  for (let c = 0; c < colourPlanes(format); c++) {
    const plane = work.planes[c];
    const at = sitedPlane(format, c, siting);
    const { sx, sy } = planeShift(format, c);
    for (let y = 0; y < height; y++) {
      const v = Math.min(plane.height - 1, Math.max(0, (y + r.y0 + 0.5 - at.y0) / (1 << sy)));
      const y0 = Math.floor(v);
      const y1 = Math.min(plane.height - 1, y0 + 1);
      for (let x = 0; x < width; x++) {
        const u = Math.min(plane.width - 1, Math.max(0, (x + r.x0 + 0.5 - at.x0) / (1 << sx)));
        const x0 = Math.floor(u);
        const x1 = Math.min(plane.width - 1, x0 + 1);
        const a = plane.data[y0 * plane.width + x0] * (1 - u + x0) + plane.data[y0 * plane.width + x1] * (u - x0);
        const b = plane.data[y1 * plane.width + x0] * (1 - u + x0) + plane.data[y1 * plane.width + x1] * (u - x0);
        p.data[CHANNELS * (y * width + x) + c] = (a * (1 - v + y0) + b * (v - y0)) / one;
      }
    }
  }
  each(m, r, (i) => (p.hole[i] = 1));
  if (t.only?.length) {
    p.barred.fill(1);
    for (const a of t.only) each(areaMatte(a, work.width, work.height), r, (i) => (p.barred[i] = 0));
  }
  for (const a of t.avoid ?? []) each(areaMatte(a, work.width, work.height), r, (i) => (p.barred[i] = 1));
  return p;
}

/** Goes over the pixels of `r`, by their index within it, that a matte covers. */
function each(m: Matte, r: Rect, run: (i: number) => void): void {
  const w = r.x1 - r.x0;
  const both = intersect(r, m);
  for (let y = both.y0; y < both.y1; y++)
    for (let x = both.x0; x < both.x1; x++) if (m.data[(y - m.y0) * (m.x1 - m.x0) + x - m.x0] > 0) run((y - r.y0) * w + x - r.x0);
}

/** The filled samples of every plane within the area's rectangle. */
function samplesOf(p: FillPicture, m: Rect, r: Rect, work: Frame, siting: SitingName): MovedPlane[] {
  const { format } = work;
  const one = 1 << (format.bits - 8);
  const top = maxCode(format);
  return work.planes.slice(0, colourPlanes(format)).map((plane, c) => {
    const full = (x: number, y: number) => {
      const [px, py] = [Math.min(p.width - 1, Math.max(0, x - r.x0)), Math.min(p.height - 1, Math.max(0, y - r.y0))];
      return p.data[CHANNELS * (py * p.width + px) + c];
    };
    const shift = planeShift(format, c);
    const value = shift.sx || shift.sy ? overFootprint(siting, shift, work.width, work.height, full) : full;
    const [x0, y0] = [Math.max(0, (m.x0 >> shift.sx) - 2), Math.max(0, (m.y0 >> shift.sy) - 2)];
    const [x1, y1] = [Math.min(plane.width, (m.x1 >> shift.sx) + 3), Math.min(plane.height, (m.y1 >> shift.sy) + 3)];
    const w = x1 - x0;
    const data = new Uint16Array(w * (y1 - y0));
    for (let y = y0, i = 0; y < y1; y++) for (let x = x0; x < x1; x++, i++) data[i] = Math.min(top, Math.max(0, Math.floor(value(x, y) * one + 0.5)));
    const read = (x: number, y: number) => data[(Math.min(y1 - 1, Math.max(y0, y)) - y0) * w + Math.min(x1 - 1, Math.max(x0, x)) - x0];
    return { width: plane.width, height: plane.height, data, whole: null, read };
  });
}

/** A short name of what a fill is made from (FNV-1a, 32 bits, over the values of the picture, in eighths of a code). */
function digest(p: FillPicture): string {
  let h = 0x811c9dc5;
  for (let i = 0; i < p.hole.length; i++) {
    const kind = p.hole[i] | (p.barred[i] << 1);
    h = Math.imul(h ^ kind, 0x01000193);
    if (p.hole[i]) continue; // what lies in the hole is of no account
    for (let k = 0; k < 3; k++) h = Math.imul(h ^ Math.round(8 * p.data[CHANNELS * i + k]), 0x01000193);
  }
  return `${p.width}x${p.height}/${(h >>> 0).toString(16)}`;
}
