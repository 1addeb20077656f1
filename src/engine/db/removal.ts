import { and, eq, inArray } from "drizzle-orm";
import { rm } from "node:fs/promises";
import type { Recipe } from "../../core/document";
import type { Dependents } from "../../wire/media";
import { MediaError } from "../media/media-error";
import type { DataPaths } from "../paths";
import { NotFound } from "./documents";
import type { Db } from "./open";
import { jobs, productions, revisions, shots, takes } from "./schema";

type Gone = { takeIds: string[]; shotIds: string[]; jobIds: string[] };

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
    const uses = (s: (typeof all)[number]) =>
      Object.values((JSON.parse(s.recipe) as Recipe).takes).some((t) => t.asset !== undefined && ids.includes(t.asset));
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

  /** @throws MediaError while shots of other takes need it */
  async remove(what: "take" | "production", id: string): Promise<Gone> {
    const { name, usedBy } = await this.dependents(what, id);
    if (usedBy.length)
      throw new MediaError(
        `“${name}” cannot go while ${usedBy.map((s) => `“${s}”`).join(", ")} takes pictures from it: take its patches out there first.`,
      );
    const { mine } = await this.chosen(what, id);
    const takeIds = mine.map((t) => t.id);
    const shotIds = takeIds.length ? (await this.db.select({ id: shots.id }).from(shots).where(inArray(shots.takeId, takeIds))).map((s) => s.id) : [];
    const jobIds = shotIds.length ? (await this.db.select({ id: jobs.id }).from(jobs).where(inArray(jobs.shotId, shotIds))).map((j) => j.id) : [];
    await this.db.transaction(async (t) => {
      if (shotIds.length) {
        await t.delete(jobs).where(inArray(jobs.shotId, shotIds));
        await t.delete(revisions).where(inArray(revisions.shotId, shotIds));
        await t.delete(shots).where(inArray(shots.id, shotIds));
      }
      if (takeIds.length) await t.delete(takes).where(inArray(takes.id, takeIds));
      if (what === "production") await t.delete(productions).where(eq(productions.id, id));
    });
    return { takeIds, shotIds, jobIds };
  }

  /** The files of what was removed, once nothing writes to them any more. */
  async clear({ takeIds, jobIds }: Pick<Gone, "takeIds" | "jobIds">): Promise<void> {
    for (const t of takeIds) await rm(this.paths.take(t), { recursive: true, force: true });
    for (const j of jobIds) await rm(this.paths.render(j), { recursive: true, force: true });
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
