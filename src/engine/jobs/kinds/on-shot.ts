import type { Recipe } from "../../../core/document/recipe";
import { readIndex } from "../../media/index-file";
import { readMeasured } from "../../render/measured";
import { located, type PictureName, readPictures } from "../../render/pictures";
import type { TakeFile } from "../../render/spec";
import type { Place } from "../kind";

/** A shot's recipe as a job is told it, with names instead of paths. */
export interface OnShot {
  recipe: Recipe;
  /** Ids of the takes by the recipe's keys. */
  takes: Record<string, string>;
  /** Names of the pictures by their keys. */
  pictures: Record<string, PictureName>;
}

/** What a recipe names, read where it lies. @throws MediaError where a picture is missing */
export async function readOnShot(spec: OnShot, { paths }: Place) {
  const takes: Record<string, TakeFile> = {};
  for (const [key, id] of Object.entries(spec.takes)) takes[key] = { id, index: await readIndex(paths.index(id)) };
  const pictures = await readPictures(await located(spec.pictures, paths));
  return { takes, pictures: { ...pictures, ...(await readMeasured(spec.recipe, paths.measured)) } };
}
