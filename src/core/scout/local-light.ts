import { pivotOf } from "../match/light";
import type { Background, Cells } from "../plate/cells";

/** Cells to a block of one light, each way. */
const BLOCK = 12;
/** Between these the ratio of a block to the background is light (the range in which a patch's rim follows it, too). */
const RATIO = { least: 0.5, most: 2 };
/** Standard deviations by which half of a block's cells may lie off its light, and codes by which its colour may. */
const SPREAD = 2.5;
const TINTED = 3;
/** Codes above black below which a ratio says nothing. */
const DARK = 10;
/** Rounds in which blocks of which nothing is known take the mean of those beside them. */
const ROUNDS = 30;

/**
 * A frame in the light of the background, place by place: shadows of clouds are wide and soft, and what they fall on looks the same but for
 * one ratio. A block whose cells do not go by one ratio, or that has another colour, holds a thing, and takes the light of those about it.
 */
export function inLightOfPlace(c: Cells, b: Background): Cells {
  const { width: w, height: h } = c;
  const [across, down] = [Math.ceil(w / BLOCK), Math.ceil(h / BLOCK)];
  const pivot = pivotOf(false, false);
  const light = new Float32Array(across * down).fill(NaN);
  for (let y = 0, k = 0; y < down; y++) for (let x = 0; x < across; x++, k++) light[k] = lightOfBlock(c, b, x * BLOCK, y * BLOCK, pivot);
  if (light.every(Number.isNaN)) return c;
  spread(light, across, down);
  const luma = new Float32Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    const v = Math.min(down - 1, Math.max(0, (y + 0.5) / BLOCK - 0.5));
    const [y0, fy] = [Math.floor(v), v - Math.floor(v)];
    const y1 = Math.min(down - 1, y0 + 1);
    for (let x = 0; x < w; x++, i++) {
      const u = Math.min(across - 1, Math.max(0, (x + 0.5) / BLOCK - 0.5));
      const [x0, fx] = [Math.floor(u), u - Math.floor(u)];
      const x1 = Math.min(across - 1, x0 + 1);
      const above = light[y0 * across + x0] * (1 - fx) + light[y0 * across + x1] * fx;
      const below = light[y1 * across + x0] * (1 - fx) + light[y1 * across + x1] * fx;
      luma[i] = pivot + (c.planes[0][i] - pivot) / (above * (1 - fy) + below * fy);
    }
  }
  return { ...c, planes: [luma, c.planes[1], c.planes[2]] };
}

/** Room for the ratios of a block's cells. */
const RATIOS = new Float32Array(BLOCK * BLOCK);

/** The ratio by which most of a block is lighter than the background; NaN where there is none. */
function lightOfBlock(c: Cells, b: Background, x0: number, y0: number, pivot: number): number {
  const { width: w, height: h } = c;
  const tints = [0, 0];
  let [n, noise] = [0, 0];
  for (let y = y0; y < Math.min(h, y0 + BLOCK); y++)
    // every other cell is enough
    for (let x = x0 + (y & 1); x < Math.min(w, x0 + BLOCK); x += 2) {
      const i = y * w + x;
      const lit = b.planes[0][i] - pivot;
      if (lit < DARK) continue;
      RATIOS[n] = (c.planes[0][i] - pivot) / lit;
      for (const p of [1, 2]) tints[p - 1] += Math.abs(c.planes[p][i] - b.planes[p][i]) - 2 * b.sigma[p][i];
      noise += b.sigma[0][i] / lit;
      n++;
    }
  if (n < BLOCK) return NaN;
  const sorted = RATIOS.subarray(0, n).sort();
  const ratio = sorted[n >> 1];
  const half = sorted[Math.floor(0.75 * n)] - sorted[Math.floor(0.25 * n)];
  // half of a normal distribution lies within ±0.674 σ
  if (ratio < RATIO.least || ratio > RATIO.most || half / 1.349 > (SPREAD * noise) / n) return NaN;
  return tints.some((t) => t > TINTED * n) ? NaN : ratio;
}

/** Fills in blocks of which nothing is known. */
function spread(light: Float32Array, across: number, down: number): void {
  const known = light.map((v) => (Number.isNaN(v) ? 0 : 1));
  for (let round = 0; round < ROUNDS; round++) {
    const was = light.slice();
    for (let y = 0, k = 0; y < down; y++)
      for (let x = 0; x < across; x++, k++) {
        if (known[k]) continue;
        let [s, n] = [0, 0];
        for (const [u, v] of [
          [x - 1, y],
          [x + 1, y],
          [x, y - 1],
          [x, y + 1],
        ] as const) {
          if (u < 0 || v < 0 || u >= across || v >= down || Number.isNaN(was[v * across + u])) continue;
          s += was[v * across + u];
          n++;
        }
        if (n) light[k] = s / n;
      }
  }
  for (let k = 0; k < light.length; k++) if (Number.isNaN(light[k])) light[k] = 1;
}
