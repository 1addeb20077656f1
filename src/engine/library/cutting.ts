import type { Patch } from "../../recipe/edits";
import { eq } from "drizzle-orm";
import { randomUUID } from "node:crypto";
import type { Intruder, Recipe } from "../../core/document/recipe";
import { seenFrames } from "../../core/document/recipe";
import { parseRecipe } from "../../recipe/schema";
import type { Event } from "../../wire/shot";
import type { Documents } from "../db/documents";
import type { Library } from "./library";
import type { Db } from "../db/open";
import { withoutBlobs } from "../db/blobs";
import { blobs, jobs, revisions, shots } from "../db/schema";
import { MediaError } from "../media/media-error";
import { intruderById } from "../../recipe/query";

/** Whether an intruder has anything to do with frames `a` … `b`. */
function concerns(i: Intruder, a: number, b: number): boolean {
  const band = seenFrames(i);
  return i.layers.some((l) => l.in <= b && l.out >= a) || (!!band && band.in <= b && band.out >= a) || (!!i.seen && i.seen.at >= a && i.seen.at <= b);
}

/** Cuts a take's shot into several, and joins them again. Each shot keeps the plates, and whole what reaches over its ends. */
export class Cutting {
  constructor(
    private readonly db: Db,
    private readonly library: Library,
    private readonly documents: Documents,
    private readonly tell: (e: Event) => void,
  ) {}

  /** Cuts a shot before each of the frames. @returns the new shots' ids. @throws MediaError for frames outside it */
  async cut(shotId: string, frames: number[]): Promise<string[]> {
    const row = await this.library.shotRow(shotId);
    const { rev, recipe } = await this.documents.read(shotId);
    const { in: first, out: last } = recipe.shot;
    const at = [...new Set(frames)].sort((a, b) => a - b);
    const wrong = at.find((n) => n <= first || n > last);
    if (wrong !== undefined) throw new MediaError(`The shot cannot be cut before frame ${wrong}: it has frames ${first} to ${last}.`);
    const ids: string[] = [];
    const rows: (typeof shots.$inferInsert)[] = [];
    const found = new Map<string, string>();
    const taken = (await this.library.shotsOf(row.takeId)).length;
    const bare = row.name.replace(/, \d+$/, "");
    at.forEach((n, k) => {
      const [a, b] = [n, (at[k + 1] ?? last + 1) - 1];
      const name = `${bare}, ${taken + k + 1}`;
      const { output: _, ...rest } = recipe;
      const part: Recipe = { ...rest, name, shot: { ...recipe.shot, in: a, out: b }, intruders: recipe.intruders.filter((i) => concerns(i, a, b)) };
      parseRecipe(part);
      const id = randomUUID();
      ids.push(id);
      rows.push({ id, takeId: row.takeId, name, rev: 0, recipe: JSON.stringify(withoutBlobs(part, found)), createdAt: Date.now() + k });
    });
    const patches: Patch[] = [{ op: "replace", path: ["shot", "out"], value: at[0] - 1 }];
    const inverse: Patch[] = [{ op: "replace", path: ["shot", "out"], value: last }];
    if (recipe.output) {
      patches.push({ op: "replace", path: ["output"], value: { in: first, out: at[0] - 1 } });
      inverse.push({ op: "replace", path: ["output"], value: recipe.output });
    }
    const answer = await this.documents.edit(shotId, {
      editId: randomUUID(),
      base: rev,
      name: `Cut before frame ${at.join(", ")}`,
      patches,
      inverse,
    });
    for (const [hash, data] of found) await this.db.insert(blobs).values({ hash, data }).onConflictDoNothing();
    for (const r of rows) await this.db.insert(shots).values(r);
    this.tell({ type: "shot", id: shotId, rev: answer.rev });
    this.tell({ type: "productions" });
    return ids;
  }

  /** The shot of the same take that begins where this one ends. */
  private async next(shotId: string) {
    const row = await this.library.shotRow(shotId);
    const { recipe } = await this.documents.read(shotId);
    for (const other of await this.library.shotsOf(row.takeId)) {
      if (other.id === shotId) continue;
      const doc = await this.documents.read(other.id);
      if (doc.recipe.shot.in === recipe.shot.out + 1) return { row: other, recipe: doc.recipe };
    }
    return null;
  }

  async neighbour(shotId: string): Promise<{ name: string | null }> {
    return { name: (await this.next(shotId))?.row.name ?? null };
  }

  /** Joins the next shot on: its plates and layers come along, and it goes. @throws MediaError when none begins there, or it is rendered */
  async join(shotId: string): Promise<void> {
    const other = await this.next(shotId);
    const { rev, recipe } = await this.documents.read(shotId);
    if (!other) throw new MediaError(`No shot of this take begins at frame ${recipe.shot.out + 1}, so there is nothing to join.`);
    const renders = await this.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.shotId, other.row.id));
    if (renders.length)
      throw new MediaError(
        `“${other.row.name}” has ${renders.length} ${renders.length === 1 ? "render" : "renders"}, which would go with it: download what you need, then remove them first.`,
      );
    const joined = joinedRecipe(recipe, other.recipe);
    parseRecipe(joined);
    const keys = ["shot", "takes", "plates", "masks", "intruders"] as const;
    const changed = keys.filter((k) => JSON.stringify(recipe[k]) !== JSON.stringify(joined[k]));
    const op = (from: Recipe, to: Recipe) =>
      changed.map((k) => ({
        op: from[k] === undefined ? ("add" as const) : to[k] === undefined ? ("remove" as const) : ("replace" as const),
        path: [k],
        value: to[k],
      }));
    const answer = await this.documents.edit(shotId, {
      editId: randomUUID(),
      base: rev,
      name: `Join ${other.row.name} on`,
      patches: op(recipe, joined),
      inverse: op(joined, recipe),
    });
    await this.db.transaction(async (t) => {
      await t.delete(revisions).where(eq(revisions.shotId, other.row.id));
      await t.delete(shots).where(eq(shots.id, other.row.id));
    });
    this.documents.forget([other.row.id]);
    this.tell({ type: "shot", id: shotId, rev: answer.rev });
    this.tell({ type: "productions" });
  }
}

/** Two shots of one take as one. What both have stays once; layers that only the second has come along. */
export function joinedRecipe(a: Recipe, b: Recipe): Recipe {
  const intruders = a.intruders.map((i) => {
    const twin = intruderById(b, i.id);
    const more = twin?.layers.filter((l) => !i.layers.some((m) => m.id === l.id)) ?? [];
    return more.length ? { ...i, layers: [...i.layers, ...more] } : i;
  });
  const fresh = b.intruders.filter((i) => !a.intruders.some((x) => x.id === i.id));
  return {
    ...a,
    shot: { ...a.shot, out: b.shot.out },
    takes: { ...b.takes, ...a.takes },
    plates: { ...b.plates, ...a.plates },
    ...(a.masks || b.masks ? { masks: { ...b.masks, ...a.masks } } : {}),
    intruders: [...intruders, ...fresh],
  };
}
