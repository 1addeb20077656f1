import { colourPlanes, type Frame, isChroma } from "../pixels/frame";
import { likenessToFirst } from "./across-planes";
import { BLOCK, type Block, blocksOf, type FlatBox } from "./grain-blocks";
import { middleOf } from "../survey/noise";
import { type GrainStatistics, LAGS, likenessOf, type PlaneGrain } from "./grain";
import { localGrain, localLikeness } from "./local-grain";

/** Levels by which noise is told apart, and steps of the tally of standard deviations, in codes of 8 bits. */
const LEVELS = 16;
const STEP = 0.05;
const STEPS = 600;
/** Blocks of a brightness that are enough to speak for it. */
const ENOUGH = 20;
/** Pairs of frames that are enough to tell how alike planes are. */
const ENOUGH_PAIRS = 4;
/** From one brightness to the next noise is at most so many times as strong. */
const MOVED = 3;
/** Blocks whose spread lies so far about the usual one hold noise alone. */
const NOISE_ALONE = 0.3;
const SIDE = 2 * LAGS + 1;
/** Black in video range, codes of 8 bits; in full range a gain is off by so little that it shows in no noise. */
const BLACK = 16;
/** Levels beyond which codes may be clipped, 8 bits. */
const DARKEST = 20;
const BRIGHTEST = 230;

/**
 * The grain of some footage from pairs of its frames: `far` pairs lie so far apart that an encoder has carried nothing of the noise from
 * one to the other, `near` pairs follow each other and `mid` pairs lie `HELD_AFTER` apart: they tell how long it holds on. Blocks of
 * 16 × 16 of the differences, the light of each taken off; of each brightness the usual spread (as the survey tells it), the likeness of
 * neighbours from the blocks that hold noise alone. Blocks that were copied are left out. Without a box also how much stronger or weaker
 * it is in parts of the picture.
 * @param unit codes per code of 8 bits @param box where given, only within it
 * @returns null where too little of the picture stands still to tell
 */
export function measureGrain(
  far: readonly (readonly [Frame, Frame])[],
  near: readonly (readonly [Frame, Frame])[],
  unit: number,
  box?: FlatBox,
  mid: readonly (readonly [Frame, Frame])[] = [],
): GrainStatistics | null {
  if (!far.length) return null;
  const planes: PlaneGrain[] = [];
  let [inTime, held] = [0, 0];
  for (let p = 0; p < colourPlanes(far[0][0].format); p++) {
    const scale = far[0][0].planes[p].width / far[0][0].width;
    const within = box && {
      x0: Math.ceil(box.x0 * scale),
      y0: Math.ceil(box.y0 * scale),
      x1: Math.floor(box.x1 * scale),
      y1: Math.floor(box.y1 * scale),
    };
    const pivot = isChroma(far[0][0].format, p) ? null : BLACK;
    const blocks = far.flatMap(([a, b]) => blocksOf(a.planes[p], b.planes[p], unit, pivot, within));
    const told = planeGrain(blocks, !!box);
    if (!told) {
      if (p === 0) return null;
      planes.push(planes[0]); // a colour plane without anything to tell by
      continue;
    }
    const { width, height } = far[0][0].planes[p];
    // within a box somebody has chosen one ground, and the grain is meant for any place
    const { grain, spread } = told;
    const whole: PlaneGrain = { ...grain, sigma: grain.sigma.map(([level, s]) => [level, s * spread]) };
    const after = (pairs: typeof near) => pairs.flatMap(([a, b]) => blocksOf(a.planes[p], b.planes[p], unit, pivot, within, true));
    const next = after(near);
    if (p === 0) [inTime, held] = [next, after(mid)].map((of) => likenessInTime(of, grain));
    const local = box ? undefined : localGrain(blocks, grain, width, height);
    if (local) local.inTime = localLikeness(next, { ...grain, local }, width, height);
    const likeFirst = p === 0 ? 0 : likenessToFirst(far.slice(0, ENOUGH_PAIRS), p, unit, [BLACK, pivot], within);
    planes.push({ ...whole, ...(local && { local }), ...(likeFirst && { likeFirst }) });
  }
  return { planes, inTime, ...(held ? { held: Math.min(held, inTime) } : {}) };
}

