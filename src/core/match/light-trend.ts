/** A light that was told at a place, from the picture's middle; in any unit of about 1 over the whole. */
export interface ToldLight {
  u: number;
  v: number;
  value: number;
}

/** Fewer places tell no bowl. */
const PLACES = 6;
/** How much less a bowl has to leave over than an even light. Shadows of clouds look a little like one along a rim. */
const PLAINLY = 4;
/** How far beyond what was told it may lead, in ranges of it. */
const BEYOND = 0.5;

/**
 * How a light goes over a picture by what was told of it at some places: even, or, where that plainly explains them, a bowl about the
 * picture's middle, as a lens makes it that breathes (by cos⁴ light falls off with the square of the distance). Slopes are left to a
 * membrane, which holds them by itself.
 * @param least what one is off by at least, in the units of its value
 * @returns by the place, near the range of what was told
 */
export function lightTrend(told: readonly ToldLight[], least: number): (u: number, v: number) => number {
  const n = told.length;
  if (!n) return () => 0;
  const values = told.map((t) => t.value);
  const squares = told.map((t) => t.u * t.u + t.v * t.v);
  const [mean, middle] = [values, squares].map((all) => all.reduce((s, v) => s + v, 0) / n);
  let [xx, xy, yy] = [0, 0, n * least * least];
  for (let i = 0; i < n; i++) {
    const [x, y] = [squares[i] - middle, values[i] - mean];
    [xx, xy, yy] = [xx + x * x, xy + x * y, yy + y * y];
  }
  const even = () => mean;
  if (n < PLACES || xx <= 0) return even;
  const deep = xy / xx;
  if (PLAINLY * (yy - deep * xy) > yy) return even;
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const room = BEYOND * (high - low);
  return (u, v) => Math.min(high + room, Math.max(low - room, mean + deep * (u * u + v * v - middle)));
}
