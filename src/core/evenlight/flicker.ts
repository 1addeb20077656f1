import { random } from "../random";
import type { Gains } from "./gains";

/** Standard deviation of the normal curve over which light is smoothed, in frames: what is slower than that is no flicker. */
const SLOW = 8;
/** Beyond so many of them it ends. */
const REACH = 3;

const kept = new WeakMap<Gains, Float64Array>();

/**
 * The flicker of each frame: the logarithm of its light less that of the light around it, smoothed by a normal curve in time that begins
 * anew at cuts. At the ends of a scene a line is fitted under the curve instead of a mean, or a slow change would look like flicker there
 * (local linear regression, Cleveland 1979).
 */
export function flickerOf(gains: Gains): Float64Array {
  let out = kept.get(gains);
  if (out) return out;
  const log = gains.gain.map(Math.log);
  out = new Float64Array(log.length);
  const ends = [0, ...gains.cuts, log.length];
  for (let s = 0; s + 1 < ends.length; s++) for (let n = ends[s]; n < ends[s + 1]; n++) out[n] = log[n] - slowAt(log, n, ends[s], ends[s + 1]);
  kept.set(gains, out);
  return out;
}

/** The value at `n` of a line under a normal curve about it, by the frames of its scene. */
function slowAt(log: readonly number[], n: number, from: number, to: number): number {
  let [w, wx, wxx, wy, wxy] = [0, 0, 0, 0, 0];
  const far = REACH * SLOW;
  for (let k = Math.max(from, n - far); k < Math.min(to, n + far + 1); k++) {
    const x = k - n;
    const weight = Math.exp(-(x * x) / (2 * SLOW * SLOW));
    w += weight;
    wx += weight * x;
    wxx += weight * x * x;
    wy += weight * log[k];
    wxy += weight * x * log[k];
  }
  const det = w * wxx - wx * wx;
  return det > 1e-9 ? (wxx * wy - wx * wxy) / det : wy / w;
}

/** The gain that takes a share of a frame's flicker off. @param amount 0 … 1 */
export const steadyGain = (gains: Gains, n: number, amount: number): number => Math.exp(-amount * flickerOf(gains)[clampTo(gains, n)]);

/**
 * The gain that puts a share of it on: the frame's own, so that it undoes `steadyGain`; with a `seed` that of other frames, from a place by
 * chance on and round.
 */
export function livelyGain(gains: Gains, n: number, amount: number, seed?: number): number {
  const flicker = flickerOf(gains);
  const at = clampTo(gains, n);
  const from = seed === undefined ? 0 : Math.floor(random(seed)() * flicker.length);
  return Math.exp(amount * flicker[(at + from) % flicker.length]);
}

const clampTo = ({ gain }: Gains, n: number) => Math.min(gain.length - 1, Math.max(0, n));
