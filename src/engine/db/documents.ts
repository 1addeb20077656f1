import { isDeepStrictEqual } from "node:util";
import { and, asc, eq, gt } from "drizzle-orm";
import type { Recipe } from "../../core/document/recipe";
import { UserError } from "../../core/user-error";
import { applyChecked, type Patch, type Revision, type Stacks, stacks } from "../../recipe/edits";
import { assetsOf, measuredOf } from "../../recipe/assets";
import { parseRecipe, RecipeError } from "../../recipe/schema";
import type { EditAnswer, EditRequest, HistoryEntry, StepRequest } from "../../wire/shot";
import { parseWithBlobs, type Slimmed, withoutBlobs } from "./blobs";
import type { Db } from "./open";
import { blobs, revisions, shots } from "./schema";
import { summaryOf } from "./summary";

/** A recipe is stored whole every so many revisions; between them the history leads on. */
const SNAPSHOT_EVERY = 50;
/** Of what was stored whole so many revisions ago and before, only every so manyth is kept. */
const SNAPSHOTS_OLD = { after: 400, every: 1000 };

/** The base of a request is not the newest revision. */
export class Stale extends UserError {
  constructor(rev: number, since: { rev: number; name: string; patches: Patch[] }[]) {
    super("stale", "The shot was changed elsewhere in the meantime.", { rev, since });
  }
}
export class NotFound extends UserError {
  constructor(message: string) {
    super("missing", message);
  }
}
/** What is asked for will be there later. */
export class NotYet extends UserError {
  constructor(message: string) {
    super("not-yet", message);
  }
}
/** What is stored of a shot is damaged, and its history does not lead there either. */
export class Broken extends UserError {
  constructor(message: string) {
    super("refused", message);
  }
}

interface Stored {
  rev: number;
  /** Frozen through and through: an edit leaves what it does not touch the very same objects. */
  recipe: Recipe;
}
/** A shot that is open, with what its next edit needs. */
interface Open extends Stored {
  stacks: Stacks;
}
/** What becomes of a shot: the line of its history, and where it leads. */
interface Next {
  recipe: Recipe;
  name: string;
  kind: Revision["kind"];
  of: number | null;
  patches: Patch[];
  inverse: Patch[];
}
type ShotRow = typeof shots.$inferSelect;

/** As it is stored: without fields that hold nothing. */
const plain = <T>(r: T): T => JSON.parse(JSON.stringify(r)) as T;

/** What patches make of a recipe, checked and with its defaults. Only what they touch is read. @throws RecipeError in one sentence */
function patched(recipe: Recipe, patches: Patch[]): Recipe {
  // names that every object has by itself are no parts of a recipe, and patches on them do not come back as they went
  if (patches.some((p) => p.path.some((k) => typeof k === "string" && k in Object.prototype)))
    throw new RecipeError("The change names a part that no recipe can have: its name is reserved.");
  let next: Recipe;
  try {
    next = applyChecked(recipe, patches);
  } catch {
    throw new RecipeError("The change does not fit the shot as it stands: what it changes is not there (any more).");
  }
  return parseRecipe(next);
}

/** The recipes of all shots with their histories. Edits of one shot follow each other. */
export class Documents {
  private readonly open = new Map<string, Open>();
  private slimmed: Slimmed = new WeakMap();
  private readonly turns = new Map<string, Promise<unknown>>();
  /** What is wrong with shots that could not be opened. */
  readonly broken = new Map<string, string>();
  /** Told when a damaged shot was put together again from its history. */
  rebuilt: (name: string) => void = () => undefined;
  /** Refuses a recipe that names takes, pictures or measured data nobody knows; told those it did not name before. */
  known: (assets: string[], measured: string[]) => Promise<void> = () => Promise.resolve();

  constructor(private readonly db: Db) {}

  /** The recipe as it stands. */
  async read(shotId: string): Promise<Stored> {
    return this.opened(shotId);
  }

  private async opened(shotId: string): Promise<Open> {
    const kept = this.open.get(shotId);
    if (kept) return kept;
    const [row] = await this.db.select().from(shots).where(eq(shots.id, shotId));
    if (!row) throw new NotFound("This shot does not exist (any more).");
    const doc = await this.stored(row).catch(() => this.rebuild(row));
    this.broken.delete(shotId);
    const open = { ...doc, stacks: stacks(await this.history(shotId)) };
    this.open.set(shotId, open);
    return open;
  }

  private async stored(row: ShotRow): Promise<Stored> {
    const after = await this.db
      .select()
      .from(revisions)
      .where(and(eq(revisions.shotId, row.id), gt(revisions.rev, row.recipeRev)))
      .orderBy(asc(revisions.rev));
    return this.led(row, row.recipeRev, row.recipe, after);
  }

  /** The recipe stored at a revision, and where the ones after it lead. @throws when one is missing or damaged */
  private async led(row: ShotRow, from: number, stored: string, after: (typeof revisions.$inferSelect)[]): Promise<Stored> {
    if (after.some((r, i) => r.rev !== from + 1 + i) || from + after.length !== row.rev) throw new Error("A revision is missing.");
    let recipe = parseRecipe(plain(await parseWithBlobs(this.db, stored)));
    for (const r of after) recipe = patched(recipe, (await parseWithBlobs(this.db, r.patches)) as Patch[]);
    return { rev: row.rev, recipe };
  }

