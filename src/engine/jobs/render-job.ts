/** A process of its own for one render: it ends when the engine does, and takes its half-written file with it. */
import { readFile } from "node:fs/promises";
import { NotSupportedYet, type Recipe } from "../../core/document";
import { FrameStore } from "../media/frame-store";
import { said } from "../media/media-error";
import { readIndex } from "../media/index-file";
import type { Codec } from "../render/encoder";
import { type PictureFile, readPictures } from "../render/pictures";
import { render } from "../render/render";
import { Stopped, type TakeFile, type Written } from "../render/spec";

export interface JobSpec {
  recipe: Recipe;
  /** Take id and index file by the recipe's key. */
  takes: Record<string, { id: string; index: string }>;
  pictures: Record<string, PictureFile>;
  cache: string;
  cacheLimit: number;
  out: string;
  codec: Codec;
  preset: string;
  crf: number;
  what: Written;
  convert: boolean;
}

export type JobMessage = { done: number; total: number } | { notes: string[] } | { error: string; stopped: boolean };

const send = (m: JobMessage) => new Promise<void>((r) => (process.send ? process.send(m, undefined, undefined, () => r()) : r()));
const stop = new AbortController();
process.on("disconnect", () => process.exit(1));
process.on("message", (m) => m === "stop" && stop.abort());

try {
  const spec = JSON.parse(await readFile(process.argv[2], "utf8")) as JobSpec;
  const takes: Record<string, TakeFile> = {};
  for (const [k, t] of Object.entries(spec.takes)) takes[k] = { id: t.id, index: await readIndex(t.index) };
  let last = 0;
  const pictures = await readPictures(spec.pictures);
  const notes = await render({ ...spec, takes, pictures }, new FrameStore(spec.cache, spec.cacheLimit), {
    signal: stop.signal,
    progress: (done, total) => {
      if (done === total || Date.now() - last > 150) void send({ done, total });
      if (Date.now() - last > 150) last = Date.now();
    },
  });
  await send({ notes: [...pictures.notes, ...notes] });
  process.exit(0);
} catch (e) {
  const known = e instanceof Error;
  await send({ error: said(e, "The render failed"), stopped: e instanceof Stopped });
  if (!(e instanceof NotSupportedYet || e instanceof Stopped)) process.stderr.write(`${known ? e.stack : String(e)}\n`);
  process.exit(1);
}
