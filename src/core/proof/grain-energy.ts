import { averaged, type PlaneGrain, sigmaAt } from "../match/grain";
import type { Plane, Rect } from "../pixels/frame";

/** Fewer samples say nothing of grain. */
export const LEAST_SAMPLES = 2000;
/** Side of the cells whose means are taken off, in samples. */
const CELL = 8;

/**
 * The energy of grain in time where a patch lies, against that which the footage has at the same levels: of two mended frames the mean
 * square of their difference, its low-passed part left out, over 2·σ²·(1 − ρ). 1: as it should be; 0: the grain stands still.
 * @param where samples of the plane that are asked: fully within the patch @param rho how alike the grain of these two frames is, 0 … 1
 * @param unit codes per code of 8 bits
 * @returns null where fewer than `LEAST_SAMPLES` can be asked
 */
export function grainEnergy(
  a: Plane,
  b: Plane,
  where: Rect & { inside: (x: number, y: number) => boolean },
  grain: PlaneGrain,
  rho: number,
  unit: number,
): number | null {
  const sigma = sigmaAt(grain, unit);
  // taking a cell's mean off takes what its samples have in common
  const inCommon = averaged(grain, CELL) ** 2;
  let [energy, expected, n] = [0, 0, 0];
  for (let cy = where.y0; cy + CELL <= where.y1; cy += CELL)
    for (let cx = where.x0; cx + CELL <= where.x1; cx += CELL) {
      let [s, q, e, k] = [0, 0, 0, 0];
      for (let y = cy; y < cy + CELL; y++)
        for (let x = cx; x < cx + CELL; x++) {
          if (!where.inside(x, y)) continue;
          const i = y * a.width + x;
          const d = a.data[i] - b.data[i];
          s += d;
          q += d * d;
          e += sigma((a.data[i] + b.data[i]) / 2) ** 2;
          k++;
        }
      // a whole cell alone: its mean is the light's, not the grain's
      if (k < CELL * CELL) continue;
      energy += q - (s * s) / k;
      expected += 2 * e * (1 - rho) * (1 - inCommon);
      n += k;
    }
  return n < LEAST_SAMPLES || expected <= 0 ? null : energy / expected;
}
