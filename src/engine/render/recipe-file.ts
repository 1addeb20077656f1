import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { dirname, resolve } from "node:path";
import { NotSupportedYet, type Recipe } from "../../core/document";
import { parseRecipe, RecipeError } from "../../recipe/schema";
import { ingest } from "../media/ingest";
import type { TakeFile } from "./render";

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

/** Finds and reads the takes of a recipe; their paths count from the recipe's own folder. */
export async function resolveTakes(recipe: Recipe, recipePath: string): Promise<Record<string, TakeFile>> {
  const out: Record<string, TakeFile> = {};
  for (const [key, t] of Object.entries(recipe.takes)) {
    if (!t.path) throw new RecipeError(`The recipe is not valid: takes.${key}: found the asset “${t.asset}”, allowed on the command line is a path.`);
    if (t.path.includes("#") || t.rate) throw new NotSupportedYet("A take of numbered stills");
    if (t.colour) throw new NotSupportedYet(`takes.${key}.colour`);
    const path = /^[a-z]+:/i.test(t.path) ? t.path : resolve(dirname(recipePath), t.path);
    out[key] = { id: createHash("sha1").update(path).digest("hex").slice(0, 16), index: await ingest(path) };
  }
  return out;
}
