import { type ChildProcess, fork } from "node:child_process";
import { constants, setPriority } from "node:os";
import PQueue from "p-queue";
import { canonical } from "../../core/plate/keys";
import { MediaError } from "../media/media-error";
import { Stopped, type Watch } from "../watch";
import type { Kind, Lane } from "./kind";
import { KINDS, type KindName, type ResultOf, type SpecOf } from "./kinds";
import { fromJobSchema, type ToJob } from "./protocol";

/** How long a job that was told to stop may take to do so before its process is ended, in ms: a frame of the largest pictures. */
const PATIENCE_MS = 4000;
/** How many jobs of a lane run side by side. */
const WIDTH: Record<Lane, number> = { now: Infinity, later: 1, write: 1 };

/** Who waits for a job; told when its turn has come. */
interface Waiting extends Watch {
  starts?: () => void;
}

interface Under {
  promise: Promise<unknown>;
  watchers: Set<Waiting>;
  stop: AbortController;
}

/** One more waits for a job. */
function join({ watchers, stop }: Under, watch: Waiting): void {
  watchers.add(watch);
  watch.signal?.addEventListener("abort", () => {
    if ([...watchers].every((w) => w.signal?.aborted)) stop.abort();
  });
}

/** Runs jobs, each in a process of its own, in the lanes of their kinds. What is under way already is not begun a second time. */
export class Runner {
  private readonly lanes = Object.fromEntries((Object.keys(WIDTH) as Lane[]).map((l) => [l, new PQueue({ concurrency: WIDTH[l] })])) as Record<
    Lane,
    PQueue
  >;
  private readonly under = new Map<string, Under>();

  /**
   * @param script the file that a job's process runs
   * @param data the data folder
   * @param cacheLimit largest size of the store of exact frames, in bytes
   */
  constructor(
    private readonly script: string,
    private readonly data: string,
    private readonly cacheLimit: () => number,
  ) {}

  /**
   * What comes of a job. The same job asked for twice runs once, and ends early only when all who wait for it have stopped it.
   * @param priority of those that wait in a lane, the highest begins first
   * @throws Stopped when it was stopped; UserError with what went wrong
   */
  async run<K extends KindName>(name: K, spec: SpecOf<K>, watch: Waiting = {}, priority = 0): Promise<ResultOf<K>> {
    if (watch.signal?.aborted) throw new Stopped();
    const key = `${name} ${canonical(spec)}`;
    let job = this.under.get(key);
    if (!job) {
      job = this.begin(name, spec, priority, watch);
      this.under.set(key, job);
      void job.promise.catch(() => undefined).finally(() => this.under.delete(key));
    }
    join(job, watch);
    return (await job.promise) as ResultOf<K>;
  }

  private begin<K extends KindName>(name: K, spec: SpecOf<K>, priority: number, first: Waiting): Under {
    const kind = KINDS[name] as Kind<unknown, unknown>;
    const stop = new AbortController();
    // a lane that is free begins at once: who waits has to be known before
    const watchers = new Set([first]);
    const progress = (done: number, total: number) => watchers.forEach((w) => !w.signal?.aborted && w.progress?.(done, total));
    const promise = new Promise<unknown>((resolve, reject) => {
      let waits = true;
      // what waits for its turn is stopped at once, and left out when its turn comes
      stop.signal.addEventListener("abort", () => waits && reject(new Stopped()));
      const turn = async () => {
        if (stop.signal.aborted) return;
        waits = false;
        watchers.forEach((w) => w.starts?.());
        await this.inProcess(name, kind, spec, { progress, signal: stop.signal }).then(resolve, reject);
      };
      void this.lanes[kind.lane].add(turn, { priority });
    });
    return { promise, watchers, stop };
  }

  private inProcess(name: KindName, kind: Kind<unknown, unknown>, spec: unknown, { progress, signal }: Required<Watch>): Promise<unknown> {
    return new Promise((resolve, reject) => {
      const child = fork(this.script, { stdio: ["ignore", "ignore", "inherit", "ipc"] });
      if (kind.lane === "later") behind(child);
      const say = (m: ToJob) => child.connected && child.send(m);
      say({ say: "begin", kind: name, spec, data: this.data, cacheLimit: this.cacheLimit() });
      const stop = () => {
        say({ say: "stop" });
        setTimeout(() => child.kill("SIGKILL"), PATIENCE_MS).unref();
      };
      signal.addEventListener("abort", stop);
      let late = false;
      // a loop that computes hears nothing: its process is ended
      const limit =
        kind.limit &&
        setTimeout(() => {
          late = true;
          child.kill("SIGKILL");
        }, kind.limit * 1000);
      let end: (() => void) | null = null;
      child.on("message", (m) => {
        const heard = fromJobSchema.parse(m);
        if (heard.say === "progress") return progress(heard.done, heard.total);
        end = () => (heard.say === "result" ? resolve(heard.value) : reject(heard.stopped ? new Stopped(heard.error) : new MediaError(heard.error)));
      });
      child.on("error", (e) => reject(new MediaError(`${kind.failed}: its process could not be started (${e.message}).`)));
      // only once its process has gone is what it wrote left alone
      child.on("close", (code, sig) => {
        signal.removeEventListener("abort", stop);
        clearTimeout(limit);
        if (end) end();
        else if (late)
          reject(
            new MediaError(
              `${kind.failed}: it was given up after ${kind.limit} seconds. Something in it is too large: take it away, or make it smaller.`,
            ),
          );
        else reject(signal.aborted ? new Stopped() : new MediaError(`${kind.failed}: it ended early (${sig ?? `status ${code}`}). Try it again.`));
      });
    });
  }
}

/** Lets a process run behind everything else. */
function behind(child: ChildProcess): void {
  try {
    if (child.pid) setPriority(child.pid, constants.priority.PRIORITY_LOW);
  } catch {
    // then it runs beside the rest as an equal
  }
}
