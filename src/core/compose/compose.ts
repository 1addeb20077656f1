import { isPatch, NotSupportedYet, type PatchLayer, type Recipe } from "../document";
import { dissolved, layOver } from "../blend/over";
import { copyFrame, type Frame } from "../pixels/frame";
import { evaluatePlate, type Loaded, type PictureRef, platePictures, sameRef } from "../retouch/plate";
import { assertTouchRuns } from "../retouch/touch";
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

/** The patches that show at frame `n`, bottom first. */
export function activePatches(recipe: Recipe, n: number): PatchLayer[] {
  return recipe.intruders
    .filter((i) => i.on !== false)
    .flatMap((i) => i.layers)
    .filter((l) => l.on !== false)
    .filter(isPatch)
    .filter((l) => layerOpacity(l, n) > 0);
}

/** Throws, by name, when the recipe holds something that cannot run yet. */
export function assertRuns(recipe: Recipe): void {
  for (const i of recipe.intruders)
    for (const l of i.layers) {
      if (i.on === false || l.on === false) continue;
      if (!isPatch(l)) throw new NotSupportedYet(`The layer kind “${l.kind}”`);
      const keys = l.source.plate;
      if (keys !== undefined) {
        platePictures(recipe, keys);
        recipe.plates[keys].touches.filter((t) => t.on !== false).forEach(assertTouchRuns);
      }
    }
}

/** The pictures one patch needs at frame `n`. */
export function patchPictures(recipe: Recipe, l: PatchLayer, n: number): PictureRef[] {
  const under = dissolveUnder(recipe, l, n);
  return under ? [patchSource(recipe, l, n), under.ref] : [patchSource(recipe, l, n)];
}

/** All pictures frame `n` needs beside itself. */
export function neededPictures(recipe: Recipe, n: number): PictureRef[] {
  const refs = activePatches(recipe, n).flatMap((l) => patchPictures(recipe, l, n));
  return refs.filter((r, i) => refs.findIndex((q) => sameRef(q, r)) === i);
}

/**
 * THE function that preview and render both call: frame `n` of the shot with its patches, in the take's own planes.
 * A frame no patch touches is returned as it came, the same object; otherwise a copy is changed (or `below`
 * itself with `inPlace`). Cost follows the patches' area.
 * @param below the take's own frame `n`
 */
export function composeFrame(
  recipe: Recipe,
  n: number,
  below: Frame,
  pictures: Pictures,
  canvas: Canvas,
  cache?: MatteCache,
  inPlace = false,
): Frame {
  let out = below;
  for (const l of activePatches(recipe, n)) {
    const patch = preparePatch(recipe, l, n, sourcePicture(recipe, l, n, pictures), below.format, canvas, cache);
    if (out === below && !inPlace) out = copyFrame(below);
    patch.sources.forEach((plane, p) => layOver(out.planes[p], plane, patch.alphas[p], patch.opacity));
  }
  return out;
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
