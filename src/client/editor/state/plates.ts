import type { BuiltAnswer } from "../../../wire/plate";

export interface PlatesState {
  /** What built plates were made of, by their ids. */
  builds: Record<string, BuiltAnswer>;
}

export const firstPlates: PlatesState = { builds: {} };
