import type { Event } from "../../wire/shot";

/** Work that a page waits for: its progress is told to all, and the page can stop it. */
export class Works {
  private readonly under = new Map<string, AbortController>();

  constructor(private readonly tell: (e: Event) => void) {}

  async run<T>(id: string, work: (progress: (done: number, total: number) => void, signal: AbortSignal) => Promise<T>): Promise<T> {
    const stop = new AbortController();
    this.under.set(id, stop);
    try {
      return await work((done, total) => this.tell({ type: "work", id, done, total }), stop.signal);
    } finally {
      this.under.delete(id);
    }
  }

  stop(id: string): void {
    this.under.get(id)?.abort();
  }
}
