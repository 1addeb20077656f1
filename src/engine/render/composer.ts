import { activeLayers, composeFrame, exactPictures, neededPictures } from "../../core/compose/compose";
import type { Canvas } from "../../core/compose/canvas";
import type { MatteCache } from "../../core/compose/patch";
import { isMatched } from "../../core/compose/matched";
import { partsAlone } from "../../core/compose/views";
import { isPaint } from "../../core/document/layer";
import { outputOf, type Recipe } from "../../core/document/recipe";
import { addsLight } from "../../core/pixels/colour";
import { bytesOf, type Frame, copyFrame, frameFromBytes } from "../../core/pixels/frame";
import { platePictures, type PictureRef } from "../../core/retouch/plate";
import { changed, decodeFrames, soughtPicture } from "../media/decode";
import { isReadThrough, NotAsListed } from "../media/listing";
import { MediaError } from "../media/media-error";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { NO_PICTURES, pictureSources, type Pictures } from "./pictures";
import { type RenderSpec, type TakeFile, stoppedRender } from "./spec";
import type { Watch } from "../watch";

/** Checks that every frame a recipe asks for exists. @throws an error that names the frame. */
export function checkFrames(recipe: Recipe, takes: Record<string, TakeFile>): void {
  const count = (t: string) => takes[t].index.info.frames;
  const inside = (what: string, t: string, n: number) => {
    if (n < 0 || n >= count(t))
      throw new (isReadThrough(takes[t].index) ? MediaError : NotAsListed)(
        `${what} needs frame ${n} of the take “${t}”, which has frames 0 to ${count(t) - 1}: change its number.`,
      );
  };
  inside("The shot", recipe.shot.take, recipe.shot.in);
  inside("The shot", recipe.shot.take, recipe.shot.out);
  for (const id of Object.keys(recipe.plates))
    for (const r of platePictures(recipe, id)) if ("take" in r) inside(`The plate “${recipe.plates[id].name || id}”`, r.take, r.frame);
  const { in: a, out: b } = outputOf(recipe);
  for (let n = a; n <= b; n++) for (const r of neededPictures(recipe, n)) if (!("plate" in r)) inside(`Frame ${n}`, r.take, r.frame);
}

/** Reads one frame of a take. `alone`: the frames beside it will not be asked for. */
type Read = (take: string, n: number, alone: boolean) => Promise<Frame>;

/** Keeps the last few frames that were read. */
function frameCache(read: Read, size = 16) {
  const kept = new Map<string, Frame>();
  return {
    async load(take: string, n: number, alone = false): Promise<void> {
      const key = `${take}/${n}`;
      const hit = kept.get(key);
      if (hit) kept.delete(key);
      kept.set(key, hit ?? (await read(take, n, alone)));
      while (kept.size > size) kept.delete(kept.keys().next().value!);
    },
    get(take: string, n: number): Frame {
      const f = kept.get(`${take}/${n}`);
      if (!f) throw new Error(`frame ${n} of ${take} was not loaded`);
      return f;
    },
  };
}

export const canvasOf = (t: TakeIndex): Canvas => ({
  width: t.info.width,
  height: t.info.height,
  scale: 1,
  siting: t.info.colour.siting,
  full: t.info.colour.range === "full",
  adds: addsLight(t.info.colour.transfer),
});

/** Composes frames of a recipe from exact pictures. `below`, where given, is the take's own frame and may be changed. */
export function composer(recipe: Recipe, takes: Record<string, TakeFile>, store: Pick<FrameStore, "frame">, given: Pictures = NO_PICTURES) {
  const shot = takes[recipe.shot.take];
  const { info } = shot.index;
  const target = pictureSources(given, { ...info, format: { ...info.format, alpha: false } });
  const canvas = { ...canvasOf(shot.index), masks: target.masks, tracks: given.tracks, cutouts: given.cutouts };
  const sought = new Map<number, Frame>();
  const range = outputOf(recipe);
  const read: Read = async (key, n, alone) => {
    const { id, index } = takes[key];
    if (isReadThrough(index)) return store.frame(id, index, n, alone);
    // the render itself comes by a frame of its range, and sees whether the right one was found
    const comesBy = key === recipe.shot.take && n >= range.in && n <= range.out;
    const bytes = comesBy ? await soughtPicture(index, n) : null;
    if (!bytes) return store.frame(id, index, n, true);
    const frame = frameFromBytes(bytes, index.info.width, index.info.height, index.info.format);
    sought.set(n, frame);
    return frame;
  };
  const cache = frameCache(read);
  const pictures = exactPictures(recipe, (r) => ("picture" in r ? target.frame(r.picture) : cache.get(r.take, r.frame)), canvas);
  const mattes: MatteCache = new WeakMap();
  const plates = new Set<string>();
  const loadPlate = async (id: string) => {
    if (plates.has(id)) return;
    const refs = platePictures(recipe, id);
    if (refs.length > 12) throw new MediaError(`The plate “${id}” reads ${refs.length} different frames at once; 12 are possible.`);
    for (const r of refs) if ("take" in r) await cache.load(r.take, r.frame, true);
    pictures.plate(id);
    plates.add(id);
  };
  const fetch = async (refs: PictureRef[]) => {
    // plates first: what they load may push frames out again
    for (const r of refs) if ("plate" in r) await loadPlate(r.plate);
    for (const r of refs) if (!("plate" in r)) await cache.load(r.take, r.frame);
  };
  const need = (n: number) => fetch(neededPictures(recipe, n));
  return {
    canvas,
    pictures,
    /** What was worked out last of masks. */
    mattes,
    loadPlate,
    /** Frames of the shot's take that were sought by their times alone: whoever comes by them has to compare. */
    sought: sought as ReadonlyMap<number, Frame>,
    /** The layers of frame `n`, each by itself. */
    async parts(n: number) {
      await need(n);
      const below = activeLayers(recipe, n).some((l) => isPaint(l) || isMatched(l)) ? await store.frame(shot.id, shot.index, n) : null;
      return partsAlone(recipe, n, info.format, below, pictures, canvas, given.grains, given.gains);
    },
    /** Reads pictures, ahead of their turn. */
    fetch,
    /** Reads what frame `n` needs beside itself, ahead of its turn. */
    need,
    async frame(n: number, below?: Frame): Promise<Frame> {
      await need(n);
      return composeFrame({
        recipe,
        n,
        below: below ?? (await store.frame(shot.id, shot.index, n)),
        pictures,
        canvas,
        cache: mattes,
        grains: given.grains,
        gains: given.gains,
        inPlace: below !== undefined,
      });
    },
  };
}

/** The mended pictures of a render, in order. @param both whether each comes with what it was before */
export async function* composed(
  spec: RenderSpec,
  store: FrameStore,
  hooks: Watch,
  both = false,
): AsyncGenerator<{ n: number; frame: Frame; before?: Frame }> {
  const take = spec.takes[spec.recipe.shot.take].index;
  const { in: a, out: b } = outputOf(spec.recipe);
  const work = composer(spec.recipe, spec.takes, store, spec.pictures);
  let n = a;
  for await (const bytes of decodeFrames(take, a, b)) {
    if (hooks.signal?.aborted) throw stoppedRender();
    const was = work.sought.get(n);
    if (was && Buffer.compare(bytesOf(was), bytes)) throw changed(take);
    const below = frameFromBytes(bytes, take.info.width, take.info.height, take.info.format);
    const before = both ? copyFrame(below) : undefined;
    yield { n, frame: await work.frame(n, below), before };
    n++;
    hooks.progress?.(n - a, b - a + 1);
  }
}
