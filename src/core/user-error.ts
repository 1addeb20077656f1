/**
 * What kind of thing went wrong, for whoever has to tell it: `refused` – it cannot be done with what was given; `unsupported` – it is
 * published and cannot run yet; `invalid` – what was sent is no such thing; `missing` – it is not there; `not-yet` – it will be;
 * `stale` – it was changed meanwhile; `busy` – another has it; `stopped` – somebody stopped it; `too-large`, `too-many`, `full` – no
 * room for it; `forbidden`, `unknown` – who asks may not, or has not said who they are; `away` – who would answer cannot be reached;
 * `trouble` – the program cannot work on its data.
 */
export type ErrorCode =
  | "refused"
  | "unsupported"
  | "invalid"
  | "missing"
  | "not-yet"
  | "stale"
  | "busy"
  | "stopped"
  | "too-large"
  | "too-many"
  | "full"
  | "forbidden"
  | "unknown"
  | "away"
  | "trouble";

/** An error that the user can do something about: its message is one sentence for them – what happened, why, what to do. */
export class UserError extends Error {
  /**
   * @param code what kind of thing went wrong
   * @param data what a program needs to go on from there, as JSON
   */
  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly data: Readonly<Record<string, unknown>> = {},
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}
