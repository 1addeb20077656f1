import { type Colours, EVEN } from "./colours";
import type { Ground, Sight } from "./ground";

/** How likely each of what is not the thing is before a colour is seen: the ground, its shade, other things, anything. */
const GROUND = 0.7;
const SHADE = 0.06;
const OTHERS = 0.16;
const ANYTHING = 0.08;
/** Ratios of luma between which a shadow lies (Horprasert, Harwood & Davis 1999). */
const RATIO = { least: 0.35, most: 0.985 };
/** How much less surely a shadow keeps the ground's tint than light does: times its spread. */
const TINTED = 2.5;
/** Codes over which the depth of a shadow may be anything. */
const DEPTH = 100;
/** Codes above black from which a ratio says anything. */
const DARK = 5;
const TAU = 2 * Math.PI;
const NORMAL3 = TAU ** 1.5;

/** Nats at most by which the colours of one pixel count. */
const MOST = 10;
/** Standard deviations below which it is not asked. */
const SAME = 1;

/** By how many codes colour differences go with a shadow of full depth beside what black would make of them, as the light it leaves has a tint of its own; and how far they spread. */
export interface Tint {
  off: readonly [number, number];
  spread: number;
}
const NO_TINT: Tint = { off: [0, 0], spread: 0 };

/** How light the ground is at a pixel, as a share of its full light; and by how much its colour differences are off those of a grey shadow. */
export function shadeAt({ ground, off }: Sight, i: number, spread: ArrayLike<number>, pivots: readonly number[], tints: Float64Array): number {
  const lit = ground[0][i] - pivots[0];
  const ratio = lit > DARK ? (lit + off[0][i] * spread[0]) / lit : 1;
  // of R′G′B′ and Y′CbCr alike all planes go by the same ratio
  for (let p = 1; p < 3; p++) tints[p - 1] = off[p][i] * spread[p] - (ratio - 1) * (ground[p][i] - pivots[p]);
  return ratio;
}
const room = new Float64Array(2);

/** Whether a shadow leaves so much of the light. */
export const isShadeRatio = (ratio: number): boolean => ratio >= RATIO.least && ratio <= RATIO.most;

/** How likely pixels of a sight are the ground, and a shadow on it: densities per code cubed, put into `out`. */
export function groundDensities(s: Sight, i: number, spread: ArrayLike<number>, pivots: readonly number[], out: Float64Array, tint = NO_TINT): void {
  const { z } = s;
  // by all that is said of it: coarse chroma counts for less
  out[0] = Math.exp(-0.5 * z[i] * z[i]) / (NORMAL3 * spread[0] * spread[1] * spread[2]);
  out[1] = 0;
  const ratio = shadeAt(s, i, spread, pivots, room);
  if (!isShadeRatio(ratio)) return;
  let [q, area] = [0, TAU * DEPTH];
  for (let p = 1; p < 3; p++) {
    const variance = (TINTED * spread[p]) ** 2 + tint.spread ** 2;
    q += (room[p - 1] - tint.off[p - 1] * (1 - ratio)) ** 2 / variance;
    area *= Math.sqrt(variance);
  }
  out[1] = Math.exp(-0.5 * q) / area;
}

/** How likely what is seen at a pixel is without the thing: each its density by how often it is there. */
interface Without {
  ground: number;
  /** Of a shadow, its density beside how often one is there. */
  shade: number;
  shadow: number;
  another: number;
  anything: number;
}

/** Nats for each pixel of a sight, by what it can be. @param others colours of whatever else passes @param nats of a pixel, by its place in the sight */
export function likelihoods(s: Sight, ground: Ground, others: Colours, nats: (w: Without, i: number) => number, tint?: Tint): Float32Array {
  const [a, b, c] = s.seen;
  const spread = new Float64Array(3);
  const there = new Float64Array(2);
  const w = s.rect.x1 - s.rect.x0;
  const out = new Float32Array(s.z.length);
  const without: Without = { ground: 0, shade: 0, shadow: 0, another: 0, anything: ANYTHING * EVEN };
  for (let y = s.rect.y0, i = 0; y < s.rect.y1; y++)
    for (let x = s.rect.x0; x < s.rect.x0 + w; x++, i++) {
      if (s.z[i] < SAME) {
        out[i] = -MOST;
        continue;
      }
      if (s.known && !s.known[i]) {
        there[0] = ground.about.at(a[i], b[i], c[i]);
        there[1] = 0;
      } else {
        s.spreadAt(x, y, spread);
        groundDensities(s, i, spread, ground.pivots, there, tint);
      }
      without.ground = GROUND * there[0];
      without.shadow = there[1];
      without.shade = SHADE * there[1];
      without.another = OTHERS * (others.total ? others.at(a[i], b[i], c[i]) : EVEN);
      out[i] = Math.min(MOST, Math.max(-MOST, nats(without, i)));
    }
  return out;
}

/** By how much likelier, in nats, each pixel of a sight is the thing than not, by its colour. @param others colours of whatever else passes */
export const likelier = (s: Sight, ground: Ground, thing: Colours, others: Colours): Float32Array =>
  likelihoods(s, ground, others, (w, i) =>
    Math.log(thing.at(s.seen[0][i], s.seen[1][i], s.seen[2][i]) / (w.ground + w.shade + w.another + w.anything)),
  );