/** The grain as blocks tell it, and by how much it is stronger than in blocks. */
function planeGrain(blocks: Block[], all: boolean): { grain: PlaneGrain; spread: number } | null {
  if (blocks.length < 4) return null;
  const tally = Array.from({ length: LEVELS }, () => new Float64Array(STEPS));
  const seen = new Float64Array(LEVELS);
  const binOf = (b: Block) => Math.min(LEVELS - 1, Math.floor((b.level * LEVELS) / 256));
  for (const b of blocks) {
    seen[binOf(b)]++;
    const step = Math.floor(b.sigma / STEP);
    if (step < STEPS) tally[binOf(b)][step]++;
  }
  const told = withoutMoved(
    tally.map((t, i) => (seen[i] >= (all ? 1 : ENOUGH) ? middleOf(t, STEP, all) : null)),
    seen,
  );
  const sigma = told.flatMap((s, i): [number, number][] => {
    if (s === null) return [];
    const levels = blocks.filter((b) => binOf(b) === i).map((b) => b.level);
    return [[levels.reduce((x, y) => x + y, 0) / levels.length, s]];
  });
  if (!sigma.length) return null;
  const sums = new Float64Array(SIDE * SIDE);
  const counts = new Float64Array(SIDE * SIDE);
  for (const b of blocks) {
    const usual = told[binOf(b)];
    if (usual === null || usual <= 0 || Math.abs(b.sigma / usual - 1) > NOISE_ALONE) continue;
    addCovariance(b, sums, counts);
  }
  const middle = LAGS * SIDE + LAGS;
  if (!counts[middle] || sums[middle] <= 0)
    return { grain: { sigma, covariance: Array.from({ length: SIDE * SIDE }, (_, i) => Number(i === middle)) }, spread: 1 };
  const raw = Array.from(sums, (s, i) => s / counts[i] / (sums[middle] / counts[middle]));
  const { covariance, spread } = madeWhole(raw, Math.sqrt(blocks[0].d.length));
  return { grain: { sigma, covariance }, spread };
}

/**
 * The spreads of levels without those that are no noise: where all that has a brightness moves, that is so many times as strong as what is
 * beside it. Asked from the most frequent level outwards.
 */
function withoutMoved(told: readonly (number | null)[], seen: Float64Array): (number | null)[] {
  const out = [...told];
  let first = -1;
  told.forEach((s, i) => {
    if (s !== null && (first < 0 || seen[i] > seen[first])) first = i;
  });
  for (const way of [-1, 1])
    for (let i = first + way, last = told[first]; i >= 0 && i < told.length; i += way) {
      const s = out[i];
      if (s === null || last === null) continue;
      if (s > MOVED * Math.max(last, STEP)) out[i] = null;
      else last = s;
    }
  return out;
}

/**
 * Likeness of neighbours as it was before light was taken off the blocks: that takes from every lag what the noise has of the lowest
 * frequencies, S = Σ of all likeness, times the product of what was taken off with itself that far apart: 1/n for a mean,
 * 12/(side² − 1)/n times the mean of (i − m)(i + lag − m) for a slope.
 * @returns with it by how much the standard deviations of blocks are to be raised
 */
function madeWhole(raw: number[], side: number): { covariance: number[]; spread: number } {
  const n = side * side;
  const middle = (side - 1) / 2;
  const slope = (lag: number) => {
    let s = 0;
    for (let i = 0; i + lag < side; i++) s += (i - middle) * (i + lag - middle);
    return side < BLOCK ? 0 : (s / (side - lag)) * (12 / (n - 1));
  };
  const by = Array.from({ length: LAGS + 1 }, (_, lag) => slope(lag));
  const taken = raw.map((_, i) => (1 + by[Math.abs((i % SIDE) - LAGS)] + by[Math.abs(Math.floor(i / SIDE) - LAGS)]) / n);
  const own = taken[LAGS * SIDE + LAGS];
  const [all, allTaken] = [raw, taken].map((v) => v.reduce((a, b) => a + b, 0));
  const low = all / Math.max(0.1, 1 - allTaken + own * all);
  const left = Math.max(0.5, 1 - low * own);
  return {
    covariance: raw.map((v, i) => v * left + (1 - left) * (taken[i] / own)),
    // the degrees of freedom allow for what is taken of white noise
    spread: Math.sqrt((1 - own) / left),
  };
}

/** Adds the products of a block's samples at every lag; of a lag and its opposite one is worked out. */
function addCovariance({ d, sigma }: Block, sums: Float64Array, counts: Float64Array): void {
  const side = Math.sqrt(d.length);
  const weight = 1 / (sigma * sigma);
  for (let dy = 0; dy <= LAGS; dy++)
    for (let dx = dy ? -LAGS : 0; dx <= LAGS; dx++) {
      let [s, n] = [0, 0];
      for (let y = 0; y + dy < side; y++)
        for (let x = Math.max(0, -dx); x + Math.max(0, dx) < side; x++, n++) s += d[y * side + x] * d[(y + dy) * side + x + dx];
      for (const i of new Set([(dy + LAGS) * SIDE + dx + LAGS, (LAGS - dy) * SIDE + LAGS - dx])) {
        sums[i] += s * weight;
        counts[i] += n;
      }
    }
}

/** How alike the noise of frames is that follow each other: what is missing of the spread of their differences. */
function likenessInTime(blocks: Block[], grain: PlaneGrain): number {
  const ratios: number[] = [];
  for (const b of blocks) {
    // black and white that are clipped stand still, whatever the encoder does
    if (b.level < DARKEST || b.level > BRIGHTEST) continue;
    const near = grain.sigma.reduce((best, l) => (Math.abs(l[0] - b.level) < Math.abs(best[0] - b.level) ? l : best));
    if (near[1] > 0) ratios.push((b.sigma / near[1]) ** 2);
  }
  if (ratios.length < 4) return 0;
  ratios.sort((x, y) => x - y);
  return likenessOf(ratios[ratios.length >> 1]);
}
