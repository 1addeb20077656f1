import { join } from "node:path";
import type { Codec } from "../../../wire/formats";
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
}

/** Writes a recipe to a file. @returns what there is to say about it */
export const render: Kind<RenderJob, string[]> = {
  lane: "write",
  failed: "The render failed",
  async run({ job, file, stills, ...spec }, place, watch) {
    const { takes, pictures } = await readOnShot(spec, place);
    const out = join(place.paths.render(job), file, ...(stills ? [stills] : []));
    return [...pictures.notes, ...(await write({ ...spec, takes, pictures, out }, place.store, watch))];
  },
};
