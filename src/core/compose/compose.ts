import { isPaint, isPatch, type PaintLayer, type PatchLayer } from "../document/layer";
import { maskOf, NotSupportedYet, type Recipe } from "../document/recipe";
import type { Touch } from "../document/touch";
import { dissolved, layOver, layUnrounded } from "../blend/over";
import type { SitingName } from "../pixels/colour";
import { copyFrame, type Frame, maxCode } from "../pixels/frame";
import { paintPictures, scaledTouch, touchesAt } from "../retouch/paint";
import { evaluatePlate, type Loaded, type PictureRef, platePictures, sameRef, touchSourceRef } from "../retouch/plate";
import type { TouchPictures } from "../retouch/source";
import { assertTouchRuns, touchSteps } from "../retouch/touch";
import { type Canvas, dissolveUnder, layerOpacity, type MatteCache, patchSource, preparePatch } from "./patch";

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

/** What a patch may have by the schema and the composer does not do yet. */
const LATER = [
  ["tied", "A patch that follows a track"],
  ["light", "A patch that follows the light"],
  ["seam", "Matching the seam of a patch"],
  ["grain", "Grain laid over a patch"],
] as const;

/** Whether a patch is laid in values between codes, since something changes its picture after it was read: rounded once, at the end. */
const laysUnrounded = (l: PatchLayer): boolean => LATER.some(([field]) => l[field] !== undefined);

/** @throws NotSupportedYet, by name, for what a patch has and the composer does not do yet; so that it is never left out in silence */
function assertPatchRuns(recipe: Recipe, l: PatchLayer): void {
  for (const [field, what] of LATER) if (l[field]) throw new NotSupportedYet(what);
  if (maskOf(recipe, l).shapes.some((s) => s.kind === "cutout" && s.on !== false)) throw new NotSupportedYet("A cut-out in a mask");
}

/** Throws, by name, when the recipe holds something that cannot run yet. */
export function assertRuns(recipe: Recipe): void {
  for (const i of recipe.intruders)
    for (const l of i.layers) {
      if (i.on === false || l.on === false || isPaint(l)) continue;
      if (!isPatch(l)) throw new NotSupportedYet(`The layer kind “${l.kind}”`);
      assertPatchRuns(recipe, l);
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
  return under ? [patchSource(recipe, l, n), under.ref] : [patchSource(recipe, l, n)];
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
  /** Whether `below` itself may be changed; without it a copy is. */
  inPlace?: boolean;
}

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
export function* composeSteps({ recipe, n, below, pictures, canvas, cache, inPlace = false }: Composition): Generator<number, Frame> {
  const layers = activeLayers(recipe, n);
  if (layers.length === 0) return below;
  const out = inPlace ? below : copyFrame(below);
  const original = inPlace && layers.some((l) => isPaint(l) && touchesAt(l, n).some(readsOriginal)) ? copyFrame(below) : below;
  for (const l of layers) yield* layLayer(recipe, l, n, out, original, pictures, canvas, cache);
  return out;
}

const readsOriginal = (t: Touch) => t.kind === "restore" || t.light === true;

/** Lays one layer over `out`, in place; yields how far it is where it takes a while. `original` is the frame as it came. */
export function* layLayer(
  recipe: Recipe,
  l: PatchLayer | PaintLayer,
  n: number,
  out: Frame,
  original: Frame,
  pictures: Pictures,
  canvas: Canvas,
  cache?: MatteCache,
): Generator<number, void> {
  if (isPaint(l)) {
    for (const t of touchesAt(l, n))
      yield* touchSteps(out, scaledTouch(t, canvas.scale), touchPictures(recipe, t, n, original, pictures, canvas.siting));
    return;
  }
  assertPatchRuns(recipe, l);
  const patch = preparePatch(recipe, l, n, sourcePicture(recipe, l, n, pictures), out.format, canvas, cache);
  const top = maxCode(out.format);
  patch.sources.forEach((plane, p) => {
    if (laysUnrounded(l)) layUnrounded(out.planes[p], plane.value, patch.alphas[p], patch.opacity, top);
    else layOver(out.planes[p], plane, patch.alphas[p], patch.opacity);
  });
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
