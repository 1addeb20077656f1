import { readFile } from "node:fs/promises";
import type { Grains } from "../../core/compose/compose";
import { readGrain } from "../../core/match/grain";
import type { Recipe } from "../../core/document/recipe";
import { grainsOf } from "../../recipe/assets";
import { MediaError } from "../media/media-error";

/** The grain that a recipe's patches are to have. @param fileOf where what was measured lies, by its hash @throws MediaError where it does not */
export async function readGrains(recipe: Recipe, fileOf: (hash: string) => string): Promise<Grains> {
  const read = async (hash: string) => {
    const text = await readFile(fileOf(hash), "utf8").catch(() => {
      throw new MediaError(
        `The grain profile “${hash.slice(0, 8)}…” is missing: it lies beside the recipe, in the folder “measured”, as it is exported; or measure the grain again.`,
      );
    });
    return [hash, readGrain(text)] as const;
  };
  return new Map(await Promise.all(grainsOf(recipe).map(read)));
}
