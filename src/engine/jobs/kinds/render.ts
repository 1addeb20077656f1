import { join } from "node:path";
import type { Recipe } from "../../../core/document/recipe";
import { readIndex } from "../../media/index-file";
import type { Codec } from "../../../wire/formats";
import { located, type PictureName, readPictures } from "../../render/pictures";
import { render as write } from "../../render/render";
import type { TakeFile, Written } from "../../render/spec";
import type { Kind } from "../kind";

export interface RenderJob {
  /** The job's id, which names the folder it writes to. */
  job: string;
  recipe: Recipe;
  /** Ids of the takes by the recipe's keys. */
  takes: Record<string, string>;
  /** Names of the pictures by their keys. */
  pictures: Record<string, PictureName>;
  /** The file's name within the job's folder; of stills, that of their folder and the pattern of their names. */
  file: string;
  stills?: string;
  codec: Codec;
  preset: string;
  crf: number;
  what: Written;
  convert: boolean;
}

/** Writes a recipe to a file. @returns what there is to say about it */
export const render: Kind<RenderJob, string[]> = {
  lane: "write",
  failed: "The render failed",
  async run({ job, takes: ids, pictures: names, file, stills, ...spec }, { paths, store }, watch) {
    const takes: Record<string, TakeFile> = {};
    for (const [key, id] of Object.entries(ids)) takes[key] = { id, index: await readIndex(paths.index(id)) };
    const pictures = await readPictures(await located(names, paths));
    const out = join(paths.render(job), file, ...(stills ? [stills] : []));
    return [...pictures.notes, ...(await write({ ...spec, takes, pictures, out }, store, watch))];
  },
};
