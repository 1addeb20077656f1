import { readFile } from "node:fs/promises";
import type { Grains } from "../../core/compose/compose";
import type { Tracks } from "../../core/compose/tie";
import { readTrack } from "../../core/follow/track-data";
import { readGrain } from "../../core/match/grain";
import type { Recipe } from "../../core/document/recipe";
import { grainsOf, tracksOf } from "../../recipe/assets";
import { MediaError } from "../media/media-error";

/** What was measured and a recipe's patches go by, by its hash. */
export interface MeasuredData {
  grains: Grains;
  tracks: Tracks;
}

/** Reads what a recipe's patches go by. @param fileOf where what was measured lies, by its hash @throws MediaError where it does not */
export async function readMeasured(recipe: Recipe, fileOf: (hash: string) => string): Promise<MeasuredData> {
  const all = async <T>(hashes: string[], what: string, again: string, read: (text: string) => T) => {
    const each = hashes.map(async (hash) => {
      const text = await readFile(fileOf(hash), "utf8").catch(() => {
        throw new MediaError(
          `The ${what} “${hash.slice(0, 8)}…” is missing: it lies beside the recipe, in the folder “measured”, as it is exported; or ${again} again.`,
        );
      });
      return [hash, read(text)] as const;
    });
    return new Map(await Promise.all(each));
  };
  return {
    grains: await all(grainsOf(recipe), "grain profile", "measure the grain", readGrain),
    tracks: await all(tracksOf(recipe), "track", "follow the region", readTrack),
  };
}
