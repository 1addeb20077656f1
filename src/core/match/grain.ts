import { UserError } from "../user-error";

/** Lags on either side for which the noise of neighbours is known. */
export const LAGS = 4;
const SIDE = 2 * LAGS + 1;

/** The number of the method by which grain is measured. */
export const GRAIN_METHOD = 6;

/** The grain of one plane. */
export interface PlaneGrain {
  /** Standard deviation by the plane's own value: [8-bit code, σ in 8-bit codes], in rising order; at least one. */
  sigma: [number, number][];
  /** How alike the noise of samples is that lie (dx, dy) apart, −4 … 4 both ways, row by row; 1 in the middle. */
  covariance: number[];
  /** How much stronger or weaker it is in parts of the picture than its level says, where that was measured. */
  local?: LocalGrain;
  /** How alike it and that of the first plane is at a place, −1 … 1. Absent: not. */
  likeFirst?: number;
}

/** What grain is in parts of the picture, in cells that divide it evenly, row by row: encoders leave flat ground another noise than texture. */
export interface LocalGrain {
  across: number;
  down: number;
  /** σ over that of the level. */
  ratio: number[];
  /** How alike the noise of frames is that follow each other, 0 … 1; where it was told. */
  inTime?: number[];
}

/** How the grain of some footage is: what a profile's data say. */
export interface GrainStatistics {
  /** As many as the footage has colour planes. */
  planes: PlaneGrain[];
  /** How alike the noise of frames is that follow each other, 0 … 1. */
  inTime: number;
  /** How alike that of frames is that lie `HELD_AFTER` apart, 0 … 1: what an encoder has carried on. Absent: none. */
  held?: number;
}

/** Frames after which noise that is still alike counts as carried on. */
export const HELD_AFTER = 6;

/** The grain of plane `p`; of planes that were not measured, that of the last one that was. */
export const grainOfPlane = ({ planes }: GrainStatistics, p: number): PlaneGrain => planes[Math.min(p, planes.length - 1)];

/** As it is kept, in UTF-8. */
export const grainText = (g: GrainStatistics): string => JSON.stringify(g);

/** @throws UserError where it is no profile */
export function readGrain(text: string): GrainStatistics {
  try {
    const g = JSON.parse(text) as GrainStatistics;
    const sound = (p: PlaneGrain) =>
      p.covariance.length === SIDE * SIDE && p.sigma.length > 0 && p.sigma.every(([l, s]) => Number.isFinite(l) && s >= 0 && s < 256);
    const share = (v: number) => v >= 0 && v <= 1;
    const known = (l?: LocalGrain) =>
      !l ||
      (l.across > 0 &&
        l.ratio.length === l.across * l.down &&
        l.ratio.every((r) => r >= 0 && r < 16) &&
        (!l.inTime || (l.inTime.length === l.ratio.length && l.inTime.every(share))));
    const like = ({ likeFirst = 0 }: PlaneGrain) => likeFirst > -1 && likeFirst < 1;
    if (g.planes.length > 0 && g.planes.every((p) => sound(p) && known(p.local) && like(p)) && share(g.inTime) && share(g.held ?? 0)) return g;
  } catch {
    // said below
  }
  throw new UserError("refused", "The grain profile is damaged: measure the grain again.");
}

/** σ at a value of the plane, between the levels it was measured at; both in codes of the plane. @param unit codes per code of 8 bits */
export function sigmaAt({ sigma }: PlaneGrain, unit: number): (value: number) => number {
  const table = new Float64Array(257);
  for (let v = 0, k = 0; v <= 256; v++) {
    while (k < sigma.length - 1 && sigma[k + 1][0] <= v) k++;
    const [l0, s0] = sigma[k];
    const [l1, s1] = sigma[Math.min(sigma.length - 1, k + 1)];
    const t = l1 > l0 ? Math.min(1, Math.max(0, (v - l0) / (l1 - l0))) : 0;
    table[v] = (s0 + t * (s1 - s0)) * unit;
  }
  return (value) => {
    const v = Math.min(255, Math.max(0, value / unit));
    const i = Math.floor(v);
    return table[i] + (v - i) * (table[i + 1] - table[i]);
  };
}

type BySample = (x: number, y: number) => number;

/** How much stronger or weaker the noise of parts of a plane of this size is than its level says; null where all count as alike. */
export const localRatio = ({ local }: PlaneGrain, width: number, height: number): BySample | null =>
  local ? betweenCells(local, local.ratio, width, height) : null;

/** How alike the noise of parts of a plane of this size is from frame to frame; null where that was not told. */
export const localInTime = ({ local }: PlaneGrain, width: number, height: number): BySample | null =>
  local?.inTime ? betweenCells(local, local.inTime, width, height) : null;

/**
 * What is known of cells, between their middles, by the sample of a plane of this size; beyond it as at its border. Fastest along rows.
 */
