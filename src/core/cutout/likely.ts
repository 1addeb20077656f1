import { type Colours, EVEN } from "./colours";
import type { Sight } from "./ground";

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

/** How likely a pixel is the ground, or a shadow on it: densities per code cubed. */
export interface Unlikely {
  ground: number;
  shade: number;
}

/** The ground's and its shade's densities at a pixel of a sight. @param sigma of its planes, codes @param pivots of its planes */
export function groundAt(s: Sight, i: number, sigma: readonly number[], pivots: readonly number[]): Unlikely {
  // by all that is said of it: coarse chroma counts for less
  const norm = TAU ** 1.5 * sigma[0] * sigma[1] * sigma[2];
  const ground = Math.exp(-0.5 * s.z[i] * s.z[i]) / norm;
  const lit = s.ground[0][i] - pivots[0];
  const ratio = lit > DARK ? (lit + s.off[0][i] * sigma[0]) / lit : 1;
  if (ratio < RATIO.least || ratio > RATIO.most) return { ground, shade: 0 };
  let q = 0;
  for (let p = 1; p < 3; p++) {
    // of R′G′B′ and Y′CbCr alike all planes go by the same ratio
    const d = s.off[p][i] * sigma[p] - (ratio - 1) * (s.ground[p][i] - pivots[p]);
    q += (d / (TINTED * sigma[p])) ** 2;
  }
  return { ground, shade: Math.exp(-0.5 * q) / (TAU * TINTED * TINTED * sigma[1] * sigma[2] * DEPTH) };
}

/** By how much likelier, in nats, a pixel is the thing than not. */
export function likelier(s: Sight, i: number, { ground, shade }: Unlikely, thing: Colours, others: Colours): number {
  const [a, b, c] = [s.seen[0][i], s.seen[1][i], s.seen[2][i]];
  const not = GROUND * ground + SHADE * shade + OTHERS * (others.total ? others.at(a, b, c) : EVEN) + ANYTHING * EVEN;
  return Math.log(thing.at(a, b, c) / not);
}
