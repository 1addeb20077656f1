import { isEvenLight, isPaint, isPatch, isReframe, type PaintLayer, type PatchLayer } from "../document/layer";
import { maskOf, NotSupportedYet, type Recipe } from "../document/recipe";
import type { Touch } from "../document/touch";
import { dissolved, layOver } from "../blend/over";
import type { GrainStatistics } from "../match/grain";
import type { SitingName } from "../pixels/colour";
import { colourPlanes, copyFrame, type Frame, type PixelFormat } from "../pixels/frame";
import { paintMatte, paintPictures, scaledTouch, touchesAt } from "../retouch/paint";
import { evaluatePlate, heldFrame, type Loaded, type PictureRef, platePictures, sameRef, touchSourceRef } from "../retouch/plate";
import type { TouchPictures } from "../retouch/source";
import { assertTouchRuns, touchSteps } from "../retouch/touch";
import type { PlaneAlpha } from "../shape/chroma";
import { heldOutMattes } from "../shape/mask";
import { UserError } from "../user-error";
import { evenLights, type FrameLight, frameLight, type GainsByHash, relit } from "./evenlight";
import type { FigureTally } from "./figures";
import type { LightCache } from "./light-cache";
import { isMatched, layMatched, tellPlain } from "./matched";
import { noiseAlike, steadyFrames } from "./steady-frames";
import type { Canvas } from "./canvas";
import { layerOpacity, maskAlphas, type MatteCache, preparePatch } from "./patch";
import { framingAt, isReframed, reframed } from "./reframe";
import { sharpeningOf } from "./sharpness";
import { dissolveUnder, patchSource } from "./source-ref";
import { maskAt } from "./tie";

/** Where the composer gets its pictures: exact frames or proxies, all at the canvas's scale. */
export interface Pictures {
  take(take: string, frame: number): Frame;
  plate(plate: string): Frame;
}

/** The picture a patch shows at frame `n`: its source, dissolved with the end of the pass before where a loop joins. */
export function sourcePicture(recipe: Recipe, l: PatchLayer, n: number, pictures: Pictures): Frame {
  const ref = patchSource(recipe, l, n);
  const source = "plate" in ref ? pictures.plate(ref.plate) : pictures.take(ref.take, ref.frame);
  const under = dissolveUnder(recipe, l, n);
  return under ? dissolved(pictures.take(under.ref.take, under.ref.frame), source, under.share) : source;
}

/** The layers that show at frame `n`, bottom first. */
export function activeLayers(recipe: Recipe, n: number): (PatchLayer | PaintLayer)[] {
  return recipe.intruders
    .filter((i) => i.on !== false)
    .flatMap((i) => i.layers)
    .filter((l) => l.on !== false)
    .filter((l) => (isPatch(l) ? layerOpacity(l, n) > 0 : isPaint(l) && touchesAt(l, n).length > 0)) as (PatchLayer | PaintLayer)[];
}

/** @throws NotSupportedYet, by name, for what a patch has and the composer does not do yet; so that it is never left out in silence */
function assertPatchRuns(l: PatchLayer): void {
  if (l.seam?.vary !== undefined) throw new NotSupportedYet("A seam that varies");
}

/** Throws, by name, when the recipe holds something that cannot run yet. */
export function assertRuns(recipe: Recipe): void {
  for (const i of recipe.intruders)
    for (const l of i.layers) {
      if (i.on === false || l.on === false || isPaint(l) || isEvenLight(l) || isReframe(l)) continue;
      assertPatchRuns(l);
      const keys = l.source.plate;
      if (keys !== undefined) {
        platePictures(recipe, keys);
        recipe.plates[keys].touches.filter((t) => t.on !== false).forEach(assertTouchRuns);
      }
    }
}

/** The pictures one layer needs at frame `n`. */
export function layerPictures(recipe: Recipe, l: PatchLayer | PaintLayer, n: number): PictureRef[] {
  if (isPaint(l)) return paintPictures(recipe, l, n);
  const under = dissolveUnder(recipe, l, n);
  return [patchSource(recipe, l, n), ...(under ? [under.ref] : []), ...steadyFrames(recipe, l)];
}

/** All pictures frame `n` needs beside itself. */
export function neededPictures(recipe: Recipe, n: number): PictureRef[] {
  const refs = activeLayers(recipe, n).flatMap((l) => layerPictures(recipe, l, n));
  return refs.filter((r, i) => refs.findIndex((q) => sameRef(q, r)) === i);
}

