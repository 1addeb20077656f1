import { MediaError } from "../media/media-error";

/** Who watches an analysis: told how far it is, and able to stop it. */
export interface Watch {
  progress?: (done: number, total: number) => void;
  signal?: AbortSignal;
}

export class AnalysisStopped extends MediaError {
  constructor() {
    super("It was stopped.");
  }
}

/** Tells how far an analysis is; @throws AnalysisStopped when it has been stopped. */
export function step({ progress, signal }: Watch, done: number, total: number): void {
  if (signal?.aborted) throw new AnalysisStopped();
  progress?.(done, total);
}
