import type { Frame, Plane } from "../pixels/frame";
import { colourPlanes } from "../pixels/frame";
import { middleOf } from "../survey/noise";
import { type GrainStatistics, LAGS, type PlaneGrain } from "./grain";

/** Side of the blocks that are compared, in samples of a plane. */
const BLOCK = 16;
/** Levels by which noise is told apart, and steps of the tally of standard deviations, in codes of 8 bits. */
const LEVELS = 16;
const STEP = 0.05;
const STEPS = 600;
/** Blocks of a brightness that are enough to speak for it. */
const ENOUGH = 20;
/** Blocks whose spread lies so far about the usual one hold noise alone. */
const NOISE_ALONE = 0.3;
const SIDE = 2 * LAGS + 1;
/** Levels beyond which codes may be clipped, 8 bits. */
const DARKEST = 20;
const BRIGHTEST = 230;

/** A rectangle of luma pixels in which the grain is measured: one that is flat. */
export interface FlatBox {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

interface Block {
  d: Float64Array;
  level: number;
  sigma: number;
}

/**
 * The grain of some footage from pairs of its frames: `far` pairs lie so far apart that an encoder has carried nothing of the noise from
 * one to the other, `near` pairs follow each other and `mid` pairs lie `HELD_AFTER` apart: they tell how long it holds on. Blocks of 16 × 16 of the differences, their means taken off; of
 * each brightness the usual spread (as the survey tells it), the likeness of neighbours from the blocks that hold noise alone. Blocks that were copied are left out.
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
    const blocks = far.flatMap(([a, b]) => blocksOf(a.planes[p], b.planes[p], unit, within));
    const grain = planeGrain(blocks, !!box);
    if (!grain) {
      if (p === 0) return null;
      planes.push(planes[0]); // a colour plane without anything to tell by
      continue;
    }
    planes.push(grain);
    if (p === 0)
      [inTime, held] = [near, mid].map((pairs) =>
        likenessInTime(
          pairs.flatMap(([a, b]) => blocksOf(a.planes[0], b.planes[0], unit, within, true)),
          grain,
        ),
      );
  }
  return { planes, inTime, ...(held ? { held: Math.min(held, inTime) } : {}) };
}

/** @param copied whether blocks count that are the same in both: where noise is carried on, they are its utmost likeness */
function blocksOf(a: Plane, b: Plane, unit: number, box?: FlatBox, copied = false): Block[] {
  const { width, height } = a;
  const r = box ?? { x0: 0, y0: 0, x1: width, y1: height };
  const side = Math.max(4, Math.min(BLOCK, r.x1 - r.x0, r.y1 - r.y0));
  const out: Block[] = [];
  const n = side * side;
  for (let y = r.y0; y + side <= r.y1; y += side)
    for (let x = r.x0; x + side <= r.x1; x += side) {
      const d = new Float64Array(n);
      let [sum, level, same] = [0, 0, 0];
      for (let j = 0, o = 0; j < side; j++)
        for (let i = 0, at = (y + j) * width + x; i < side; i++, at++, o++) {
          d[o] = (b.data[at] - a.data[at]) / unit;
          sum += d[o];
          level += a.data[at] + b.data[at];
          if (a.data[at] === b.data[at]) same++;
        }
      if (same > (n * 7) / 8 && !copied) continue;
      const mean = sum / n;
      let s = 0;
      for (let i = 0; i < n; i++) s += (d[i] -= mean) * d[i];
      out.push({ d, level: level / (2 * n * unit), sigma: Math.sqrt(s / (n - 1) / 2) });
    }
  return out;
}

function planeGrain(blocks: Block[], all: boolean): PlaneGrain | null {
  if (blocks.length < 4) return null;
  const tally = Array.from({ length: LEVELS }, () => new Float64Array(STEPS));
  const seen = new Float64Array(LEVELS);
  const binOf = (b: Block) => Math.min(LEVELS - 1, Math.floor((b.level * LEVELS) / 256));
  for (const b of blocks) {
    seen[binOf(b)]++;
    const step = Math.floor(b.sigma / STEP);
    if (step < STEPS) tally[binOf(b)][step]++;
  }
  const told = tally.map((t, i) => (seen[i] >= (all ? 1 : ENOUGH) ? middleOf(t, STEP, all) : null));
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
  if (!counts[middle] || sums[middle] <= 0) return { sigma, covariance: Array.from({ length: SIDE * SIDE }, (_, i) => Number(i === middle)) };
  const raw = Array.from(sums, (s, i) => s / counts[i]);
  // taking a block's mean off takes the same from every lag: what the sum of all likeness comes to over a block
  const side = Math.sqrt(blocks[0].d.length);
  const lost = raw.reduce((s, v) => s + v, 0) / raw[middle] / (side * side);
  const covariance = raw.map((v) => (v / raw[middle] + lost) / (1 + lost));
  return { sigma, covariance };
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
  return Math.min(0.95, Math.max(0, 1 - ratios[ratios.length >> 1]));
}
