import { widthOf } from "./cut";
import type { Sight } from "./ground";
import { DIRECTIONS, minCut } from "./min-cut";

/** Nats that a step in the matte costs where nothing is seen to step; and codes of a step at which it costs a third of that. */
const STEP = 4;
const CONTRAST = 14;
/** Units of the cut to a nat. */
const FINE = 64;

/**
 * Which pixels of a sight are a thing: those for which more tells than against, neighbours alike unless something is seen between them
 * (Rother, Kolmogorov & Blake 2004), what the ground shows by itself taken off (Sun et al. 2006), by a minimum cut.
 * @param candidate whether a pixel may be it at all @param tells for it, nats @returns 1 where it is
 */
export function divided({ rect, seen, ground, z }: Sight, candidate: (i: number) => boolean, tells: Float32Array): Uint8Array {
  const w = widthOf(rect);
  const node = new Int32Array(z.length).fill(-1);
  const pixel: number[] = [];
  for (let i = 0; i < z.length; i++) if (candidate(i)) node[i] = pixel.push(i) - 1;
  const n = pixel.length;
  const near = new Int32Array(8 * n).fill(-1);
  const capacity = new Int32Array(8 * n);
  const terminal = new Int32Array(n);
  const h = z.length / w;
  for (let k = 0; k < n; k++) {
    const i = pixel[k];
    const [x, y] = [i % w, Math.floor(i / w)];
    let own = tells[i];
    for (let d = 0; d < 8; d++) {
      const [dx, dy] = DIRECTIONS[d];
      if (x + dx < 0 || y + dy < 0 || x + dx >= w || y + dy >= h) continue;
      const j = i + dy * w + dx;
      let step = 0;
      for (let p = 0; p < 3; p++) {
        const of = Math.abs(seen[p][i] - seen[p][j]) - Math.abs(ground[p][i] - ground[p][j]);
        if (of > 0) step += of * of;
      }
      const cost = (STEP / (dx && dy ? Math.SQRT2 : 1)) * Math.exp(-step / (CONTRAST * CONTRAST)) * 0.5;
      if (node[j] < 0) {
        own -= cost; // what is no candidate is not the thing
        continue;
      }
      near[8 * k + d] = node[j];
      capacity[8 * k + d] = Math.round(FINE * cost);
    }
    terminal[k] = Math.round(FINE * own);
  }
  const side = minCut(near, capacity, terminal);
  const out = new Uint8Array(z.length);
  for (let k = 0; k < n; k++) out[pixel[k]] = side[k];
  return out;
}
