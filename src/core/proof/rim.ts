import { keptSurround, type PlaneAsk } from "../match/ring";

/** Side of the arcs along a rim whose means are compared, in luma pixels. */
const ARC = 32;
/** Arcs with fewer samples than this share of the fullest say nothing. */
const LEAST = 0.25;
/** So many standard errors of an arc's mean are chance. */
const CHANCE = 1.5;
/** The share of arcs that are no farther off than is said. */
const MOST = 0.95;

/**
 * How far two pictures lie apart along a patch's rim: of arcs of 32 px the mean difference, less what chance makes of it, of these the 95th
 * percentile. Means, since an eye sees a step along an edge long before it sees a sample.
 * @param reach how far beyond α > 0 the surroundings are worked out, in samples of the plane
 * @param from,to what lies farther outside α > 0 than `from` and no farther than `to` luma pixels counts
 * @returns codes of 8 bits; null where too little can be compared
 */
export function rimOff(a: PlaneAsk, from: number, to: number, reach: number): number | null {
  const s = keptSurround(a.alpha, a.below.width, a.below.height, reach);
  const w = s.x1 - s.x0;
  const [ax, ay] = [Math.max(1, ARC >> a.shift.sx), Math.max(1, ARC >> a.shift.sy)];
  const across = Math.ceil(w / ax);
  const arcs = across * Math.ceil((s.y1 - s.y0) / ay);
  const [sums, squares, counts] = [new Float64Array(arcs), new Float64Array(arcs), new Uint32Array(arcs)];
  const [near, far] = [(from / (1 << a.shift.sx)) ** 2, (to / (1 << a.shift.sx)) ** 2];
  for (let y = s.y0, i = 0; y < s.y1; y++)
    for (let x = s.x0; x < s.x1; x++, i++) {
      if (s.far[i] <= near || s.far[i] > far || !a.counts(x, y)) continue;
      const at = Math.floor((y - s.y0) / ay) * across + Math.floor((x - s.x0) / ax);
      const d = a.value(x, y) - a.below.data[y * a.below.width + x];
      sums[at] += d;
      squares[at] += d * d;
      counts[at]++;
    }
  const means: number[] = [];
  const least = Math.max(2, LEAST * counts.reduce((p, q) => Math.max(p, q), 0));
  for (let k = 0; k < arcs; k++) {
    const n = counts[k];
    if (n < least) continue;
    const mean = sums[k] / n;
    const error = Math.sqrt(Math.max(0, squares[k] / n - mean * mean) / n);
    means.push(Math.max(0, Math.abs(mean) - CHANCE * error) / a.unit);
  }
  if (!means.length) return null;
  means.sort((p, q) => p - q);
  return means[Math.ceil(MOST * means.length) - 1];
}
