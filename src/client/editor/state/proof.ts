import type { Recipe } from "../../../core/document/recipe";
import type { FigureKind, Proof } from "../../../core/proof/finding";

export interface ProofState {
  proof: {
    /** What was told, and of which recipe. */
    told: { of: Recipe; proof: Proof } | null;
    /** What is being measured, and how far that is. */
    running: { id: string; of: Recipe; done: number; total: number } | null;
    /** The finding that is looked at, by its place in the list that is shown. */
    at: number | null;
    /** The figure whose curve stands on the timeline. */
    figure: FigureKind;
  };
}

export const firstProof: ProofState = { proof: { told: null, running: null, at: null, figure: "left" } };
