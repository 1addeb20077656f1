import { solve } from "../follow/solve";

/** A light that was told at a place; places in any unit of about 1 over the whole. */
export interface ToldLight {
  u: number;
  v: number;
  value: number;
}

/** How a light may go over a picture: even, along a slope, or as a bowl (a lens that breathes, a lamp at the side), and its freedom. */
const MODELS = [1, 3, 6] as const;
/** So many places for each freedom tell a model. */
const PLACES = 3;
/** By how much a richer one must explain more, in twice the log likelihood over its freedom (Schwarz 1978, and as much again). */
const RICHER = 2;
/** How far beyond what was told a trend may lead, in ranges of it. */
const BEYOND = 0.5;

const terms = (u: number, v: number, freedom: number): number[] => [1, u, v, u * u, u * v, v * v].slice(0, freedom);

/**
 * The trend of a light by what was told of it at some places: as rich as these bear (least squares; the criterion of Schwarz 1978), held near
 * the range of what was told where nothing was.
 * @param least what one is off by at least, in the units of its value
 */
export function lightTrend(told: readonly ToldLight[], least: number): (u: number, v: number) => number {
  const n = told.length;
  if (!n) return () => 0;
  let best: number[] = [told.reduce((s, t) => s + t.value, 0) / n];
  let left = squares(told, best, least);
  for (const freedom of MODELS) {
    if (freedom === 1 || n < PLACES * freedom) continue;
    const c = fitted(told, freedom);
    if (!c) continue;
    const now = squares(told, c, least);
    if (n * Math.log(left / now) < RICHER * (freedom - best.length) * Math.log(n)) continue;
    [best, left] = [c, now];
  }
  const values = told.map((t) => t.value);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const room = BEYOND * (high - low);
  return (u, v) => Math.min(high + room, Math.max(low - room, at(best, u, v)));
}

const at = (c: readonly number[], u: number, v: number) => terms(u, v, c.length).reduce((s, t, i) => s + t * c[i], 0);

const squares = (told: readonly ToldLight[], c: readonly number[], least: number) =>
  told.reduce((s, t) => s + (t.value - at(c, t.u, t.v)) ** 2, 0) + told.length * least * least;

/** Coefficients by the normal equations; null where the places do not tell them apart. */
function fitted(told: readonly ToldLight[], freedom: number): number[] | null {
  const a = new Float64Array(freedom * freedom);
  const b = new Float64Array(freedom);
  for (const { u, v, value } of told) {
    const t = terms(u, v, freedom);
    for (let i = 0; i < freedom; i++) {
      b[i] += t[i] * value;
      for (let j = 0; j < freedom; j++) a[i * freedom + j] += t[i] * t[j];
    }
  }
  return solve(a, b, freedom) ? Array.from(b) : null;
}
