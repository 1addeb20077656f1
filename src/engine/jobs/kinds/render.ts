import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { type ColourTable, readCube } from "../../../core/look/cube";
import type { Codec } from "../../../wire/formats";
import { MediaError } from "../../media/media-error";
import { render as write } from "../../render/render";
import type { Written } from "../../../wire/job";
import type { Kind } from "../kind";
import { type OnShot, readOnShot } from "./on-shot";

export interface RenderJob extends OnShot {
  /** The job's id, which names the folder it writes to. */
  job: string;
  /** The file's name within the job's folder; of stills, that of their folder and the pattern of their names. */
  file: string;
  stills?: string;
  codec: Codec;
  preset: string;
  crf: number;
  what: Written;
  convert: boolean;
  /** A look that is laid on a film: the hash of its table's text, and how much of it. */
  look?: { data: string; strength: number };
}

/** @throws MediaError where the table is not there */
async function readLook(path: string): Promise<ColourTable> {
  const text = await readFile(path, "utf8").catch(() => {
    throw new MediaError("The table of colours of the look is not there any more: choose it again under “Seen through”, and render again.");
  });
  return readCube(text);
}

/** Writes a recipe to a file. @returns what there is to say about it */
export const render: Kind<RenderJob, string[]> = {
  lane: "write",
  failed: "The render failed",
  async run({ job, file, stills, look: asked, ...spec }, place, watch) {
    const { takes, pictures } = await readOnShot(spec, place);
    const look = asked && { table: await readLook(place.paths.measured(asked.data)), strength: asked.strength };
    const out = join(place.paths.render(job), file, ...(stills ? [stills] : []));
    return [...pictures.notes, ...(await write({ ...spec, takes, pictures, out, ...(look ? { look } : {}) }, place.store, watch))];
  },
};
