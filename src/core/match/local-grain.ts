import { middleOf } from "../survey/noise";
import { LAGS, likenessOf, type LocalGrain, localRatio, type PlaneGrain, sigmaAt } from "./grain";
import type { Block } from "./grain-blocks";

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
/** Of one block in several pairs this one, from the least on, is free of what passes; and how much stronger the others may be. */
const FREE = 1;
const STRONGER = 1.5;
/** A block whose spread is so many times what its fine detail says shows something that moves: what is soft changes slowly from sample to sample. */
const COARSER = 1.3;
/** Neighbours that are more alike than this leave too little fine detail to tell by. */
const ALIKE = 0.9;
/** Power of a difference, over what unlike noise has, from which on something moves. */
const MOVES = 2;

/** A block whose noise was measured: its middle, its level and σ in codes of 8 bits. */
interface Told {
  x: number;
  y: number;
  level: number;
  sigma: number;
}

/** Whether a block is coarser than the grain: neighbours in noise differ by 2σ²(1 − ρ) in the square. */
function isCoarser({ d }: Block, { covariance }: PlaneGrain): boolean {
  const side = Math.sqrt(d.length);
  const middle = LAGS * (2 * LAGS + 2);
  const [across, down] = [covariance[middle + 1], covariance[middle + 2 * LAGS + 1]];
  if (across > ALIKE || down > ALIKE) return false;
  let [x2, y2, all] = [0, 0, 0];
  for (let y = 0, i = 0; y < side; y++)
    for (let x = 0; x < side; x++, i++) {
      all += d[i] * d[i];
      if (x + 1 < side) x2 += (d[i + 1] - d[i]) ** 2;
      if (y + 1 < side) y2 += (d[i + side] - d[i]) ** 2;
    }
  const fine = (x2 / (1 - across) + y2 / (1 - down)) / (4 * side * (side - 1));
  return COARSER * COARSER * fine < all / d.length;
}

/**
 * Without what passes: of the pairs of frames in which a block was measured those in which it is much stronger than in the second weakest
 * show something else there. What must go stands in the same place in many frames, just where its patch will lie.
 */
function withoutPassing(blocks: readonly Told[]): Told[] {
  const places = new Map<string, Told[]>();
  for (const b of blocks) {
    const key = `${b.x},${b.y}`;
    const list = places.get(key);
    if (list) list.push(b);
    else places.set(key, [b]);
  }
  return [...places.values()].flatMap((list) => {
    const least = list.map((b) => b.sigma).sort((x, y) => x - y)[Math.min(FREE, list.length - 1)];
    return list.filter((b) => b.sigma <= STRONGER * least);
  });
}

/**
 * How much stronger or weaker the noise is in parts of a plane than its level says: of each cell and its eight neighbours the usual ratio
 * (as the survey tells noise from what moves); where nothing can be told, what is told beside.
 * @returns undefined where too little of the plane can be told
 */
export function localGrain(blocks: readonly Block[], grain: PlaneGrain, width: number, height: number): LocalGrain | undefined {
  const [across, down] = [width, height].map((v) => Math.max(1, Math.min(MOST, Math.floor(v / CELL))));
  const usual = sigmaAt(grain, 1);
  const cells = Array.from({ length: across * down }, () => new Float64Array(STEPS));
  for (const b of withoutPassing(blocks.filter((k) => !isCoarser(k, grain)))) {
    const level = usual(b.level);
    const step = level > 0 ? Math.floor(b.sigma / level / STEP) : STEPS;
    if (step < STEPS) cells[Math.floor((b.y * down) / height) * across + Math.floor((b.x * across) / width)][step]++;
  }
  const told = cells.map((_, c): number | null => {
    const pooled = new Float64Array(STEPS);
    const own = cells[c].reduce((a, b) => a + b, 0) >= ENOUGH ? [c] : around(c, across, down);
    for (const k of own) for (let s = 0; s < STEPS; s++) pooled[s] += cells[k][s];
    if (pooled.reduce((a, b) => a + b, 0) < ENOUGH) return null;
    const r = middleOf(pooled, STEP);
    return r === null ? null : Math.min(GREATEST, Math.max(LEAST, r));
  });
  const ratio = spreadToAll(told, across, down);
  return ratio ? { across, down, ratio } : undefined;
}

/**
 * How alike the noise of frames that follow each other is in parts of a plane: what is missing, there, of the spread of their differences.
 * @param blocks of pairs of such frames, copied ones among them @param grain with what is known of its parts
 * @returns by its cells; undefined where too little can be told
 */
export function localLikeness(blocks: readonly Told[], grain: PlaneGrain, width: number, height: number): number[] | undefined {
  const { across, down } = grain.local!;
  const part = localRatio(grain, width, height)!;
  const usual = sigmaAt(grain, 1);
  const sum = new Float64Array(across * down);
  const count = new Float64Array(across * down);
  for (const { x, y, level, sigma } of blocks) {
    const power = (sigma / (usual(level) * part(x, y))) ** 2;
    // what moves is no noise
    if (!(power < MOVES)) continue;
    const c = Math.floor((y * down) / height) * across + Math.floor((x * across) / width);
    sum[c] += power;
    count[c]++;
  }
  const told = Array.from(sum, (_, c): number | null => {
    let [s, n] = [0, 0];
    for (const k of count[c] >= ENOUGH ? [c] : around(c, across, down)) [s, n] = [s + sum[k], n + count[k]];
    return n < ENOUGH ? null : likenessOf(s / n);
  });
  return spreadToAll(told, across, down);
}

/** A cell and those beside it. */
function around(c: number, across: number, down: number): number[] {
  const [x, y] = [c % across, Math.floor(c / across)];
  const out: number[] = [];
  for (let j = Math.max(0, y - 1); j <= Math.min(down - 1, y + 1); j++)
    for (let i = Math.max(0, x - 1); i <= Math.min(across - 1, x + 1); i++) out.push(j * across + i);
  return out;
}

/** Cells of which nothing is told get what is told beside them; of none told undefined. Thousandths. */
function spreadToAll(told: (number | null)[], across: number, down: number): number[] | undefined {
  if (!told.some((r) => r !== null)) return undefined;
  let all = told;
  while (all.includes(null))
    all = all.map((r, c) => {
      if (r !== null) return r;
      const near = around(c, across, down).flatMap((k) => all[k] ?? []);
      return near.length ? near.reduce((a, b) => a + b, 0) / near.length : null;
    });
  return all.map((r) => Math.round(1000 * r!) / 1000);
}
