import type { PatchLayer } from "../../../core/document/layer";
import type { Mask } from "../../../core/document/mask";
import type { Recipe } from "../../../core/document/recipe";
import type { Rect } from "../../../core/pixels/frame";
import type { Draft } from "../../../recipe/edits";
import type { Dragging } from "../state/document";
import type { EditorState } from "../state/editor";

/** Where to say that something went wrong, or was done. */
export interface Notices {
  problem(message: string): void;
  said(message: string, instead?: { words: string; run: () => void }): void;
  /** What was offered beside the last edit is offered no more: another edit has come. */
  ended?(): void;
}

/** Changes a patch; while it is dragged nothing is stored. */
export type ChangeLayer = (id: string, name: string, change: (l: Draft<PatchLayer>, all: Draft<Recipe>) => void, dragging?: Dragging) => void;

/** What the parts of the editor work with. */
export interface EditorCore {
  get: () => EditorState;
  /** The recipe without the drag in progress. */
  settled: () => Recipe;
  set: (part: Partial<EditorState>) => void;
  notices: Notices;
  /** Changes the recipe: shown at once, stored in the background, one entry of the history. */
  commit: (name: string, change: (d: Draft<Recipe>) => void) => void;
  /** Shows a change while it is dragged, without storing it; on the picture the panels lag behind. */
  preview: (change: (d: Draft<Recipe>) => void, onPicture?: boolean) => void;
  /** Takes the last change back, then does another in its place. */
  takeBack: (then: () => void) => void;
  /** Asks for the picture of what is shown now. */
  refresh: () => void;
  goTo: (frame: number) => void;
  /** A frame as it is counted on the screen. */
  show: (frame: number) => string;
  /** Tells the picture worker that the takes are others now. */
  takes: () => void;
  /** What a mask covers at a frame, within the picture; null for nothing. */
  maskBox: (mask: Mask, frame: number) => Rect | null;
}
