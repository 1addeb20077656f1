import type { Recipe } from "../../../core/document/recipe";
import { paintById } from "../../../recipe/query";

export const STAGES = ["Scout", "Plate", "Patch", "Match", "Proof", "Render"] as const;
export type Stage = (typeof STAGES)[number];

/** The stage of the work, with what is open in it. */
export type Mode =
  | { stage: "Scout" }
  /** `plate`: the plate that is open for retouching. */
  | { stage: "Plate"; plate: string | null }
  /** `paint`: the paint layer that is open, so that touches are laid on the frames. */
  | { stage: "Patch"; paint: string | null }
  | { stage: "Match" }
  | { stage: "Proof" }
  | { stage: "Render" };

export interface ModeState {
  mode: Mode;
}

/** A stage with nothing open in it. */
export function atStage(stage: Stage): Mode {
  if (stage === "Plate") return { stage, plate: null };
  return stage === "Patch" ? { stage, paint: null } : { stage };
}

/** A shot opens where its work goes on. */
export const firstMode = (r: Recipe): ModeState => ({ mode: atStage(Object.keys(r.plates).length ? "Patch" : "Plate") });

/** The plate that is open for retouching. */
export const openPlate = ({ mode }: ModeState): string | null => (mode.stage === "Plate" ? mode.plate : null);
/** The paint layer that is open. */
export const openPaint = ({ mode }: ModeState): string | null => (mode.stage === "Patch" ? mode.paint : null);
/** Whether something is open for retouching. */
export const retouching = (s: ModeState): boolean => openPlate(s) !== null || openPaint(s) !== null;

/** What panels, tools and surfaces are registered by: the stage, or that something is open in it for retouching. */
export type ModeName = Stage | "retouching";
export const modeName = (s: ModeState): ModeName => (retouching(s) ? "retouching" : s.mode.stage);

/** The mode when the recipe is another: what it no longer has is not open any more. */
export function modeIn(r: Recipe, mode: Mode): Mode {
  if (mode.stage === "Plate" && mode.plate && !r.plates[mode.plate]) return atStage("Plate");
  if (mode.stage === "Patch" && mode.paint && !paintById(r, mode.paint)) return atStage("Patch");
  return mode;
}
