import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { basename, dirname, join, resolve } from "node:path";
import type { Recipe } from "../../core/document/recipe";
import { parseRecipe, RecipeError } from "../../recipe/schema";
import { pictureSpec } from "../../core/plate/keys";
import type { Frame } from "../../core/pixels/frame";
import { buildPlate } from "../analysis/build";
import type { FrameStore } from "../media/frame-store";
import { ingest } from "../media/ingest";
import type { TakeIndex } from "../media/index-file";
import { isPattern, matchingStills, openSequence } from "../media/sequence";
import { withColour } from "../media/override";
import { type PictureFile, pictureKeys, type Pictures, readPictures } from "./pictures";
import type { TakeFile } from "./spec";

/** Reads a recipe from a file. @throws RecipeError in one sentence. */
export async function readRecipe(path: string): Promise<Recipe> {
  let text: string;
  try {
    text = await readFile(path, "utf8");
  } catch {
    throw new RecipeError(`The recipe “${path}” cannot be read: check that the file is there.`);
  }
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (e) {
    throw new RecipeError(`The recipe “${path}” is not JSON: ${(e as Error).message}.`);
  }
  return parseRecipe(value);
}

/** Reads the pictures a recipe brings in, whose paths count from the recipe's own folder, and builds its plates from many frames. */
export async function resolvePictures(
  recipe: Recipe,
  recipePath: string,
  takes: Record<string, TakeFile>,
  store: FrameStore,
): Promise<Pictures & { notes: string[] }> {
  const files: Record<string, PictureFile> = {};
  const built = new Map<string, Frame>();
  for (const key of pictureKeys(recipe)) {
    const spec = pictureSpec(key);
    if ("file" in spec) files[key] = { file: resolve(dirname(recipePath), spec.file) };
    else if ("built" in spec) {
      const { id, index } = takes[spec.take];
      built.set(key, (await buildPlate(store, id, index, spec.built, null, null)).frame);
    }
  }
  const read = await readPictures(files);
  return { ...read, frames: new Map([...read.frames, ...built]) };
}

/** Reads a film, or stills by a name such as `frames/####.png`, whose links are kept in `folder`. */
export async function readSource(path: string, rate: [number, number] | undefined, folder: string): Promise<TakeIndex> {
  if (!isPattern(path)) {
    if (rate) throw new RecipeError(`“${basename(path)}” is a film and has its own rate; only numbered stills are given one.`);
    return ingest(path);
  }
  const { sequence, notes } = await openSequence(await matchingStills(path), rate ?? [24, 1], folder);
  const index = await ingest(path, { sequence });
  return { ...index, info: { ...index.info, notes: [...index.info.notes, ...notes] } };
}

/** Finds and reads the takes of a recipe; their paths count from the recipe's own folder. */
export async function resolveTakes(recipe: Recipe, recipePath: string, folder: string): Promise<Record<string, TakeFile>> {
  const out: Record<string, TakeFile> = {};
  for (const [key, t] of Object.entries(recipe.takes)) {
    if (!t.path) throw new RecipeError(`The recipe is not valid: takes.${key}: found the asset “${t.asset}”, allowed on the command line is a path.`);
    const path = /^[a-z]+:/i.test(t.path) ? t.path : resolve(dirname(recipePath), t.path);
    if (isPattern(path) && !t.rate)
      throw new RecipeError(
        `The recipe is not valid: takes.${key}.rate: found nothing, allowed is the stills' rate as [frames, seconds], such as [24, 1].`,
      );
    const id = createHash("sha1").update(path).digest("hex").slice(0, 16);
    out[key] = { id, index: withColour(await readSource(path, t.rate, join(folder, id)), t.colour) };
  }
  return out;
}
