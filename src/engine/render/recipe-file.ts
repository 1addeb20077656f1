import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { basename, dirname, join, resolve } from "node:path";
import { neededPictures } from "../../core/compose/compose";
import { outputOf, type Recipe } from "../../core/document/recipe";
import { parseRecipe, RecipeError } from "../../recipe/schema";
import { pictureSpec } from "../../core/plate/keys";
import type { Frame } from "../../core/pixels/frame";
import { type FileRef, type PictureRef, platePictures } from "../../core/retouch/plate";
import { buildPlate } from "../analysis/build";
import type { FrameStore } from "../media/frame-store";
import { ingest } from "../media/ingest";
import type { TakeIndex } from "../media/index-file";
import { isPattern, matchingStills, openSequence } from "../media/sequence";
import { listTake, NotAsListed } from "../media/listing";
import { withColour } from "../media/override";
import { dataPaths } from "../paths";
import { readMeasured } from "./measured";
import { knownTake } from "./known-take";
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
  const measured = await readMeasured(recipe, (hash) => join(dirname(resolve(recipePath)), "measured", hash));
  return { ...read, frames: new Map([...read.frames, ...built]), ...measured };
}

/** How a take is opened: read through, or by what its container lists where that is enough. */
export type Opening = "read" | "listed";

/** Works by what containers list; where one is found to be wrong, once more with the takes read through. */
export async function asListed<T>(work: (how: Opening) => Promise<T>): Promise<T> {
  try {
    return await work("listed");
  } catch (e) {
    if (e instanceof NotAsListed) return work("read");
    throw e;
  }
}

/** Opens a film, or stills by a name such as `frames/####.png`, whose links are kept in `folder`. */
export async function readSource(path: string, rate: [number, number] | undefined, folder: string, how: Opening = "read"): Promise<TakeIndex> {
  if (!isPattern(path)) {
    if (rate) throw new RecipeError(`“${basename(path)}” is a film and has its own rate; only numbered stills are given one.`);
    return (how === "listed" && ((await knownTake(path, dataPaths())) ?? (await listTake(path)))) || ingest(path);
  }
  const { sequence, notes } = await openSequence(await matchingStills(path), rate ?? [24, 1], folder);
  const index = (how === "listed" && (await listTake(path, sequence))) || (await ingest(path, { sequence }));
  return { ...index, info: { ...index.info, notes: [...index.info.notes, ...notes] } };
}

/** Finds and opens the takes of a recipe; their paths count from the recipe's own folder. */
export async function resolveTakes(recipe: Recipe, recipePath: string, folder: string, how: Opening = "read"): Promise<Record<string, TakeFile>> {
  const open = async ([key, t]: [string, Recipe["takes"][string]]): Promise<[string, TakeFile]> => {
    if (!t.path) throw new RecipeError(`The recipe is not valid: takes.${key}: found the asset “${t.asset}”, allowed on the command line is a path.`);
    const path = /^[a-z]+:/i.test(t.path) ? t.path : resolve(dirname(recipePath), t.path);
    if (isPattern(path) && !t.rate)
      throw new RecipeError(
        `The recipe is not valid: takes.${key}.rate: found nothing, allowed is the stills' rate as [frames, seconds], such as [24, 1].`,
      );
    const id = createHash("sha1").update(path).digest("hex").slice(0, 16);
    return [key, { id, index: withColour(await readSource(path, t.rate, join(folder, id), how), t.colour) }];
  };
  const out: [string, TakeFile][] = [];
  for (const entry of Object.entries(recipe.takes)) out.push(await open(entry));
  return Object.fromEntries(out);
}

/** Pictures of takes that are sought or decoded from the start, one by one; where there are more, reading the takes through costs less. */
const FEW = 8;

/** Whether a recipe can be rendered by what its takes' containers list: in order, with few pictures beside the shot's own. */
export function rendersInOnePass(recipe: Recipe): boolean {
  if (pictureKeys(recipe).some((k) => "built" in pictureSpec(k))) return false;
  const { in: from, out: to } = outputOf(recipe);
  const seen = new Set<string>();
  const count = (refs: (PictureRef | FileRef)[]) =>
    refs.forEach((r) => {
      if ("plate" in r) count(platePictures(recipe, r.plate));
      else if ("take" in r) seen.add(`${r.take}/${r.frame}`);
    });
  for (let n = from; n <= to && seen.size <= FEW; n++) count(neededPictures(recipe, n));
  return seen.size <= FEW;
}
