import { layerPictures } from "../../../core/compose/compose";
import type { PatchLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import type { PictureRef } from "../../../core/retouch/plate";
import type { TakeFile } from "../../render/spec";

/**
 * A patch in a frame in which it is not laid: as if it went on until there, or where its picture has no such frame, as it is in the nearest
 * one in which it is laid.
 */
export function asIfLaid(recipe: Recipe, l: PatchLayer, n: number, takes: Record<string, TakeFile>): { layer: PatchLayer; at: number } {
  const at = Math.min(l.out, Math.max(l.in, n));
  if (at === n) return { layer: l, at };
  const on = { ...l, in: Math.min(l.in, n), out: Math.max(l.out, n), fadeIn: 0, fadeOut: 0 };
  const there = (r: PictureRef) => "plate" in r || (r.frame >= 0 && r.frame < takes[r.take].index.info.frames);
  return l.source.repeat === undefined && layerPictures(recipe, on, n).every(there) ? { layer: on, at: n } : { layer: l, at };
}