  /** Puts a damaged shot together again: from its newest sound snapshot, and what was done after it. @throws Broken when that does not lead to where it stood */
  private async rebuild(row: ShotRow): Promise<Stored> {
    const history = await this.db.select().from(revisions).where(eq(revisions.shotId, row.id)).orderBy(asc(revisions.rev));
    for (const from of history.filter((r) => r.snapshot !== null).toReversed())
      try {
        const { recipe } = await this.led(
          row,
          from.rev,
          from.snapshot!,
          history.filter((r) => r.rev > from.rev),
        );
        const found = new Map<string, string>();
        const json = JSON.stringify(withoutBlobs(recipe, found));
        await this.db.batch([
          this.db.update(shots).set({ recipe: json, recipeRev: row.rev }).where(eq(shots.id, row.id)),
          ...[...found].map(([hash, data]) => this.db.insert(blobs).values({ hash, data }).onConflictDoNothing()),
        ]);
        this.rebuilt(row.name);
        return { rev: row.rev, recipe };
      } catch {
        // an older snapshot may be sound
      }
    const words = `“${row.name}” cannot be opened: what is stored of it is damaged, and its history with it. It was left as it is; the other shots are not touched. A kept copy may still hold it.`;
    this.broken.set(row.id, words);
    throw new Broken(words);
  }

  /** The shots are gone. */
  forget(shotIds: string[]): void {
    shotIds.forEach((id) => this.open.delete(id));
  }

  /** Names of what undo and redo would do. */
  async next(shotId: string): Promise<{ undo: string | null; redo: string | null }> {
    const { stacks: s } = await this.opened(shotId);
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
        const [patches, inverse] = plain([e.patches, e.inverse]) as Patch[][];
        const recipe = patched(doc.recipe, patches);
        const back = patched(recipe, inverse);
        if (!isDeepStrictEqual(back, doc.recipe))
          throw new RecipeError("The change was not stored: what would take it back does not lead to the shot as it was.");
        const fresh = (of: (r: Recipe) => string[]) => of(recipe).filter((a) => !of(doc.recipe).includes(a));
        await this.known(fresh(assetsOf), fresh(measuredOf));
        return { recipe, name: e.name, kind: "edit" as const, of: null, patches, inverse };
      }),
    );
  }

  /** Stores something that was found out and is nobody's gesture: it is in the history, and undo passes over it. */
  fact(shotId: string, e: Pick<EditRequest, "editId" | "base" | "name" | "patches">): Promise<EditAnswer> {
    return this.inTurn(shotId, () =>
      this.once(shotId, e.editId, e.base, (doc) => {
        const patches = plain(e.patches) as Patch[];
        return Promise.resolve({ recipe: patched(doc.recipe, patches), name: e.name, kind: "fact" as const, of: null, patches, inverse: [] });
      }),
    );
  }

  /**
   * Undo and redo, several steps of them where that is asked: each is a new revision. Beyond the end of the history there is nothing to
   * do: the answer is that of the steps that were there. @throws NotFound where there was none at all
   */
  steps(shotId: string, s: StepRequest): Promise<EditAnswer> {
    return this.inTurn(shotId, async () => {
      let all = await this.step(shotId, s);
      for (let k = 1; k < s.times; k++) {
        const one = await this.step(shotId, { ...s, editId: `${s.editId}.${k}`, base: all.rev }).catch((e: unknown) => {
          if (e instanceof NotFound) return null;
          throw e;
        });
        if (!one) break;
        all = { ...one, patches: [...all.patches, ...one.patches] };
      }
      return all;
    });
  }

  private step(shotId: string, s: StepRequest): Promise<EditAnswer> {
    return this.once(shotId, s.editId, s.base, async (doc) => {
      const target = doc.stacks[s.step].at(-1);
      if (!target) throw new NotFound(`There is nothing to ${s.step}.`);
      const [row] = await this.db
        .select()
        .from(revisions)
        .where(and(eq(revisions.shotId, shotId), eq(revisions.rev, target.rev)));
      const there = (await parseWithBlobs(this.db, row.patches)) as Patch[];
      const back = (await parseWithBlobs(this.db, row.inverse)) as Patch[];
      const [patches, inverse] = s.step === "undo" ? [back, there] : [there, back];
      return { recipe: patched(doc.recipe, patches), name: target.name, kind: s.step, of: target.rev, patches, inverse };
    });
  }

  private async once(shotId: string, editId: string, base: number, make: (doc: Open) => Promise<Next>): Promise<EditAnswer> {
    const doc = await this.opened(shotId);
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
    const slim = (v: unknown) => JSON.stringify(withoutBlobs(v, found, this.slimmed));
    const whole = rev === 1 || rev % SNAPSHOT_EVERY === 0 ? slim(next.recipe) : null;
    const row = {
      shotId,
      rev,
      editId,
      name: next.name,
      kind: next.kind,
      of: next.of,
      patches: slim(next.patches),
      inverse: slim(next.inverse),
      snapshot: whole,
      createdAt: Date.now(),
    };
    const old = rev - SNAPSHOTS_OLD.after;
    const stored = this.db.batch([
      this.db.insert(revisions).values(row),
      this.db
        .update(shots)
        .set({ rev, summary: JSON.stringify(summaryOf(next.recipe)), ...(whole && { recipe: whole, recipeRev: rev }) })
        .where(eq(shots.id, shotId)),
      ...(whole && old > 0 && old % SNAPSHOTS_OLD.every
        ? [
            this.db
              .update(revisions)
              .set({ snapshot: null })
              .where(and(eq(revisions.shotId, shotId), eq(revisions.rev, old))),
          ]
        : []),
      ...[...found].map(([hash, data]) => this.db.insert(blobs).values({ hash, data }).onConflictDoNothing()),
    ]);
    await stored.catch((e: unknown) => {
      this.slimmed = new WeakMap();
      throw e;
    });
    doc.stacks.add({ rev, name: next.name, kind: next.kind, of: next.of });
    this.open.set(shotId, { rev, recipe: next.recipe, stacks: doc.stacks });
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
