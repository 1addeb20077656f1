import { mkdir, readdir, rename, rm } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import { assertRuns, composeFrame, exactPictures, neededPictures } from "../../core/compose/compose";
import type { Canvas, MatteCache } from "../../core/compose/patch";
import { outputOf, type Recipe } from "../../core/document";
import { bytesOf, type Frame, frameFromBytes } from "../../core/pixels/frame";
import { platePictures } from "../../core/retouch/plate";
import { decodeFrames } from "../media/decode";
import { ended, MediaError, start } from "../media/ffmpeg";
import type { FrameStore } from "../media/frame-store";
import { secondsAt, type TakeIndex, writeWhole } from "../media/index-file";
import { frameStill } from "../media/stills";
import { type Codec, encoderArgs, isSequence, refuse } from "./encoder";
import { soundArgs } from "./sound";
import { timedHeader, timedPrefix } from "./timed-raw";

/** A take of a recipe, found and read. `id` names its frames in the store. */
export interface TakeFile {
  id: string;
  index: TakeIndex;
}

export interface RenderSpec {
  recipe: Recipe;
  takes: Record<string, TakeFile>;
  out: string;
  codec: Codec;
  preset: string;
  crf: number;
}

export interface RenderHooks {
  progress?: (done: number, total: number) => void;
  signal?: AbortSignal;
}

export class Stopped extends Error {
  constructor() {
    super("The render was stopped; no file was written.");
  }
}

