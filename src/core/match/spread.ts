import { solve } from "../follow/solve";
import { normalBlur } from "./normal-blur";
import { keptSurround, type PlaneAsk } from "./ring";

/** The ring in which edges are compared, in samples outside α > 0: near the patch, and clear of what it hides. */
const RING = { from: 5, to: 28 };
/** σ by which both pictures are blurred first, so that noise has little say and the difference is a small one. */
const FIRST = 1;
/** Steepest samples that are asked, as a share of those of the ring. */
const STEEP = 0.2;
/** Gradients below so many 8-bit codes a sample are no edges. */
const FLAT = 0.7;
/** The least number of samples that can tell. */
const LEAST = 150;
/** Rounds, each on what the one before has made alike. */
const ROUNDS = 5;
/** How alike the details of both pictures have to be to show the same, as a correlation. */
const SAME = 0.7;
/** Largest standard error of a difference in spread that is told, px². */
const SURE = 0.12;

/** How much softer a picture is than what surrounds it. */
export interface Spread {
  /** σ of the normal curve by which the picture would have to be blurred to be as soft as the footage; below 0 it is too soft by as much. Samples. */
  sigma: number;
  /** Standard error of σ², samples². */
  error: number;
}

/**
 * How the spread of edges differs between a patch's picture and the footage around it, where both show the same. A blur of small σ adds
 * σ²/2 times the Laplacian (the heat equation; Lindeberg 1994 §2), so that σ² follows from a least-squares fit of the difference along
 * steep edges, together with gain, offset and a shift between both; repeated on what is then left. Null where there are no edges, too few
 * samples, or not the same to be seen.
 */
export function spreadBetween(a: PlaneAsk): Spread | null {
  const { width, height } = a.below;
  const around = keptSurround(a.alpha, width, height, RING.to);
  const [w, h] = [around.x1 - around.x0, around.y1 - around.y0];
  if (w < 8 || h < 8) return null;
  const counts = new Uint8Array(w * h);
  const [picture, footage] = [new Float64Array(w * h), new Float64Array(w * h)];
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const [px, py] = [around.x0 + x, around.y0 + y];
      picture[i] = a.value(px, py) / a.unit;
      footage[i] = a.below.data[py * width + px] / a.unit;
      const far = around.far[i];
      if (far > RING.from ** 2 && far <= RING.to ** 2 && a.counts(px, py)) counts[i] = 1;
    }
  let variance = 0;
  let last: Fit | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const soften = (of: Float64Array, extra: number) => normalBlur(of, w, h, Math.sqrt(FIRST + Math.max(0, extra)));
    last = fitOf(soften(picture, variance), soften(footage, -variance), counts, w, h);
    if (!last) return null;
    variance = Math.max(-16, Math.min(16, variance + last.variance));
    if (Math.abs(last.variance) < 0.005) break;
  }
  if (!last || last.error > SURE || last.alike < SAME) return null;
  return { sigma: Math.sign(variance) * Math.sqrt(Math.abs(variance)), error: last.error };
}

interface Fit {
  variance: number;
  error: number;
  alike: number;
}

/** The unknowns of a fit: gain, offset, half of the variance, a shift across and down. */
const UNKNOWN = 5;

/** What has to be done to `s` to become `f`, along the steepest edges that both show. */
function fitOf(s: Float64Array, f: Float64Array, counts: Uint8Array, w: number, h: number): Fit | null {
  const mean = s.map((v, i) => (v + f[i]) / 2);
  const at: number[] = [];
  const steep: number[] = [];
  for (let y = 4; y < h - 4; y++)
    for (let x = 4; x < w - 4; x++) {
      const i = y * w + x;
      // what is left out around it has no say through the blur either
      if (!counts[i] || !counts[i - 4] || !counts[i + 4] || !counts[i - 4 * w] || !counts[i + 4 * w]) continue;
      const g = Math.hypot(mean[i + 1] - mean[i - 1], mean[i + w] - mean[i - w]) / 2;
      if (g < FLAT) continue;
      at.push(i);
      steep.push(g);
    }
  if (at.length < LEAST) return null;
  const limit = Float64Array.from(steep).sort()[Math.floor((1 - STEEP) * steep.length)];
  let asked = at.filter((_, k) => steep[k] >= Math.min(limit, 6));
  if (asked.length < LEAST) asked = at;
  const row = (i: number) => [mean[i], 1, laplacian(mean, i, w), (mean[i + 1] - mean[i - 1]) / 2, (mean[i + w] - mean[i - w]) / 2];
  let x: Float64Array | null = null;
  let spread = 0;
  let third = 0;
  // a second time without what the first cannot explain
  for (let pass = 0; pass < 2; pass++) {
    const solved = leastSquares(
      asked.map(row),
      asked.map((i) => f[i] - s[i]),
    );
    if (!solved) return null;
    ({ x, third } = solved);
    const residual = asked.map((i) => Math.abs(f[i] - s[i] - row(i).reduce((t, v, k) => t + v * x![k], 0)));
    const middle = Float64Array.from(residual).sort()[residual.length >> 1];
    spread = 1.4826 * middle;
    if (pass === 0) {
      const kept = asked.filter((_, k) => residual[k] <= 3 * spread + 0.02);
      if (kept.length < LEAST) return null;
      asked = kept;
    }
  }
  // blurred first, neighbours are not new samples: one in 4 π σ² is
  const error = 2 * Math.sqrt(third) * spread * Math.sqrt(4 * Math.PI * FIRST);
  return { variance: 2 * x![2], error, alike: correlation(asked, (i) => s[i + 1] - s[i - 1], (i) => f[i + 1] - f[i - 1], w) }; // prettier-ignore
}

const laplacian = (d: Float64Array, i: number, w: number) => d[i - 1] + d[i + 1] + d[i - w] + d[i + w] - 4 * d[i];

/** How alike the slopes of two pictures are, across and down together. */
function correlation(at: readonly number[], s: (i: number) => number, f: (i: number) => number, w: number): number {
  let [ss, ff, sf] = [0, 0, 0];
  for (const i of at)
    for (const [a, b] of [[s(i), f(i)], [s(i + w), f(i + w)]]) {
      ss += a * a;
      ff += b * b;
      sf += a * b;
    } // prettier-ignore
  return ss > 0 && ff > 0 ? sf / Math.sqrt(ss * ff) : 0;
}

/** The unknowns by normal equations, and by how much the variance of the third goes beyond that of a sample; null where they are not told. */
function leastSquares(rows: number[][], values: number[]): { x: Float64Array; third: number } | null {
  const m = new Float64Array(UNKNOWN * UNKNOWN);
  const x = new Float64Array(UNKNOWN);
  rows.forEach((r, n) => {
    for (let i = 0; i < UNKNOWN; i++) {
      x[i] += r[i] * values[n];
      for (let k = 0; k < UNKNOWN; k++) m[UNKNOWN * i + k] += r[i] * r[k];
    }
  });
  const column = Float64Array.from({ length: UNKNOWN }, (_, i) => Number(i === 2));
  return solve(m.slice(), column, UNKNOWN) && solve(m, x, UNKNOWN) ? { x, third: column[2] } : null;
}
