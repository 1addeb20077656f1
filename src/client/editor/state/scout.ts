import type { Point } from "../../../core/document/geometry";
import type { SeenAnswer, SurveyAnswer } from "../../../wire/plate";

/** What was found about intruders, by their ids. */
export type Found = Record<string, SeenAnswer>;

export interface ScoutState {
  /** A loop being drawn round a thing, free-hand. */
  ring: Point[];
  /** What was measured about the shot's take. */
  survey: SurveyAnswer | null;
  found: Found;
}

export const firstScout: ScoutState = { ring: [], survey: null, found: {} };
