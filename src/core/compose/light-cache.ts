import type { Recipe } from "../document/recipe";
import type { LightFit } from "../match/patch-light";

/** The light of each plane of a patch; null where it is not told. */
export type Lights = (LightFit | null)[];

/** The lights of a frame, or until it has come so many times again those of the frame so many before. */
interface LightsKept {
  lights: Lights;
  behind: number;
}

/** Lights that were found, by the recipe, the layer and the frame: for pictures that are asked for again and again as they play. */
export type LightCache = WeakMap<Recipe, Map<string, LightsKept>>;

/** Where lights are kept, and of which recipe. */
export interface KnownLights {
  cache: LightCache;
  recipe: Recipe;
}

/** As many frames take the light of one before them, the first time they are played. */
const LENT = 2;

/**
 * What a patch is lit by at frame `n`: found anew where none are kept. Of quick pictures, so that they play, only one frame in three is asked
 * each time they do.
 */
export function keptLights(known: KnownLights | undefined, layer: string, n: number, find: () => Lights): Lights {
  if (!known) return find();
  let of = known.cache.get(known.recipe);
  if (!of) known.cache.set(known.recipe, (of = new Map()));
  const at = (f: number) => `${layer}/${f}`;
  const have = of.get(at(n));
  if (have && have.behind !== 1) {
    if (have.behind) have.behind--;
    return have.lights;
  }
  for (let k = 1; !have && k <= LENT; k++) {
    const before = of.get(at(n - k));
    if (before?.behind !== 0) continue;
    of.set(at(n), { lights: before.lights, behind: k });
    return before.lights;
  }
  const lights = find();
  of.set(at(n), { lights, behind: 0 });
  return lights;
}
