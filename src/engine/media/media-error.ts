import { UserError } from "../../core/user-error";
import { userErrorOf } from "../../wire/errors";

/** What cannot be done with the footage or the pictures that were given. */
export class MediaError extends UserError {
  constructor(message: string, options?: ErrorOptions) {
    super("refused", message, {}, options);
  }
}

/** What the user is told of an error: the sentence of one that was written for them; of a fault of ours only `what`. */
export const said = (e: unknown, what: string): string =>
  userErrorOf(e)?.message ?? `${what} for a reason that is no fault of yours: the messages on the terminal say what it was; try again.`;
