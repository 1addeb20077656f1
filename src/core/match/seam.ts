import { ABSENT, FIXED, FREE, spanMembrane } from "../blend/membrane";
import type { Rect } from "../pixels/frame";
import { keptSurround, type PlaneAsk } from "./ring";

/** How far outside α > 0 the rim is looked at, in luma pixels. */
export const RIM = 3;
/** Luma pixels (σ) over which differences along the rim are averaged, so that the noise of single samples makes no streaks. */
const ALONG = 4;
/** Largest Laplacian that is left, in codes of 8 bits. */
const RESIDUAL = 1e-3;

/** One plane of a patch whose seam is taken off. */
export interface SeamAsk extends PlaneAsk {
  /** Luma pixels over which the correction falls off inward. */
  reach: number;
  /** Differences below so many codes are left; above they come in over so many more. */
  over: number;
  soft: number;
  /** What is spread inward: the difference from the picture, or the footage itself. */
  of: "difference" | "footage";
}

/** A correction over a rectangle of a plane, in codes. */
export interface Correction extends Rect {
  data: Float64Array;
}

/**
 * What takes a patch to its surroundings along its rim, spread inward by a screened membrane (Pérez et al. 2003; Bhat et al. 2008): the
 * low-passed difference within 3 px outside α > 0, thresholded before it is spread. The picture's borders let nothing through.
 */
export function seamOf(a: SeamAsk): Correction {
  const { sx } = a.shift;
  const reach = Math.max(1, RIM >> sx);
  const along = Math.max(1, ALONG >> sx);
  const s = keptSurround(a.alpha, a.below.width, a.below.height, reach + 1);
  // a margin of cells beyond, so that none at the picture's border is an outermost one
  const rect = { x0: s.x0 - 1, y0: s.y0 - 1, x1: s.x1 + 1, y1: s.y1 + 1 };
  const [w, h, sw] = [rect.x1 - rect.x0, rect.y1 - rect.y0, s.x1 - s.x0];
  const kind = new Uint8Array(w * h).fill(ABSENT);
  const u = new Float64Array(w * h);
  const known = new Float64Array(w * h);
  for (let y = s.y0; y < s.y1; y++)
    for (let x = s.x0; x < s.x1; x++) {
      const d = s.far[(y - s.y0) * sw + x - s.x0];
      const i = (y - rect.y0) * w + x - rect.x0;
      if (d === 0) kind[i] = FREE;
      else if (d <= reach * reach && a.counts(x, y)) {
        kind[i] = FIXED;
        known[i] = 1;
        const below = a.below.data[y * a.below.width + x];
        u[i] = a.of === "footage" ? below : below - a.value(x, y);
      }
    }
  smoothAlong(u, known, w, h, along);
  if (a.of === "difference" && (a.over > 0 || a.soft > 0))
    for (let i = 0; i < u.length; i++) {
      const off = Math.abs(u[i]) / a.unit - a.over;
      u[i] *= off <= 0 ? 0 : a.soft > 0 ? Math.min(1, off / a.soft) : 1;
    }
  spanMembrane({ width: w, height: h, kind }, u, RESIDUAL * a.unit, a.of === "footage" ? Infinity : a.reach / (1 << sx));
  return { ...rect, data: u };
}

/** Means along the rim with weights of a normal curve, of what is known alone (normalised convolution, Knutsson & Westin 1993). */
function smoothAlong(u: Float64Array, known: Float64Array, w: number, h: number, sigma: number): void {
  const r = Math.ceil(2.5 * sigma);
  const k = Float64Array.from({ length: 2 * r + 1 }, (_, i) => Math.exp(-((i - r) ** 2) / (2 * sigma * sigma)));
  const pass = (from: Float64Array, to: Float64Array, step: number, length: number, lines: number, line: number) => {
    for (let l = 0; l < lines; l++)
      for (let i = 0; i < length; i++) {
        let s = 0;
        for (let j = Math.max(-r, -i); j <= Math.min(r, length - 1 - i); j++) s += k[j + r] * from[l * line + (i + j) * step];
        to[l * line + i * step] = s;
      }
  };
  const [a, b] = [new Float64Array(w * h), new Float64Array(w * h)];
  const blurred = (v: Float64Array) => {
    pass(v, a, 1, w, h, w);
    pass(a, b, w, h, w, 1);
    return b.slice();
  };
  for (let i = 0; i < u.length; i++) u[i] *= known[i];
  const [value, weight] = [blurred(u), blurred(known)];
  for (let i = 0; i < u.length; i++) u[i] = known[i] ? value[i] / weight[i] : 0;
}
