import type { Event } from "../../wire/shot";
import type { Watch } from "../watch";

/** Jobs that a page waits for: their progress is told to all, and the page can stop them. */
export class Tasks {
  private readonly under = new Map<string, AbortController>();

  constructor(private readonly tell: (e: Event) => void) {}

  /** Runs what the page calls by `id`. */
  async run<T>(id: string, work: (watch: Watch) => Promise<T>): Promise<T> {
    const stop = new AbortController();
    this.under.set(id, stop);
    try {
      return await work({ progress: (done, total) => this.tell({ type: "task", id, done, total }), signal: stop.signal });
    } finally {
      this.under.delete(id);
    }
  }

  stop(id: string): void {
    this.under.get(id)?.abort();
  }
}
