import type { Recipe } from "../../../core/document/recipe";
import { intruderById, layerById } from "../../../recipe/query";

export type Selection = { kind: "layer"; layer: string } | { kind: "plate"; plate: string } | { kind: "intruder"; intruder: string } | null;

/** What of the recipe is selected: its card is shown. */
export interface SelectionState {
  selection: Selection;
}

export const firstSelection: SelectionState = { selection: null };

/** Whether what was selected is there still. */
export function exists(r: Recipe, s: NonNullable<Selection>): boolean {
  if (s.kind === "plate") return !!r.plates[s.plate];
  return s.kind === "intruder" ? !!intruderById(r, s.intruder) : !!layerById(r, s.layer);
}
