import type { Recipe } from "../../../core/document/recipe";
import type { ShotDocument } from "../../../wire/shot";

/** The shot that is open and its recipe, as shown and as stored. */
export interface DocumentState {
  /** The shot without its recipe: its name, its takes by the recipe's keys. */
  shot: Omit<ShotDocument, "recipe" | "rev" | "undo" | "redo">;
  /** The recipe as shown: what is stored, what waits to be stored, and a drag in progress. */
  recipe: Recipe;
  /** The recipe while something is dragged on the picture: the panels follow a moment later, so that the picture never waits for them. */
  dragged: Recipe | null;
  /** How many edits wait to be stored, the names of the steps that undo and redo would take, and whether the engine cannot be reached. */
  saved: { waiting: number; undo: string | null; redo: string | null; offline: boolean };
  /** Two edits of the same thing, of which one is to be chosen. */
  conflict: { mine: string; theirs: string; answer: (a: "mine" | "theirs") => void } | null;
}

export const firstDocument = ({ recipe, rev: _, undo, redo, ...shot }: ShotDocument): DocumentState => ({
  shot,
  recipe,
  dragged: null,
  saved: { waiting: 0, undo, redo, offline: false },
  conflict: null,
});

/** Whether a change is still being dragged, in a panel or on the picture. */
export type Dragging = boolean | "picture";
