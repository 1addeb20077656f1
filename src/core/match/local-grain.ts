import { middleOf } from "../survey/noise";
import type { LocalGrain, PlaneGrain } from "./grain";
import { sigmaAt } from "./grain";

/** Side of the least cell, in samples of a plane, and the most cells on either side. */
const CELL = 32;
const MOST = 32;
/** The tally of ratios. */
const STEP = 0.02;
const STEPS = 200;
/** Blocks that are enough to speak for a cell and those around it. */
const ENOUGH = 24;
/** Ratios beyond these are taken for something that moves, or for ground without any noise of its own. */
const LEAST = 0.25;
const GREATEST = 3.5;

/** A block whose noise was measured: its middle, its level and σ in codes of 8 bits. */
interface Told {
  x: number;
  y: number;
  level: number;
  sigma: number;
}

/**
 * How much stronger or weaker the noise is in parts of a plane than its level says: of each cell and its eight neighbours the usual ratio
 * (as the survey tells noise from what moves); where nothing can be told, what is told beside.
 * @returns undefined where too little of the plane can be told
 */
export function localGrain(blocks: readonly Told[], grain: PlaneGrain, width: number, height: number): LocalGrain | undefined {
  const [across, down] = [width, height].map((v) => Math.max(1, Math.min(MOST, Math.floor(v / CELL))));
  const usual = sigmaAt(grain, 1);
  const cells = Array.from({ length: across * down }, () => new Float64Array(STEPS));
  for (const b of blocks) {
    const level = usual(b.level);
    const step = level > 0 ? Math.floor(b.sigma / level / STEP) : STEPS;
    if (step < STEPS) cells[Math.floor((b.y * down) / height) * across + Math.floor((b.x * across) / width)][step]++;
  }
  const around = (x: number, y: number): number[] => {
    const out: number[] = [];
    for (let j = Math.max(0, y - 1); j <= Math.min(down - 1, y + 1); j++)
      for (let i = Math.max(0, x - 1); i <= Math.min(across - 1, x + 1); i++) out.push(j * across + i);
    return out;
  };
  const told = cells.map((_, c): number | null => {
    const pooled = new Float64Array(STEPS);
    for (const k of around(c % across, Math.floor(c / across))) for (let s = 0; s < STEPS; s++) pooled[s] += cells[k][s];
    if (pooled.reduce((a, b) => a + b, 0) < ENOUGH) return null;
    const r = middleOf(pooled, STEP);
    return r === null ? null : Math.min(GREATEST, Math.max(LEAST, r));
  });
  if (!told.some((r) => r !== null)) return undefined;
  let ratio = told;
  while (ratio.includes(null))
    ratio = ratio.map((r, c) => {
      if (r !== null) return r;
      const near = around(c % across, Math.floor(c / across)).flatMap((k) => ratio[k] ?? []);
      return near.length ? near.reduce((a, b) => a + b, 0) / near.length : null;
    });
  return { across, down, ratio: ratio.map((r) => Math.round(1000 * r!) / 1000) };
}
