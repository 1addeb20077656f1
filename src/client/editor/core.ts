import type { Mask, Recipe } from "../../core/document";
import type { Rect } from "../../core/pixels/frame";
import type { Draft } from "../../recipe/edits";
import type { EditorState, Notices } from "./state";

/** What the parts of the editor work with. */
export interface EditorCore {
  get: () => EditorState;
  /** The recipe without the drag in progress. */
  settled: () => Recipe;
  set: (part: Partial<EditorState>) => void;
  notices: Notices;
  commit: (name: string, change: (d: Draft<Recipe>) => void) => void;
  preview: (change: (d: Draft<Recipe>) => void, onPicture?: boolean) => void;
  /** Takes the last change back, then does another in its place. */
  takeBack: (then: () => void) => void;
  refresh: () => void;
  goTo: (frame: number) => void;
  /** A frame as it is counted on the screen. */
  show: (frame: number) => string;
  /** Tells the picture worker that the takes are others now. */
  takes: () => void;
  /** What a mask covers at a frame, within the picture; null for nothing. */
  maskBox: (mask: Mask, frame: number) => Rect | null;
}
