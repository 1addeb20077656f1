import type { Recipe } from "../../core/document";
import type { Draft } from "../../recipe/edits";
import type { BenchState, Notices } from "./state";

/** What the parts of the bench work with. */
export interface BenchCore {
  get: () => BenchState;
  set: (part: Partial<BenchState>) => void;
  notices: Notices;
  commit: (name: string, change: (d: Draft<Recipe>) => void) => void;
  preview: (change: (d: Draft<Recipe>) => void) => void;
  refresh: () => void;
  goTo: (frame: number) => void;
  /** Tells the picture worker that the takes are others now. */
  takes: () => void;
}
