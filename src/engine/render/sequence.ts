import { mkdir, readdir, rename, rm } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import { patchesTogether } from "../../core/compose/views";
import { outputOf } from "../../core/document/recipe";
import { MediaError } from "../media/media-error";
import type { FrameStore } from "../media/frame-store";
import { writeWhole } from "../media/index-file";
import { frameStill, rgbaStill } from "../media/stills";
import { composed, composer } from "./composer";
import type { Written } from "../../wire/job";
import { type RenderSpec, stoppedRender } from "./spec";
import type { Watch } from "../watch";
import { type Stills, FORMATS, shortName } from "../../wire/formats";

/** Sequence names as in `dir/####.png`. */
export const sequenceName = (pattern: string, n: number) => pattern.replace(/#+/, (h) => String(n).padStart(h.length, "0"));

/** Writes numbered stills: all of them, or none. */
export async function renderStills(spec: RenderSpec, kind: Stills, store: FrameStore, hooks: Watch): Promise<string[]> {
  const take = spec.takes[spec.recipe.shot.take].index;
  const folder = dirname(spec.out);
  const name = basename(spec.out);
  if (!name.includes("#"))
    throw new MediaError(`“${name}” names one picture for many frames: give a name with #### in it, such as frames/####${FORMATS[kind].extension}.`);
  const existed = (await readdir(folder).catch(() => null)) !== null;
  await mkdir(folder, { recursive: true });
  const made: { part: string; whole: string }[] = [];
  const what = spec.what === "patch" || spec.what === "matte" ? spec.what : "result";
  try {
    for await (const { n, still } of what === "result" ? results(spec, kind, store, hooks) : alone(spec, kind, what, store, hooks)) {
      const whole = join(folder, sequenceName(name, n));
      const part = `${whole}.${process.pid}.part`;
      made.push({ part, whole });
      await writeWhole(part, still);
    }
    for (const m of made) await rename(m.part, m.whole);
  } catch (e) {
    for (const m of made) await rm(m.part, { force: true });
    if (!existed) await rm(folder, { recursive: true, force: true });
    throw e;
  }
  const bits = kind === "tiff" || take.info.format.bits > 8 ? 16 : 8;
  const notes = [`${SAYS[what]} ${shortName(kind)}, ${bits} bits a channel; frame numbers are the take's own.`];
  if (what === "result" && take.info.format.alpha) notes.push("The take's alpha is left out.");
  if (take.info.sound) notes.push("A sequence of stills carries no sound.");
  return notes;
}

const SAYS: Record<Exclude<Written, "review">, string> = {
  result: "R′G′B′",
  patch: "The patches alone, R′G′B′ with straight alpha:",
  matte: "The matte alone, as grey and as alpha:",
};

type StillsMade = AsyncGenerator<{ n: number; still: Buffer }>;

async function* results(spec: RenderSpec, kind: Stills, store: FrameStore, hooks: Watch): StillsMade {
  const { colour } = spec.takes[spec.recipe.shot.take].index.info;
  for await (const { n, frame } of composed(spec, store, hooks)) yield { n, still: await frameStill(frame, colour, kind) };
}

/** The layers of each frame over nothing; the footage itself is read only where it is painted on. */
async function* alone(spec: RenderSpec, kind: Stills, what: "patch" | "matte", store: FrameStore, hooks: Watch): StillsMade {
  const { recipe } = spec;
  const { info } = spec.takes[recipe.shot.take].index;
  const { in: a, out: b } = outputOf(recipe);
  const work = composer(recipe, spec.takes, store, spec.pictures);
  for (let n = a; n <= b; n++) {
    if (hooks.signal?.aborted) throw stoppedRender();
    const rgba = patchesTogether(await work.parts(n), info.colour, work.canvas);
    if (what === "matte") for (let i = 0; i < rgba.length; i += 4) rgba.fill(rgba[i + 3], i, i + 3);
    yield { n, still: await rgbaStill(rgba, info.width, info.height, kind === "tiff" || info.format.bits > 8 ? 16 : 8, kind) };
    hooks.progress?.(n - a + 1, b - a + 1);
  }
}
