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

/** A middle grey, over black: light is put as a gain of it, so that an offset counts as well. */
const MIDDLE = 110;

/** Tells slow change from flicker. */
export function lightCurve(perFrame: Light[][]): LightCurve {
  const { drift, flicker } = slowAndFast(perFrame.map(([y]) => y.gain + y.offset / MIDDLE));
  return { drift, flicker, perFrame: perFrame.map((f) => f.map((l): [number, number] => [l.gain, l.offset])) };
}

/** How far the tint of the light moves over the shot, slowly or from frame to frame: of the chroma planes the one that moves most, codes of 8 bits. */
export function tintOf({ perFrame }: Pick<LightCurve, "perFrame">): number {
  const planes = perFrame.length ? perFrame[0].length : 0;
  let most = 0;
  for (let p = 1; p < planes; p++) {
    const { drift, flicker } = slowAndFast(perFrame.map((f) => f[p]?.[1] ?? 0));
    most = Math.max(most, drift, flicker);
  }
  return most;
}

/** The range of what is slow in a curve, and twice the standard deviation of the rest. */
function slowAndFast(gains: number[]): { drift: number; flicker: number } {
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
  return { drift: Math.max(0, range - 2 * noise), flicker };
}
