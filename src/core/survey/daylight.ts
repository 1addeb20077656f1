import type { Light } from "../match/light";

export interface LightCurve {
  /** Slow change of light over the shot: range of the smoothed luma gain. */
  drift: number;
  /** Change from frame to frame: twice the standard deviation of what smoothing takes away. */
  flicker: number;
  /** Gain and offset of each plane in each frame against the reference. */
  perFrame: [number, number][][];
}

/** Frames over which light is smoothed to tell a drift from flicker. */
const WINDOW = 9;

/** Tells slow change from flicker. Light is put as a gain of a middle grey, so that an offset counts as well. */
export function lightCurve(perFrame: Light[][]): LightCurve {
  const MIDDLE = 110;
  const gains = perFrame.map(([y]) => y.gain + y.offset / MIDDLE);
  const slow = gains.map((_, n) => {
    const half = Math.min(WINDOW >> 1, n, gains.length - 1 - n);
    const part = gains.slice(n - half, n + half + 1);
    return part.reduce((a, b) => a + b, 0) / part.length;
  });
  // the ends have no neighbours on one side: what is known of flicker lies between
  const rest = gains.map((g, i) => g - slow[i]).slice(gains.length > 8 ? 3 : 0, gains.length > 8 ? -3 : undefined);
  const inner = slow.slice(gains.length > 8 ? 3 : 0, gains.length > 8 ? -3 : undefined);
  const sigma = Math.sqrt(rest.reduce((s, v) => s + v * v, 0) / Math.max(1, rest.length));
  // a running mean over frames takes 1/WINDOW of the flicker's power with it
  const flicker = (2 * sigma) / Math.sqrt(1 - 1 / WINDOW);
  const noise = (2 * sigma) / Math.sqrt(WINDOW);
  const range = Math.max(...inner) - Math.min(...inner);
  return { drift: Math.max(0, range - 2 * noise), flicker, perFrame: perFrame.map((f) => f.map((l): [number, number] => [l.gain, l.offset])) };
}
