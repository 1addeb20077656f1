import { and, eq, gt, inArray, or, sql } from "drizzle-orm";
import { mkdir, readdir, rm } from "node:fs/promises";
import { join } from "node:path";
import type { Dependents } from "../../wire/media";
import { movedIfThere } from "../media/index-file";
import { MediaError } from "../media/media-error";
import type { DataPaths } from "../paths";
import { NotFound } from "../db/documents";
import type { Db } from "../db/open";
import { jobs, productions, revisions, shots, takes } from "../db/schema";

interface Gone {
  what: "take" | "production";
  id: string;
  takeIds: string[];
  shotIds: string[];
  jobIds: string[];
}

/** Takes things away for good, after saying what hangs on them. Originals used in place are never touched. */
export class Removal {
  constructor(
    private readonly db: Db,
    private readonly paths: DataPaths,
  ) {}

  /** What goes with a take, or with a production. */
  async dependents(what: "take" | "production", id: string): Promise<Dependents> {
    const { name, mine } = await this.chosen(what, id);
    const ids = mine.map((t) => t.id);
    const all = await this.db.select().from(shots);
    const own = all.filter((s) => ids.includes(s.takeId));
    const since = await this.db
      .select({ shotId: revisions.shotId, patches: revisions.patches })
      .from(revisions)
      .innerJoin(shots, eq(shots.id, revisions.shotId))
      .where(and(gt(revisions.rev, shots.recipeRev), or(...ids.map((t) => sql`instr(${revisions.patches}, ${t}) > 0`))));
    // by the words that are stored: also in a recipe that is damaged
    const uses = (s: (typeof all)[number]) => ids.some((t) => s.recipe.includes(`"${t}"`)) || since.some((r) => r.shotId === s.id);
    const done = own.length
      ? await this.db
          .select({ id: jobs.id })
          .from(jobs)
          .where(
            and(
              inArray(
                jobs.shotId,
                own.map((s) => s.id),
              ),
              eq(jobs.state, "done"),
            ),
          )
      : [];
    return {
      name,
      takes: mine.map((t) => t.name),
      shots: own.map((s) => s.name),
      edits: own.reduce((n, s) => n + s.rev, 0),
      renders: done.length,
      usedBy: all.filter((s) => !own.includes(s) && uses(s)).map((s) => s.name),
      copies: mine.filter((t) => t.own).length,
    };
  }

  /** What would go. @throws MediaError while shots of other takes need it */
  async plan(what: "take" | "production", id: string): Promise<Gone> {
    const { name, usedBy } = await this.dependents(what, id);
    if (usedBy.length)
      throw new MediaError(
        `“${name}” cannot go while ${usedBy.map((s) => `“${s}”`).join(", ")} takes pictures from it: take its patches out there first.`,
      );
    const { mine } = await this.chosen(what, id);
    const takeIds = mine.map((t) => t.id);
    const shotIds = takeIds.length ? (await this.db.select({ id: shots.id }).from(shots).where(inArray(shots.takeId, takeIds))).map((s) => s.id) : [];
    const jobIds = shotIds.length ? (await this.db.select({ id: jobs.id }).from(jobs).where(inArray(jobs.shotId, shotIds))).map((j) => j.id) : [];
    return { what, id, takeIds, shotIds, jobIds };
  }

  /** Takes it away, when nothing works on it any more: its folders first go aside, so that a cut-off removal is either whole or undone at the next start. */
  async remove({ what, id, takeIds, shotIds, jobIds }: Gone): Promise<void> {
    const folders = [
      ...takeIds.map((t) => ({ from: this.paths.take(t), kind: "take", id: t })),
      ...jobIds.map((j) => ({ from: this.paths.render(j), kind: "render", id: j })),
    ];
    await mkdir(this.paths.removed, { recursive: true });
    for (const f of folders) await movedIfThere(f.from, join(this.paths.removed, `${f.kind}-${f.id}`));
    try {
      await this.forget(what, id, takeIds, shotIds);
    } catch (e) {
      for (const f of folders) await movedIfThere(join(this.paths.removed, `${f.kind}-${f.id}`), f.from);
      throw e;
    }
    await this.finish();
  }

  /** What a cut-off removal left: what the database still knows goes back, the rest goes for good. */
  async finish(): Promise<void> {
    for (const f of await readdir(this.paths.removed).catch(() => [])) {
      const [, kind, id] = /^(take|render)-([\w-]+)$/.exec(f) ?? [];
      if (!kind) continue;
      const known =
        kind === "take"
          ? await this.db.select({ id: takes.id }).from(takes).where(eq(takes.id, id))
          : await this.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, id));
      if (known.length) await movedIfThere(join(this.paths.removed, f), kind === "take" ? this.paths.take(id) : this.paths.render(id));
      else await rm(join(this.paths.removed, f), { recursive: true, force: true });
    }
  }

  private async forget(what: Gone["what"], id: string, takeIds: string[], shotIds: string[]): Promise<void> {
    await this.db.transaction(async (t) => {
      if (shotIds.length) {
        await t.delete(jobs).where(inArray(jobs.shotId, shotIds));
        await t.delete(revisions).where(inArray(revisions.shotId, shotIds));
        await t.delete(shots).where(inArray(shots.id, shotIds));
      }
      if (takeIds.length) await t.delete(takes).where(inArray(takes.id, takeIds));
      if (what === "production") await t.delete(productions).where(eq(productions.id, id));
    });
  }

  private async chosen(what: "take" | "production", id: string) {
    if (what === "take") {
      const [t] = await this.db.select().from(takes).where(eq(takes.id, id));
      if (!t) throw new NotFound("This take does not exist (any more).");
      return { name: t.name, mine: [t] };
    }
    const [p] = await this.db.select().from(productions).where(eq(productions.id, id));
    if (!p) throw new NotFound("This production does not exist (any more).");
    return { name: p.name, mine: await this.db.select().from(takes).where(eq(takes.productionId, id)) };
  }
}