/** Sequence names as in `dir/####.png`. */
export const sequenceName = (pattern: string, n: number) => pattern.replace(/#+/, (h) => String(n).padStart(h.length, "0"));

/** Checks that every frame a recipe asks for exists. @throws an error that names the frame. */
export function checkFrames(recipe: Recipe, takes: Record<string, TakeFile>): void {
  const count = (t: string) => takes[t].index.info.frames;
  const inside = (what: string, t: string, n: number) => {
    if (n < 0 || n >= count(t))
      throw new MediaError(`${what} needs frame ${n} of the take “${t}”, which has frames 0 to ${count(t) - 1}: change its number.`);
  };
  inside("The shot", recipe.shot.take, recipe.shot.in);
  inside("The shot", recipe.shot.take, recipe.shot.out);
  for (const id of Object.keys(recipe.plates))
    if ("take" in recipe.plates[id].from)
      for (const r of platePictures(recipe, id)) inside(`The plate “${recipe.plates[id].name || id}”`, r.take, r.frame);
  const { in: a, out: b } = outputOf(recipe);
  for (let n = a; n <= b; n++) for (const r of neededPictures(recipe, n)) if (!("plate" in r)) inside(`Frame ${n}`, r.take, r.frame);
}

/** Keeps the last few frames that were read. */
export function frameCache(store: FrameStore, takes: Record<string, TakeFile>, size = 16) {
  const kept = new Map<string, Frame>();
  return {
    async load(take: string, n: number): Promise<void> {
      const key = `${take}/${n}`;
      const hit = kept.get(key);
      if (hit) kept.delete(key);
      kept.set(key, hit ?? (await store.frame(takes[take].id, takes[take].index, n)));
      while (kept.size > size) kept.delete(kept.keys().next().value!);
    },
    get(take: string, n: number): Frame {
      const f = kept.get(`${take}/${n}`);
      if (!f) throw new Error(`frame ${n} of ${take} was not loaded`);
      return f;
    },
  };
}

export const canvasOf = (t: TakeIndex): Canvas => ({ width: t.info.width, height: t.info.height, scale: 1, siting: t.info.colour.siting });

/** Composes frames of a recipe from exact pictures. `below`, where given, is the take's own frame and may be changed. */
export function composer(recipe: Recipe, takes: Record<string, TakeFile>, store: FrameStore) {
  const shot = takes[recipe.shot.take];
  const canvas = canvasOf(shot.index);
  const cache = frameCache(store, takes);
  const pictures = exactPictures(recipe, cache.get, canvas);
  const mattes: MatteCache = new WeakMap();
  const plates = new Set<string>();
  const loadPlate = async (id: string) => {
    if (plates.has(id)) return;
    const refs = platePictures(recipe, id);
    if (refs.length > 12) throw new MediaError(`The plate “${id}” reads ${refs.length} different frames at once; 12 are possible.`);
    for (const r of refs) await cache.load(r.take, r.frame);
    pictures.plate(id);
    plates.add(id);
  };
  const need = async (n: number) => {
    const refs = neededPictures(recipe, n);
    // plates first: what they load may push frames out again
    for (const r of refs) if ("plate" in r) await loadPlate(r.plate);
    for (const r of refs) if (!("plate" in r)) await cache.load(r.take, r.frame);
  };
  return {
    canvas,
    cache,
    pictures,
    loadPlate,
    async frame(n: number, below?: Frame): Promise<Frame> {
      await need(n);
      return composeFrame(recipe, n, below ?? (await store.frame(shot.id, shot.index, n)), pictures, canvas, mattes, below !== undefined);
    },
  };
}

/** Renders a recipe. A whole file under its name, or no file. @returns what is worth saying about it. */
export async function render(spec: RenderSpec, store: FrameStore, hooks: RenderHooks = {}): Promise<string[]> {
  const { recipe, takes } = spec;
  const take = takes[recipe.shot.take].index;
  assertRuns(recipe);
  checkFrames(recipe, takes);
  refuse(spec.codec, spec.out, take);
  return isSequence(spec.codec) ? renderStills(spec, spec.codec, store, hooks) : renderVideo(spec, store, hooks);
}

async function* composed(spec: RenderSpec, store: FrameStore, hooks: RenderHooks): AsyncGenerator<{ n: number; frame: Frame }> {
  const take = spec.takes[spec.recipe.shot.take].index;
  const { in: a, out: b } = outputOf(spec.recipe);
  const work = composer(spec.recipe, spec.takes, store);
  let n = a;
  for await (const bytes of decodeFrames(take, a, b)) {
    if (hooks.signal?.aborted) throw new Stopped();
    yield { n, frame: await work.frame(n, frameFromBytes(bytes, take.info.width, take.info.height, take.info.format)) };
    n++;
    hooks.progress?.(n - a, b - a + 1);
  }
}

async function renderVideo(spec: RenderSpec, store: FrameStore, hooks: RenderHooks): Promise<string[]> {
  const take = spec.takes[spec.recipe.shot.take].index;
  const range = outputOf(spec.recipe);
  await mkdir(dirname(spec.out), { recursive: true });
  const part = join(dirname(spec.out), `.${process.pid}.part.${basename(spec.out)}`);
  const sound = soundArgs(take, range, spec.out);
  const enc = encoderArgs(spec, take, range);
  const ff = start(
    ["-y", ...sound.offset, ...enc.input, "-i", "pipe:0", ...sound.input, "-map", "0:v:0", ...enc.output, ...sound.output, part],
    "pipe",
  );
  const done = ended(ff, `Writing “${basename(spec.out)}”`);
  let failure: Error | null = null;
  done.catch((e: Error) => (failure = e));
  const stdin = ff.stdin!;
  stdin.on("error", () => undefined); // its reason comes with ffmpeg's end
  try {
    const { info } = take;
    if (info.variableRate) stdin.write(timedHeader(info.width, info.height, info.format));
    for await (const { n, frame } of composed(spec, store, hooks)) {
      if (failure) break;
      const bytes = bytesOf(frame);
      if (info.variableRate) stdin.write(timedPrefix(secondsAt(take, n) - secondsAt(take, range.in), bytes.length));
      if (!stdin.write(bytes)) await Promise.race([new Promise((r) => stdin.once("drain", () => r(null))), done.catch(() => undefined)]);
    }
    stdin.end();
    await done;
    if (hooks.signal?.aborted) throw new Stopped();
    await rename(part, spec.out);
  } catch (e) {
    ff.kill("SIGKILL");
    await done.catch(() => undefined);
    await rm(part, { force: true });
    throw e;
  }
  return [...enc.notes, ...sound.notes];
}

async function renderStills(spec: RenderSpec, kind: "png" | "tiff", store: FrameStore, hooks: RenderHooks): Promise<string[]> {
  const take = spec.takes[spec.recipe.shot.take].index;
  const folder = dirname(spec.out);
  const name = basename(spec.out);
  if (!name.includes("#"))
    throw new MediaError(
      `“${name}” names one picture for many frames: give a name with #### in it, such as frames/####.${kind === "png" ? "png" : "tif"}.`,
    );
  const existed = (await readdir(folder).catch(() => null)) !== null;
  await mkdir(folder, { recursive: true });
  const made: { part: string; whole: string }[] = [];
  try {
    for await (const { n, frame } of composed(spec, store, hooks)) {
      const whole = join(folder, sequenceName(name, n));
      const part = `${whole}.${process.pid}.part`;
      made.push({ part, whole });
      await writeWhole(part, await frameStill(frame, take.info.colour, kind));
    }
    for (const m of made) await rename(m.part, m.whole);
  } catch (e) {
    for (const m of made) await rm(m.part, { force: true });
    if (!existed) await rm(folder, { recursive: true, force: true });
    throw e;
  }
  const bits = kind === "tiff" || take.info.format.bits > 8 ? 16 : 8;
  const notes = [`R′G′B′ ${kind === "png" ? "PNG" : "TIFF"}, ${bits} bits a channel; frame numbers are the take's own.`];
  if (take.info.format.alpha) notes.push("The take's alpha is left out.");
  if (take.info.sound) notes.push("A sequence of stills carries no sound.");
  return notes;
}
