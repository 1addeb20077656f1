import { NotSupportedYet } from "../../core/document";
import { KeyShapeError } from "../../core/time/keyed";
import { RecipeError } from "../../recipe/schema";

/** A sentence for the user: what happened, why, what to do. */
export class MediaError extends Error {}

/**
 * Whether an error was written for the user. The core refuses what it cannot compute by a RangeError in a whole sentence; those
 * the language throws by itself are none, and a fault of ours.
 */
export const isMeant = (e: unknown): e is Error =>
  e instanceof MediaError ||
  e instanceof RecipeError ||
  e instanceof NotSupportedYet ||
  e instanceof KeyShapeError ||
  (e instanceof RangeError && /^.+ .+\.$/.test(e.message));

/** What the user is told of an error: the sentence of one that was written for them; of a fault of ours, whose message may hold paths and worse, only `what`. */
export const said = (e: unknown, what: string): string =>
  isMeant(e) ? e.message : `${what} for a reason that is no fault of yours: the messages on the terminal say what it was; try again.`;
