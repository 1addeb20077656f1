import { and, asc, eq, gt } from "drizzle-orm";
import type { Recipe } from "../../core/document";
import { apply, type Patch, stacks } from "../../recipe/edits";
import { parseRecipe } from "../../recipe/schema";
import type { EditAnswer, EditRequest, HistoryEntry, StepRequest } from "../../wire/shot";
import { parseWithBlobs, withoutBlobs } from "./blobs";
import type { Db } from "./open";
import { blobs, revisions, shots } from "./schema";

const SNAPSHOT_EVERY = 50;

/** The base of a request is not the newest revision. */
export class Stale extends Error {
  constructor(
    readonly rev: number,
    readonly since: { rev: number; name: string; patches: Patch[] }[],
  ) {
    super("The shot was changed elsewhere in the meantime.");
  }
}
export class NotFound extends Error {}

/** The recipes of all shots with their histories. Edits of one shot follow each other. */
export class Documents {
  private readonly open = new Map<string, { rev: number; recipe: Recipe }>();
  private readonly turns = new Map<string, Promise<unknown>>();

  constructor(private readonly db: Db) {}

  /** The recipe as it stands. */
  async read(shotId: string): Promise<{ rev: number; recipe: Recipe }> {
    const kept = this.open.get(shotId);
    if (kept) return kept;
    const [row] = await this.db.select().from(shots).where(eq(shots.id, shotId));
    if (!row) throw new NotFound("This shot does not exist (any more).");
    const doc = { rev: row.rev, recipe: (await parseWithBlobs(this.db, row.recipe)) as Recipe };
    this.open.set(shotId, doc);
    return doc;
  }

  /** The shots are gone. */
  forget(shotIds: string[]): void {
    shotIds.forEach((id) => this.open.delete(id));
  }

  /** Names of what undo and redo would do. */
  async next(shotId: string): Promise<{ undo: string | null; redo: string | null }> {
    const s = stacks(await this.history(shotId));
    return { undo: s.undo.at(-1)?.name ?? null, redo: s.redo.at(-1)?.name ?? null };
  }

  async history(shotId: string) {
    return this.db
      .select({ rev: revisions.rev, name: revisions.name, kind: revisions.kind, of: revisions.of, at: revisions.createdAt })
      .from(revisions)
      .where(eq(revisions.shotId, shotId))
      .orderBy(asc(revisions.rev));
  }

  /** What can be undone, oldest first, and after it what can be done again. */
  async past(shotId: string): Promise<HistoryEntry[]> {
    const rows = await this.history(shotId);
    const at = new Map(rows.map((r) => [r.rev, r.at]));
    const { undo, redo } = stacks(rows);
    const entry = (undone: boolean) => (r: { rev: number; name: string }) => ({ rev: r.rev, name: r.name, at: at.get(r.rev)!, undone });
    return [...undo.map(entry(false)), ...redo.toReversed().map(entry(true))];
  }

  /** Stores an edit. Acknowledged means committed. @throws Stale when its base is not the newest revision; RecipeError when it would make the recipe invalid. */
  edit(shotId: string, e: EditRequest): Promise<EditAnswer> {
    return this.inTurn(shotId, () =>
      this.once(shotId, e.editId, e.base, async (doc) => {
        const recipe = apply(doc.recipe, e.patches as Patch[]);
        parseRecipe(recipe);
        return { recipe, name: e.name, kind: "edit" as const, of: null, patches: e.patches as Patch[], inverse: e.inverse as Patch[] };
      }),
    );
  }

  /** Undo and redo, several steps of them where that is asked: each is a new revision. */
  steps(shotId: string, s: StepRequest): Promise<EditAnswer> {
    return this.inTurn(shotId, async () => {
      let all = await this.step(shotId, s);
      for (let k = 1; k < s.times; k++) {
        const one = await this.step(shotId, { ...s, editId: `${s.editId}.${k}`, base: all.rev });
        all = { ...one, patches: [...all.patches, ...one.patches] };
      }
      return all;
    });
  }

  private step(shotId: string, s: StepRequest): Promise<EditAnswer> {
    return this.once(shotId, s.editId, s.base, async (doc) => {
      const list = stacks(await this.history(shotId))[s.step];
      const target = list.at(-1);
      if (!target) throw new NotFound(`There is nothing to ${s.step}.`);
      const [row] = await this.db
        .select()
        .from(revisions)
        .where(and(eq(revisions.shotId, shotId), eq(revisions.rev, target.rev)));
      const there = (await parseWithBlobs(this.db, row.patches)) as Patch[];
      const back = (await parseWithBlobs(this.db, row.inverse)) as Patch[];
      const [patches, inverse] = s.step === "undo" ? [back, there] : [there, back];
      return { recipe: apply(doc.recipe, patches), name: target.name, kind: s.step, of: target.rev, patches, inverse };
    });
  }

  private async once(
    shotId: string,
    editId: string,
    base: number,
    make: (doc: {
      rev: number;
      recipe: Recipe;
    }) => Promise<{ recipe: Recipe; name: string; kind: "edit" | "undo" | "redo"; of: number | null; patches: Patch[]; inverse: Patch[] }>,
  ): Promise<EditAnswer> {
    const doc = await this.read(shotId);
    const [again] = await this.db
      .select()
      .from(revisions)
      .where(and(eq(revisions.shotId, shotId), eq(revisions.editId, editId)));
    if (again) return { rev: again.rev, patches: (await parseWithBlobs(this.db, again.patches)) as Patch[], ...(await this.next(shotId)) };
    if (base !== doc.rev) {
      const rows = await this.db
        .select()
        .from(revisions)
        .where(and(eq(revisions.shotId, shotId), gt(revisions.rev, base)))
        .orderBy(asc(revisions.rev));
      throw new Stale(
        doc.rev,
        await Promise.all(rows.map(async (r) => ({ rev: r.rev, name: r.name, patches: (await parseWithBlobs(this.db, r.patches)) as Patch[] }))),
      );
    }
    const next = await make(doc);
    const rev = doc.rev + 1;
    const found = new Map<string, string>();
    const slim = (v: unknown) => JSON.stringify(withoutBlobs(v, found));
    const recipeJson = slim(next.recipe);
    const row = {
      shotId,
      rev,
      editId,
      name: next.name,
      kind: next.kind,
      of: next.of,
      patches: slim(next.patches),
      inverse: slim(next.inverse),
      snapshot: rev % SNAPSHOT_EVERY === 0 ? recipeJson : null,
      createdAt: Date.now(),
    };
    await this.db.batch([
      this.db.insert(revisions).values(row),
      this.db.update(shots).set({ rev, recipe: recipeJson }).where(eq(shots.id, shotId)),
      ...[...found].map(([hash, data]) => this.db.insert(blobs).values({ hash, data }).onConflictDoNothing()),
    ]);
    this.open.set(shotId, { rev, recipe: next.recipe });
    return { rev, patches: next.patches, ...(await this.next(shotId)) };
  }

  private inTurn<T>(shotId: string, work: () => Promise<T>): Promise<T> {
    const before = this.turns.get(shotId) ?? Promise.resolve();
    const mine = before.then(work, work);
    this.turns.set(
      shotId,
      mine.catch(() => undefined),
    );
    return mine;
  }
}
