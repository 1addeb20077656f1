import { gainOfGrey, type LightCurve } from "../survey/daylight";
import { UserError } from "../user-error";

/** The number of the method by which the light of frames is measured. */
export const GAINS_METHOD = 1;

/** The light of every frame of a take: what an `evenlight` layer's data say. */
export interface Gains {
  /** Luma over black against the first frame of its scene, by frame from 0. */
  gain: number[];
  /** First frames of new scenes. */
  cuts: number[];
}

/** The light of a take as its survey measured it, robustly, frame by frame. */
export function gainsOf({ light, cuts }: { light: Pick<LightCurve, "perFrame">; cuts: readonly number[] }): Gains {
  return { gain: light.perFrame.map(([luma]) => Math.max(0.01, gainOfGrey(luma))), cuts: [...cuts] };
}

/** As they are kept, in UTF-8. */
export const gainsText = (g: Gains): string => JSON.stringify(g);

/** @throws UserError where it is no such thing */
export function readGains(text: string): Gains {
  try {
    const g = JSON.parse(text) as Gains;
    const sound = g.gain.length > 0 && g.gain.every((v) => Number.isFinite(v) && v > 0 && v < 1000);
    if (sound && g.cuts.every((c) => Number.isInteger(c) && c > 0 && c < g.gain.length)) return g;
  } catch {
    // said below
  }
  throw new UserError("refused", "What was measured of the light is damaged: measure it again.");
}
