import type { Recipe } from "../../core/document/recipe";
import { takeIds } from "../../recipe/query";
import type { Parts } from "../compose";
import { MediaError } from "../media/media-error";
import type { TakeFile } from "../render/spec";

type Asked = Pick<Parts, "documents" | "takes" | "shots">;

/** A shot's recipe with its takes, all read to their ends. */
export async function wholeShot({ documents, takes, shots }: Asked, id: string): Promise<{ recipe: Recipe; files: Record<string, TakeFile> }> {
  const { recipe } = await documents.read(id);
  await takes.whole(takeIds(recipe));
  return { recipe, files: await shots.takeFiles(recipe) };
}

/** A take of a shot by its name in the recipe, all takes of the shot read. @throws MediaError where the recipe has none of that name */
export async function wholeTake(parts: Asked, shot: string, key: string): Promise<TakeFile> {
  const { files } = await wholeShot(parts, shot);
  if (!Object.hasOwn(files, key)) throw new MediaError("The shot does not use this take (any more).");
  return files[key];
}

/** What is asked of some frames of a take, kept within it: the frame it begins on, and how far back and on it goes. */
export function withinTake<T extends { at: number; from: number; to: number }>(take: TakeFile, ask: T): T {
  const last = take.index.info.frames - 1;
  const at = Math.min(ask.at, last);
  return { ...ask, at, from: Math.min(ask.from, at), to: Math.max(at, Math.min(ask.to, last)) };
}
