import { access, readFile, rm } from "node:fs/promises";
import type { FirstSurvey, Survey } from "../../core/survey/survey";
import type { Event } from "../../wire/shot";
import type { DataPaths } from "../paths";
import { said } from "../media/media-error";
import type { Runner } from "../jobs/runner";
import { Stopped } from "../watch";
import { storedJson } from "../stored-json";

/** Surveys of takes: made once after a take was read, and kept beside its index; a lost one is made again. */
export class Surveys {
  private readonly kept = new Map<string, Survey>();
  private readonly under = new Map<string, { stop: AbortController; done: number; total: number }>();
  private readonly failed = new Map<string, string>();

  constructor(
    private readonly paths: DataPaths,
    private readonly runner: Runner,
    private readonly tell: (e: Event) => void,
  ) {}

  /** The survey, where it is there. */
  async get(takeId: string): Promise<Survey | null> {
    const hit = this.kept.get(takeId);
    if (hit) return hit;
    const text = await readFile(this.paths.survey(takeId), "utf8").catch(() => null);
    if (!text) return null;
    const s = storedJson<Survey>(text);
    if (s) this.kept.set(takeId, s);
    else await rm(this.paths.survey(takeId), { force: true }); // cut off: it is measured again
    return s;
  }

  /** What is known of a take while the rest is measured. */
  async first(takeId: string): Promise<FirstSurvey | null> {
    return storedJson<FirstSurvey>(await readFile(this.paths.firstSurvey(takeId), "utf8").catch(() => null));
  }

  /** How far one is that is under way; what went wrong with one that failed. */
  state(takeId: string): { done: number; total: number } | { error: string } | null {
    const u = this.under.get(takeId);
    if (u) return { done: u.done, total: u.total };
    const error = this.failed.get(takeId);
    return error ? { error } : null;
  }

  /** Measures a take unless it is measured already, in its turn. */
  async begin(takeId: string): Promise<void> {
    if (this.under.has(takeId)) return;
    const there = await access(this.paths.survey(takeId)).then(
      () => true,
      () => false,
    );
    if (there) return;
    const mine = { stop: new AbortController(), done: 0, total: 0 };
    this.under.set(takeId, mine);
    this.failed.delete(takeId);
    this.tell({ type: "survey", takeId, done: 0, total: 0 });
    try {
      await this.runner.run(
        "survey",
        { take: takeId },
        {
          progress: (done, total) => {
            Object.assign(mine, { done, total });
            this.tell({ type: "survey", takeId, done, total });
          },
          signal: mine.stop.signal,
        },
      );
    } catch (e) {
      if (!(e instanceof Stopped)) this.failed.set(takeId, said(e, "Measuring failed"));
    } finally {
      this.under.delete(takeId);
      this.tell({ type: "survey", takeId, done: 1, total: 1 });
    }
  }

  stop(takeId: string): void {
    this.under.get(takeId)?.stop.abort();
    this.kept.delete(takeId);
  }
}
