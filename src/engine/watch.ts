import { UserError } from "../core/user-error";

/** Who watches something that takes a while: told how far it is, and able to stop it. */
export interface Watch {
  /** @param done of `total` frames, steps or whatever is counted */
  progress?: (done: number, total: number) => void;
  signal?: AbortSignal;
}

/** Somebody has stopped it. */
export class Stopped extends UserError {
  constructor(message = "It was stopped.") {
    super("stopped", message);
  }
}

/** Tells how far something is; @throws Stopped when it has been stopped. */
export function step({ progress, signal }: Watch, done: number, total: number): void {
  if (signal?.aborted) throw new Stopped();
  progress?.(done, total);
}
