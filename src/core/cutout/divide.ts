import { widthOf } from "./cut";
import type { Sight } from "./ground";
import { DIRECTIONS, minCut } from "./min-cut";

/** Nats that a step in the matte costs where nothing is seen to step; and codes of a step at which it costs a third of that. */
const STEP = 4;
const CONTRAST = 14;
/** Units of the cut to a nat. */
const FINE = 64;
const [ACROSS, DOWN] = [0, 1].map((axis) => Int8Array.from(DIRECTIONS, (d) => d[axis]));

/**
 * Which pixels of a sight are a thing: those for which more tells than against, neighbours alike unless something is seen between them
 * (Rother, Kolmogorov & Blake 2004), what the ground shows by itself taken off (Sun et al. 2006), by a minimum cut.
 * @param candidate whether a pixel may be it at all @param tells for it, nats
 * @param step nats that a step costs @returns 1 where it is
 */
export function divided({ rect, seen, ground, z }: Sight, candidate: (i: number) => boolean, tells: Float32Array, step = STEP): Uint8Array {
  const w = widthOf(rect);
  const node = new Int32Array(z.length).fill(-1);
  const pixel = new Int32Array(z.length);
  let n = 0;
  for (let i = 0; i < z.length; i++)
    if (candidate(i)) {
      node[i] = n;
      pixel[n++] = i;
    }
  const near = new Int32Array(8 * n).fill(-1);
  const capacity = new Int32Array(8 * n);
  const terminal = new Int32Array(n);
  const h = z.length / w;
  const [a, b, c] = seen;
  const [ga, gb, gc] = ground;
  /** Squared codes of a step between two pixels that the ground has not. */
  const stepOf = (i: number, j: number) => {
    const u = Math.max(0, Math.abs(a[i] - a[j]) - Math.abs(ga[i] - ga[j]));
    const v = Math.max(0, Math.abs(b[i] - b[j]) - Math.abs(gb[i] - gb[j]));
    const t = Math.max(0, Math.abs(c[i] - c[j]) - Math.abs(gc[i] - gc[j]));
    return u * u + v * v + t * t;
  };
  for (let k = 0; k < n; k++) {
    const i = pixel[k];
    const x = i % w;
    const y = (i - x) / w;
    let own = tells[i];
    for (let d = 0; d < 8; d++) {
      const dx = ACROSS[d];
      const dy = DOWN[d];
      if (x + dx < 0 || y + dy < 0 || x + dx >= w || y + dy >= h) continue;
      const j = i + dy * w + dx;
      const other = node[j];
      // neighbours cost each other the same: it was worked out for the first of them
      if (other >= 0 && other < k) continue;
      const cost = (step / (dx && dy ? Math.SQRT2 : 1)) * Math.exp(-stepOf(i, j) / (CONTRAST * CONTRAST)) * 0.5;
      if (other < 0) {
        own -= cost; // what is no candidate is not the thing
        continue;
      }
      near[8 * k + d] = other;
      near[8 * other + 7 - d] = k;
      capacity[8 * k + d] = capacity[8 * other + 7 - d] = Math.round(FINE * cost);
    }
    terminal[k] = Math.round(FINE * own);
  }
  const side = minCut(near, capacity, terminal);
  const out = new Uint8Array(z.length);
  for (let k = 0; k < n; k++) out[pixel[k]] = side[k];
  return out;
}