/** What a frame is composed of: nothing else is looked at. */
export interface Composition {
  recipe: Recipe;
  /** The frame of the shot's take. */
  n: number;
  /** That frame as the decoder gave it. */
  below: Frame;
  /** Where its sources come from. */
  pictures: Pictures;
  canvas: Canvas;
  /** Mattes that were worked out before, and are kept for later. */
  cache?: MatteCache;
  /** Lights that were found before, where they are kept: for quick pictures. */
  lights?: LightCache;
  /** Whether `below` itself may be changed; without it a copy is. */
  inPlace?: boolean;
  /** Grain that was measured, by the hashes that the recipe's profiles name. */
  grains?: Grains;
  /** What was measured of the light, by the hashes that layers name. */
  gains?: GainsByHash;
  /** A patch of which is told how far off it still is. */
  figures?: { layer: string; tally: FigureTally };
}

export type Grains = ReadonlyMap<string, GrainStatistics>;

/**
 * THE function that preview and render both call: frame `n` of the shot with its layers, in the take's own planes.
 * A frame no layer touches is returned as it came, the same object; otherwise a copy is changed (or `below`
 * itself with `inPlace`). Cost follows the layers' area.
 * @throws NotSupportedYet, by name, for what the recipe has and cannot run yet
 */
export function composeFrame(c: Composition): Frame {
  const steps = composeSteps(c);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** The same in steps: yields how far it is, 0–1, where touches take a while. */
export function* composeSteps(c: Composition): Generator<number, Frame> {
  const { recipe, n, below, inPlace = false } = c;
  const layers = activeLayers(recipe, n);
  const light = frameLight(recipe, n, c.gains);
  const ground = light ? relit(below, light.footage, c.canvas) : below;
  const framing = framingAt(recipe, n);
  const framed = (f: Frame) => (framing ? reframed(f, framing, n, c.canvas) : f);
  if (layers.length === 0) return framed(ground);
  const own = inPlace || ground !== below;
  const out = own ? ground : copyFrame(ground);
  const original = own && layers.some((l) => isPaint(l) && touchesAt(l, n).some(readsOriginal)) ? copyFrame(ground) : ground;
  for (const l of layers) yield* layLayer({ ...c, light }, l, out, original);
  return framed(out);
}

/** Whether some layer changes all of frame `n`, and not a part of it. */
export const changesWhole = (recipe: Recipe, n: number): boolean => evenLights(recipe, n).length > 0 || isReframed(recipe, n);

/** The gain of a picture's light where it is of the shot's own take; a plate is in the light of the frame it was made of. */
function gainOf(recipe: Recipe, ref: PictureRef, light: FrameLight): number {
  const from = "plate" in ref ? heldFrame(recipe.plates[ref.plate]) : "take" in ref ? ref : null;
  return from?.take === recipe.shot.take ? light.source(from.frame) : 1;
}

const relitBefore = new WeakMap<Frame, { gain: number; frame: Frame }>();

/** Pictures in the light that layers make of them. The last gain of a picture is kept: a held one has the same in every frame. */
export function litPictures(recipe: Recipe, pictures: Pictures, canvas: Canvas, light: FrameLight): Pictures {
  const lit = (frame: Frame, ref: PictureRef) => {
    const gain = gainOf(recipe, ref, light);
    const before = relitBefore.get(frame);
    if (before?.gain === gain) return before.frame;
    const made = relit(frame, gain, canvas);
    relitBefore.set(frame, { gain, frame: made });
    return made;
  };
  return {
    take: (take, frame) => lit(pictures.take(take, frame), { take, frame }),
    plate: (plate) => lit(pictures.plate(plate), { plate }),
  };
}

const readsOriginal = (t: Touch) => t.kind === "restore" || t.light === true;

/** What laying one layer goes by. */
export type Laying = Pick<Composition, "recipe" | "n" | "pictures" | "canvas" | "cache" | "grains" | "figures" | "lights"> & {
  /** What layers make of the light of this frame and of others. */
  light?: FrameLight | null;
};

/** Lays one layer over `out`, in place; yields how far it is where it takes a while. `original` is the frame as it came. */
export function* layLayer(c: Laying, l: PatchLayer | PaintLayer, out: Frame, original: Frame): Generator<number, void> {
  const { recipe, n, canvas, cache, light } = c;
  const pictures = light ? litPictures(recipe, c.pictures, canvas, light) : c.pictures;
  if (isPaint(l)) {
    for (const t of touchesAt(l, n))
      yield* touchSteps(out, scaledTouch(t, canvas.scale), touchPictures(recipe, t, n, original, pictures, canvas.siting));
    return;
  }
  assertPatchRuns(l);
  // a matched patch takes its picture as it came, so that what was worked out of it serves in every light
  const asItCame = isMatched(l) && !!light && !dissolveUnder(recipe, l, n);
  const source = sourcePicture(recipe, l, n, asItCame ? c.pictures : pictures);
  const patch = preparePatch(recipe, l, n, source, out.format, canvas, cache);
  const tally = c.figures?.layer === l.id ? c.figures.tally : undefined;
  const avoid = isMatched(l) || tally ? underOthers(c, l, out.format) : () => false;
  if (isMatched(l)) {
    const refs = steadyFrames(recipe, l);
    const others = refs.map((r) => c.pictures.take(r.take, r.frame));
    const grain = grainFor(c, l);
    const alike = grain ? noiseAlike(recipe, l, refs, grain) : 0;
    const lights = c.lights && { cache: c.lights, recipe };
    const gain = asItCame ? gainOf(recipe, patchSource(recipe, l, n), light) : 1;
    const sharpening = sharpeningOf(recipe, l, n, out.format, canvas);
    const matching = { layer: l, n, seed: recipe.seed ?? 0, source, others, alike, gain, sharpening, grain, avoid, canvas, lights, tally };
    layMatched(out, patch, matching);
    return;
  }
  if (tally) tellPlain(out, patch, { layer: l, avoid, tally });
  patch.sources.forEach((plane, p) => layOver(out.planes[p], plane, patch.alphas[p], patch.opacity));
}

/** @throws UserError where the profile's data are not there */
function grainFor({ recipe, grains }: Laying, l: PatchLayer): GrainStatistics | null {
  if (!l.grain) return null;
  const grain = grains?.get(recipe.profiles?.[l.grain.profile].data ?? "");
  if (!grain) throw new UserError("missing", "The grain that a patch is to have is not there (any more): measure the grain again.");
  return grain;
}

/** Whether a luma pixel lies under another layer that shows at this frame, or under what the layer's own mask holds out. */
function underOthers({ recipe, n, canvas, cache }: Laying, l: PatchLayer, format: PixelFormat): (x: number, y: number) => boolean {
  const others = activeLayers(recipe, n)
    .filter((o) => o.id !== l.id)
    .map((o): PlaneAlpha =>
      isPaint(o)
        ? paintMatte(o, n, canvas.width, canvas.height, canvas.scale)
        : maskAlphas(maskAt(recipe, o, n, canvas.tracks), n, canvas, format, colourPlanes(format), cache)[0],
    );
  const held = heldOutMattes(maskOf(recipe, l), n, canvas.width, canvas.height, canvas.scale, canvas.cutouts);
  const things = [...others, ...held];
  if (!things.length) return () => false;
  return (fx, fy) => {
    const [x, y] = [Math.floor(fx), Math.floor(fy)];
    return things.some((o) => x >= o.x0 && x < o.x1 && y >= o.y0 && y < o.y1 && o.data[(y - o.y0) * (o.x1 - o.x0) + x - o.x0] > 0);
  };
}

/** The pictures a touch on frame `n` reads. */
export function touchPictures(recipe: Recipe, t: Touch, n: number, original: Frame, pictures: Pictures, siting: SitingName): TouchPictures {
  const ref = touchSourceRef(t, { take: recipe.shot.take, frame: n });
  const source = ref ? ("plate" in ref ? pictures.plate(ref.plate) : pictures.take(ref.take, ref.frame)) : undefined;
  return { original, source, siting, seed: recipe.seed };
}

/** Pictures answered from exact ones: plates are computed once and kept. */
export function exactPictures(recipe: Recipe, loaded: Loaded, canvas: Canvas): Pictures {
  const plates = new Map<string, Frame>();
  return {
    take: (take, frame) => loaded({ take, frame }),
    plate(id) {
      let p = plates.get(id);
      if (!p) plates.set(id, (p = evaluatePlate(recipe, id, loaded, canvas.siting)));
      return p;
    },
  };
}
