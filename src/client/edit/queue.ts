import type { Recipe } from "../../core/document/recipe";
import { apply, disjoint, inverseOn, type Patch } from "../../recipe/edits";
import type { EditAnswer } from "../../wire/shot";
import { ApiError, fetchShot, parseStale, sendEdit, sendStep } from "../api";
import { uuid } from "../uuid";

interface Waiting {
  editId: string;
  name: string;
  patches: Patch[];
  inverse: Patch[];
}

export interface QueueHooks {
  /** The document changed by other hands, or by undo; edits still waiting are on top of it. */
  replaced(recipe: Recipe): void;
  /** How many edits wait for their acknowledgement, and what can be undone and redone. */
  state(s: { waiting: number; undo: string | null; redo: string | null; offline: boolean }): void;
  /** Somebody else changed the same thing. Answers whether mine is to be laid over theirs. */
  conflict(mine: string, theirs: string): Promise<"mine" | "theirs">;
  problem(message: string): void;
}

/**
 * Sends edits one after another and keeps them until they are acknowledged. When the program does not answer,
 * the same edit (same id) is sent again; when the document was changed elsewhere, it is rebased or asked about.
 */
export class EditQueue {
  private waiting: Waiting[] = [];
  private busy = false;
  /** Names of what undo and redo would do. */
  steps: { undo: string | null; redo: string | null };
  private offline = false;

  constructor(
    private readonly shotId: string,
    private rev: number,
    private base: Recipe,
    steps: { undo: string | null; redo: string | null },
    private readonly hooks: QueueHooks,
  ) {
    this.steps = { undo: steps.undo, redo: steps.redo };
  }

  get revision() {
    return this.rev;
  }
  /** Resolves when everything is stored. */
  async settled(): Promise<void> {
    while (!this.idle) await new Promise((r) => setTimeout(r, 30));
  }

  get idle() {
    return this.waiting.length === 0 && !this.busy;
  }

  add(name: string, patches: Patch[], inverse: Patch[]): void {
    this.waiting.push({ editId: uuid(), name, patches, inverse });
    this.tell();
    void this.run();
  }

  /** Undo or redo, once everything before is stored. */
  async step(step: "undo" | "redo", times = 1): Promise<void> {
    while (!this.idle) await new Promise((r) => setTimeout(r, 15));
    if (!this.steps[step]) return;
    this.busy = true;
    const editId = uuid();
    try {
      const a = await this.persistently(() => sendStep(this.shotId, { editId, base: this.rev, step, times }));
      this.accept(a);
      this.base = apply(this.base, a.patches as Patch[]);
      this.hooks.replaced(this.base);
    } catch (e) {
      await this.reload();
      this.hooks.problem(e instanceof Error ? e.message : String(e));
    } finally {
      this.busy = false;
      this.tell();
      void this.run();
    }
  }

  /** Another tab stored something: follow it, keeping what waits here. */
  async follow(rev: number): Promise<void> {
    if (rev <= this.rev || !this.idle) return;
    this.busy = true;
    await this.reload().catch(() => undefined);
    this.busy = false;
    void this.run();
  }

  private async reload(): Promise<void> {
    const doc = await fetchShot(this.shotId);
    this.base = doc.recipe;
    this.rev = doc.rev;
    this.steps = { undo: doc.undo, redo: doc.redo };
    this.hooks.replaced(this.withWaiting());
    this.tell();
  }

  /** What waits, on top of the base as it is now: there it is taken back by something else than where it was made. */
  private withWaiting(): Recipe {
    return this.waiting.reduce((r, w) => {
      w.inverse = inverseOn(r, w.patches);
      return apply(r, w.patches);
    }, this.base);
  }

  private async run(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    while (this.waiting.length) {
      const w = this.waiting[0];
      try {
        const a = await this.persistently(() =>
          sendEdit(this.shotId, { editId: w.editId, base: this.rev, name: w.name, patches: w.patches, inverse: w.inverse }),
        );
        this.waiting.shift();
        this.base = apply(this.base, w.patches);
        this.accept(a);
      } catch (e) {
        const stale = e instanceof ApiError ? parseStale(e) : null;
        if (stale)
          await this.rebase(
            w,
            stale.since.map((s) => ({ ...s, patches: s.patches as Patch[] })),
            stale.rev,
          );
        else {
          // refused for good: take it back, say why
          this.waiting = [];
          this.hooks.problem(e instanceof Error ? e.message : String(e));
          this.hooks.replaced(this.base);
        }
      }
      this.tell();
    }
    this.busy = false;
    this.tell();
  }

  private async rebase(w: Waiting, since: { name: string; patches: Patch[] }[], rev: number): Promise<void> {
    const theirs = since.flatMap((s) => s.patches);
    let keep = true;
    if (!this.waiting.every((x) => disjoint(x.patches, theirs))) keep = (await this.hooks.conflict(w.name, since.at(-1)?.name ?? "")) === "mine";
    for (const s of since) this.base = apply(this.base, s.patches);
    this.rev = rev;
    if (!keep) this.waiting = [];
    try {
      this.hooks.replaced(this.withWaiting());
    } catch {
      this.waiting = [];
      this.hooks.replaced(this.base);
      this.hooks.problem(`“${w.name}” does not fit any more: what it changed is gone. Do it once more.`);
    }
  }

  private async persistently<T>(send: () => Promise<T>): Promise<T> {
    for (let wait = 150; ; wait = Math.min(2000, wait * 1.6)) {
      try {
        const r = await send();
        if (this.offline) {
          this.offline = false;
          this.tell();
        }
        return r;
      } catch (e) {
        if (!(e instanceof ApiError) || (e.status !== 0 && e.status < 502)) throw e;
        this.offline = true;
        this.tell();
        await new Promise((r) => setTimeout(r, wait));
      }
    }
  }

  private accept(a: EditAnswer): void {
    this.rev = a.rev;
    this.steps = { undo: a.undo, redo: a.redo };
  }

  private tell(): void {
    this.hooks.state({ waiting: this.waiting.length, ...this.steps, offline: this.offline });
  }
}
