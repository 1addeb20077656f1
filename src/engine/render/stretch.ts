import { mendedStretch, type Recipe } from "../../core/document/recipe";
import { MediaError } from "../media/media-error";

/** The recipe with only its mended stretch as output, with `handles` frames more on either side. @throws MediaError when nothing is mended. */
export function stretchOnly(recipe: Recipe, handles: number): Recipe {
  const output = mendedStretch(recipe, handles);
  if (!output) throw new MediaError("Nothing is mended in this shot, so there is no stretch to write: lay a patch first, or write the whole shot.");
  return { ...recipe, output };
}