function betweenCells({ across, down }: Pick<LocalGrain, "across" | "down">, of: readonly number[], width: number, height: number): BySample {
  const place = (v: number, size: number, cells: number): [number, number] => {
    const u = Math.min(cells - 1, Math.max(0, ((v + 0.5) * cells) / size - 0.5));
    const i = Math.min(Math.max(0, cells - 2), Math.floor(u));
    return [i, u - i];
  };
  const cell = new Int32Array(width);
  const share = new Float64Array(width);
  for (let x = 0; x < width; x++) [cell[x], share[x]] = place(x, width, across);
  const row = new Float64Array(across + 1);
  let at = NaN;
  return (x, y) => {
    if (y !== at) {
      at = y;
      const [j, t] = place(y, height, down);
      const below = down > 1 ? across : 0;
      for (let i = 0; i < across; i++) row[i] = of[j * across + i] + t * (of[j * across + i + below] - of[j * across + i]);
      row[across] = row[across - 1];
    }
    const k = x < 0 ? 0 : x >= width ? width - 1 : x | 0;
    return row[cell[k]] + share[k] * (row[cell[k] + 1] - row[cell[k]]);
  };
}

/** The same grain wherever it is laid: without what is known of the parts of the picture it was measured in. */
export const anywhere = (g: GrainStatistics): GrainStatistics => ({ ...g, planes: g.planes.map(({ local: _, ...p }) => p) });

/** How alike means over w × h samples are that lie so many of them apart, over the variance of one sample: their variance where they are the same. */
export function meansAlike({ covariance }: PlaneGrain, w: number, h: number, dx = 0, dy = 0): number {
  let sum = 0;
  for (let y = -LAGS; y <= LAGS; y++)
    for (let x = -LAGS; x <= LAGS; x++)
      sum += Math.max(0, w - Math.abs(x - dx * w)) * Math.max(0, h - Math.abs(y - dy * h)) * covariance[(y + LAGS) * SIDE + x + LAGS];
  return sum / (w * h) ** 2;
}

/** The standard deviation of means of m × m samples, in standard deviations of one. */
export const averaged = (g: PlaneGrain, m: number): number => Math.sqrt(Math.max(0, meansAlike(g, m, m)));

/**
 * A 9×9 kernel of unit energy that gives white noise this covariance, as nearly as so few taps can: the root of its spectrum
 * (Wold's representation with zero phase), negative power, which no noise has, left out.
 */
export function kernelOf({ covariance }: PlaneGrain): Float64Array {
  const out = new Float64Array(SIDE * SIDE);
  const step = (2 * Math.PI) / SIDE;
  const power = new Float64Array(SIDE * SIDE);
  // symmetric about the middle: cosines alone
  for (let v = 0; v < SIDE; v++)
    for (let u = 0; u < SIDE; u++) {
      let s = 0;
      for (let dy = -LAGS; dy <= LAGS; dy++)
        for (let dx = -LAGS; dx <= LAGS; dx++) s += covariance[(dy + LAGS) * SIDE + dx + LAGS] * Math.cos(step * (u * dx + v * dy));
      power[v * SIDE + u] = Math.sqrt(Math.max(0, s));
    }
  for (let dy = -LAGS; dy <= LAGS; dy++)
    for (let dx = -LAGS; dx <= LAGS; dx++) {
      let s = 0;
      for (let v = 0; v < SIDE; v++) for (let u = 0; u < SIDE; u++) s += power[v * SIDE + u] * Math.cos(step * (u * dx + v * dy));
      out[(dy + LAGS) * SIDE + dx + LAGS] = s;
    }
  const energy = Math.sqrt(out.reduce((s, k) => s + k * k, 0));
  return energy > 0 ? out.map((k) => k / energy) : out;
}

/** Frames after which an encoder has carried nothing of the noise on (the variogram of H.264 footage rises for some thirty). */
export const FORGOTTEN = 40;

/** Noise that is more alike counts as this. */
export const LIKEST = 0.95;

/** How alike noises are of whose difference so much power is left, over what unlike ones have. */
export const likenessOf = (power: number): number => Math.min(LIKEST, Math.max(0, 1 - power));

/** How alike what is left of two noises is, of all that are alike by `all`, without a part that is wholly so. */
export const likenessBeside = (all: number, part: number): number => (part < 1 ? Math.max(0, (all - part) / (1 - part)) : 0);

/** How alike the noise of frames is that lie `d` apart: what comes anew fades from frame to frame, what is held on is forgotten evenly. */
export function likenessApart({ inTime, held = 0 }: Pick<GrainStatistics, "inTime" | "held">, d: number): number {
  const fresh = likenessBeside(inTime, held);
  const lasting = held * Math.min(1, Math.max(0, (FORGOTTEN - d) / (FORGOTTEN - HELD_AFTER)));
  return d === 0 ? 1 : (1 - held) * fresh ** d + lasting;
}
