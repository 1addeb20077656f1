import { isLively } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { evenLights, frameLight } from "../compose/evenlight";
import { UNIT } from "../ranges";
import { valueAt } from "../time/keyed";
import { steadyGain } from "./flicker";
import type { Gains } from "./gains";

/** The light of each frame from `first` to `last` against its scene's first: as it was taken, below the patches, and as it is rendered. */
export interface LightCurves {
  taken: number[];
  below: number[];
  rendered: number[];
}

/** What a recipe makes of the light that was measured of its take. */
export function lightCurves(recipe: Recipe, gains: Gains, first: number, last: number): LightCurves {
  const out: LightCurves = { taken: [], below: [], rendered: [] };
  for (let n = first; n <= last; n++) {
    const layers = evenLights(recipe, n);
    const taken = gains.gain[Math.min(n, gains.gain.length - 1)];
    const known = new Map(layers.map((l) => [l.data ?? "", gains]));
    out.taken.push(taken);
    out.below.push(layers.filter((l) => !isLively(l)).reduce((g, l) => g * steadyGain(gains, n, valueAt(l.amount ?? 1, n, UNIT)), taken));
    out.rendered.push(taken * (frameLight(recipe, n, known)?.footage ?? 1));
  }
  return out;
}
