import { fork } from "node:child_process";
import { constants, setPriority } from "node:os";
import type { AnalysisSpec } from "../analysis/tasks";
import { MediaError } from "../media/media-error";
import type { AnalysisMessage } from "./analysis-job";

export class Cancelled extends MediaError {}

/** Runs analyses, each in a process of its own. Long ones take turns; what somebody waits for begins at once. */
export class Analyses {
  private turn: Promise<unknown> = Promise.resolve();

  constructor(private readonly workerPath: string) {}

  /** One after another: for what nobody waits for. */
  later<T>(spec: AnalysisSpec, progress?: (done: number, total: number) => void, signal?: AbortSignal): Promise<T> {
    const mine = this.turn.then(() => this.now<T>(spec, progress, signal, true));
    this.turn = mine.catch(() => undefined);
    return mine;
  }

  /** @throws MediaError with what went wrong; Cancelled when it was stopped */
  now<T>(spec: AnalysisSpec, progress?: (done: number, total: number) => void, signal?: AbortSignal, patient = false): Promise<T> {
    if (signal?.aborted) return Promise.reject(new Cancelled("It was stopped."));
    return new Promise<T>((resolve, reject) => {
      const child = fork(this.workerPath, { stdio: ["ignore", "ignore", "inherit", "ipc"] });
      if (patient && child.pid) {
        try {
          setPriority(child.pid, constants.priority.PRIORITY_LOW);
        } catch {
          // then it runs beside the rest as an equal
        }
      }
      child.send(spec);
      const stop = () => child.connected && child.send("stop");
      signal?.addEventListener("abort", stop);
      let said = false;
      child.on("message", (m: AnalysisMessage) => {
        if ("done" in m) return progress?.(m.done, m.total);
        said = true;
        if ("result" in m) resolve(m.result as T);
        else reject(m.stopped ? new Cancelled(m.error) : new MediaError(m.error));
      });
      child.on("error", (e) => reject(new MediaError(`Measuring could not be started: ${e.message}.`)));
      child.on("exit", (code, sig) => {
        signal?.removeEventListener("abort", stop);
        if (!said) reject(new MediaError(`Measuring ended early (${sig ?? `status ${code}`}): try again.`));
      });
    });
  }
}
