import { asc, eq, sql } from "drizzle-orm";
import { randomUUID } from "node:crypto";
import type { Recipe } from "../../core/document/recipe";
import type { Production, ShotSummary } from "../../wire/shot";
import type { Take, TakeInfo } from "../../wire/take";
import { NotFound } from "../db/documents";
import type { Db } from "../db/open";
import { jobs, productions, shots, takes } from "../db/schema";
import { type Summary, summaryOf } from "../db/summary";
import { storedJson } from "../stored-json";

export type TakeRow = typeof takes.$inferSelect;

/** Numbered stills of a take. */
export interface StillsOf {
  paths: string[];
  rate: [number, number];
  /** Put in the other order than their numbers. */
  reversed?: boolean;
}

/** Productions, takes and shots. */
export class Library {
  /** Quick frames made so far, per take; counted while they are being made. */
  readonly quick = new Map<string, number>();
  /** What is wrong with originals, as far as it was noticed. */
  readonly trouble = new Map<string, string>();

  constructor(
    private readonly db: Db,
    /** What is wrong with a shot that could not be opened. */
    private readonly broken: (shotId: string) => string | undefined = () => undefined,
  ) {}

  /** Whether there is such a take. */
  async hasTake(id: string): Promise<boolean> {
    return (await this.db.select({ id: takes.id }).from(takes).where(eq(takes.id, id))).length > 0;
  }

  /** Of all shots. */
  async shotIds(): Promise<string[]> {
    return (await this.db.select({ id: shots.id }).from(shots)).map((s) => s.id);
  }

  toTake(r: TakeRow): Take {
    const info = storedJson<TakeInfo>(r.info);
    return {
      id: r.id,
      productionId: r.productionId,
      name: r.name,
      state: r.state,
      error: r.error,
      info,
      trouble: this.trouble.get(r.id) ?? null,
      quick: r.state === "ready" ? (info?.frames ?? 0) : (this.quick.get(r.id) ?? 0),
      note: r.note,
      stills: r.stills ? { reversed: storedJson<StillsOf>(r.stills)?.reversed === true } : null,
    };
  }

  async productions(): Promise<Production[]> {
    const [ps, ts, ss, js] = await Promise.all([
      this.db.select().from(productions).orderBy(asc(productions.createdAt)),
      this.db.select().from(takes).orderBy(asc(takes.createdAt)),
      this.db.select().from(shots).orderBy(asc(shots.createdAt)),
      this.db
        .select({
          shotId: jobs.shotId,
          n: sql<number>`count(*)`,
          rev: sql<number | null>`max(case when json_valid(${jobs.spec}) then json_extract(${jobs.spec}, '$.rev') end)`,
        })
        .from(jobs)
        .where(eq(jobs.state, "done"))
        .groupBy(jobs.shotId),
    ]);
    const rendered = new Map(js.map((j) => [j.shotId, j]));
    return ps.map((p) => {
      const mine = ts.filter((t) => t.productionId === p.id);
      return {
        id: p.id,
        name: p.name,
        takes: mine.map((t) => this.toTake(t)),
        shots: ss
          .filter((s) => mine.some((t) => t.id === s.takeId))
          .map((s): ShotSummary => {
            const own = {
              id: s.id,
              name: s.name,
              takeId: s.takeId,
              rev: s.rev,
              renders: rendered.get(s.id)?.n ?? 0,
              renderedRev: rendered.get(s.id)?.rev ?? null,
            };
            const broken = this.broken(s.id);
            const found = broken ? null : summaryOf(storedJson<Recipe>(s.recipe));
            const counts = found && (storedJson<Summary>(s.summary) ?? found);
            if (counts) return { ...own, ...counts, broken: null };
            // said in full once somebody opens it and its history was tried
            return {
              ...own,
              in: 0,
              out: 0,
              intruders: 0,
              layers: 0,
              broken: broken ?? `What is stored of “${s.name}” is damaged: open it, and its history is tried.`,
            };
          }),
      };
    });
  }

  async addProduction(name: string): Promise<string> {
    const id = randomUUID();
    await this.db.insert(productions).values({ id, name, createdAt: Date.now() });
    return id;
  }

  async addTake(productionId: string, name: string, path: string, own: boolean, stills: StillsOf | null = null, note = ""): Promise<Take> {
    const [p] = await this.db.select().from(productions).where(eq(productions.id, productionId));
    if (!p) throw new NotFound("This production does not exist (any more).");
    const row: TakeRow = {
      id: randomUUID(),
      productionId,
      name,
      path,
      state: "reading",
      error: null,
      info: null,
      own,
      print: null,
      note,
      stills: stills && JSON.stringify(stills),
      createdAt: Date.now(),
    };
    await this.db.insert(takes).values(row);
    return this.toTake(row);
  }

  async takeRow(id: string): Promise<TakeRow> {
    const [row] = await this.db.select().from(takes).where(eq(takes.id, id));
    if (!row) throw new NotFound("This take does not exist (any more).");
    return row;
  }

  async takesInState(state: TakeRow["state"]): Promise<TakeRow[]> {
    return this.db.select().from(takes).where(eq(takes.state, state));
  }

  async setTake(id: string, change: Partial<Pick<TakeRow, "state" | "error" | "info" | "print" | "path" | "stills" | "note">>): Promise<Take> {
    await this.db.update(takes).set(change).where(eq(takes.id, id));
    return this.toTake(await this.takeRow(id));
  }

  /** A take that could not be read leaves nothing behind, unless somebody has begun to work on it: then it stays. Whether it went. */
  async dropUnused(id: string): Promise<boolean> {
    const mine = await this.db.select().from(shots).where(eq(shots.takeId, id));
    if (mine.some((s) => s.rev > 0)) return false;
    await this.db.delete(shots).where(eq(shots.takeId, id));
    await this.db.delete(takes).where(eq(takes.id, id));
    return true;
  }

  async shotsOf(takeId: string) {
    return this.db.select().from(shots).where(eq(shots.takeId, takeId));
  }

  /** The take is ready: it gets a shot over all of its frames, if it has none. */
  async addShot(takeId: string, name: string, info: TakeInfo): Promise<string> {
    const [old] = await this.db.select().from(shots).where(eq(shots.takeId, takeId));
    if (old) return old.id;
    const id = randomUUID();
    const recipe: Recipe = {
      format: "umber-moth/recipe",
      version: 1,
      name,
      takes: { a: { asset: takeId } },
      shot: { take: "a", in: 0, out: info.frames - 1 },
      plates: {},
      intruders: [],
    };
    await this.db.insert(shots).values({ id, takeId, name, rev: 0, recipe: JSON.stringify(recipe), createdAt: Date.now() });
    return id;
  }

  async shotRow(id: string) {
    const [row] = await this.db.select().from(shots).where(eq(shots.id, id));
    if (!row) throw new NotFound("This shot does not exist (any more).");
    return row;
  }

  async productionOf(takeId: string): Promise<{ id: string; name: string }> {
    const t = await this.takeRow(takeId);
    const [p] = await this.db.select().from(productions).where(eq(productions.id, t.productionId));
    return { id: p.id, name: p.name };
  }
}
