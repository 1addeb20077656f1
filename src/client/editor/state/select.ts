import { isReframe, type PaintLayer, type PatchLayer, type ReframeLayer } from "../../../core/document/layer";
import type { Touch } from "../../../core/document/touch";
import { layerById, paintById, patchById } from "../../../recipe/query";
import type { Take } from "../../../wire/take";
import type { EditorState } from "./editor";
import { type ModeState, openPaint, openPlate } from "./mode";

/** The take of the shot. */
export const takeOf = (s: Pick<EditorState, "shot" | "recipe">): Take => s.shot.takes[s.recipe.shot.take];

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
