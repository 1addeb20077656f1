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

/** Nats at most by which the colours of one pixel count. */
const MOST = 10;
/** Standard deviations below which it is not asked. */
const SAME = 1;

/** How likely pixels of a sight are the ground, and a shadow on it: densities per code cubed, put into `out`. */
export function groundDensities({ z, ground, off }: Sight, i: number, spread: ArrayLike<number>, pivots: readonly number[], out: Float64Array): void {
  // by all that is said of it: coarse chroma counts for less
  out[0] = Math.exp(-0.5 * z[i] * z[i]) / (TAU ** 1.5 * spread[0] * spread[1] * spread[2]);
  out[1] = 0;
  const lit = ground[0][i] - pivots[0];
  const ratio = lit > DARK ? (lit + off[0][i] * spread[0]) / lit : 1;
  if (ratio < RATIO.least || ratio > RATIO.most) return;
  let q = 0;
  for (let p = 1; p < 3; p++) {
    // of R′G′B′ and Y′CbCr alike all planes go by the same ratio
    const d = off[p][i] * spread[p] - (ratio - 1) * (ground[p][i] - pivots[p]);
    q += (d / (TINTED * spread[p])) ** 2;
  }
  out[1] = Math.exp(-0.5 * q) / (TAU * TINTED * TINTED * spread[1] * spread[2] * DEPTH);
}

/** By how much likelier, in nats, each pixel of a sight is the thing than not, by its colour. @param others colours of whatever else passes */
export function likelier(s: Sight, ground: Ground, thing: Colours, others: Colours): Float32Array {
  const [a, b, c] = s.seen;
  const spread = new Float64Array(3);
  const there = new Float64Array(2);
  const w = s.rect.x1 - s.rect.x0;
  const out = new Float32Array(s.z.length);
  for (let y = s.rect.y0, i = 0; y < s.rect.y1; y++)
    for (let x = s.rect.x0; x < s.rect.x0 + w; x++, i++) {
      if (s.z[i] < SAME) {
        out[i] = -MOST;
        continue;
      }
      ground.spreadAt(x, y, spread);
      groundDensities(s, i, spread, ground.pivots, there);
      const another = others.total ? others.at(a[i], b[i], c[i]) : EVEN;
      const not = GROUND * there[0] + SHADE * there[1] + OTHERS * another + ANYTHING * EVEN;
      out[i] = Math.min(MOST, Math.max(-MOST, Math.log(thing.at(a[i], b[i], c[i]) / not)));
    }
  return out;
}
