import { isReframe, type PaintLayer, type PatchLayer, type ReframeLayer } from "../../../core/document/layer";
import type { Touch } from "../../../core/document/touch";
import { layerById, paintById, patchById } from "../../../recipe/query";
import { aspectOf, type Take } from "../../../wire/take";
import type { EditorState } from "./editor";
import { type ModeState, openPaint, openPlate } from "./mode";

/** The take of the shot. */
export const takeOf = (s: Pick<EditorState, "shot" | "recipe">): Take => s.shot.takes[s.recipe.shot.take];

/** How much wider than high the pixels of the shot's take are. */
export function pixelAspect(s: Pick<EditorState, "shot" | "recipe">): number {
  const { info } = takeOf(s);
  return info ? aspectOf(info) : 1;
}

/** What makes a brush round on the screen, where pixels are not square. */
export function onPixels(s: Pick<EditorState, "shot" | "recipe">): { aspect?: number } {
  const aspect = pixelAspect(s);
  return aspect === 1 ? {} : { aspect };
}

export const selectedLayer = ({ selection: x, recipe }: Pick<EditorState, "recipe" | "selection">): PatchLayer | null =>
  x?.kind === "layer" ? patchById(recipe, x.layer) : null;

export const selectedPaint = ({ selection: x, recipe }: Pick<EditorState, "recipe" | "selection">): PaintLayer | null =>
  x?.kind === "layer" ? paintById(recipe, x.layer) : null;

export function selectedReframe({ selection: x, recipe }: Pick<EditorState, "recipe" | "selection">): ReframeLayer | null {
  const l = x?.kind === "layer" ? layerById(recipe, x.layer) : null;
  return l && isReframe(l) ? l : null;
}

/** The touches that are worked on: the open plate's, or the open paint layer's. */
export function touchesOpen(s: Pick<EditorState, "recipe"> & ModeState): readonly Touch[] {
  const [plate, paint] = [openPlate(s), openPaint(s)];
  if (plate) return s.recipe.plates[plate]?.touches ?? [];
  return paint ? (paintById(s.recipe, paint)?.touches ?? []) : [];
}
