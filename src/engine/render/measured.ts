import { readFile } from "node:fs/promises";
import type { Grains } from "../../core/compose/compose";
import type { GainsByHash } from "../../core/compose/evenlight";
import type { Tracks } from "../../core/compose/tie";
import { readTrack } from "../../core/follow/track-data";
import { readGains } from "../../core/evenlight/gains";
import { readGrain } from "../../core/match/grain";
import type { Recipe } from "../../core/document/recipe";
import type { Cutouts } from "../../core/cutout/cutout-data";
import { cutoutsOf, gainsOfLayers, grainsOf, tracksOf } from "../../recipe/assets";
import { readCutout } from "../../recipe/cutout-file";
import { MediaError } from "../media/media-error";

/** What was measured and a recipe's patches go by, by its hash. */
export interface MeasuredData {
  grains: Grains;
  gains: GainsByHash;
  tracks: Tracks;
  cutouts: Cutouts;
}

/** Reads what a recipe's patches go by. @param fileOf where what was measured lies, by its hash @throws MediaError where it does not */
export async function readMeasured(recipe: Recipe, fileOf: (hash: string) => string): Promise<MeasuredData> {
  const all = async <T>(hashes: string[], what: string, again: string, read: (data: Buffer) => T) => {
    const each = hashes.map(async (hash) => {
      const data = await readFile(fileOf(hash)).catch(() => {
        throw new MediaError(
          `The ${what} “${hash.slice(0, 8)}…” is missing: it lies beside the recipe, in the folder “measured”, as it is exported; or ${again} again.`,
        );
      });
      return [hash, read(data)] as const;
    });
    return new Map(await Promise.all(each));
  };
  return {
    grains: await all(grainsOf(recipe), "grain profile", "measure the grain", (d) => readGrain(d.toString("utf8"))),
    gains: await all(gainsOfLayers(recipe), "light of the take", "measure the light", (d) => readGains(d.toString("utf8"))),
    tracks: await all(tracksOf(recipe), "track", "follow the region", (d) => readTrack(d.toString("utf8"))),
    cutouts: await all(cutoutsOf(recipe), "cut-out", "cut the thing out", readCutout),
  };
}
