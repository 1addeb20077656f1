import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, it } from "vitest";
import { edit } from "../../recipe/edits";
import type { TakeInfo } from "../../wire/take";
import { Documents, Stale } from "./documents";
import { Library } from "./library";
import { openDatabase } from "./open";

const folder = mkdtempSync(join(tmpdir(), "umber-db-"));
const open = () => openDatabase(folder, "drizzle");
let shot = "";

beforeAll(async () => {
  const library = new Library(await open());
  const production = await library.addProduction("The Last Boat to Vell");
  const take = await library.addTake(production, "hall.mp4", "/nowhere/hall.mp4", true);
  shot = await library.addShot(take.id, "hall", { frames: 96 } as TakeInfo);
});

/** Makes and sends one edit on the newest revision. */
async function change(docs: Documents, id: string, name: string, f: Parameters<typeof edit>[1]) {
  const { rev, recipe } = await docs.read(shot);
  const e = edit(recipe, f);
  return docs.edit(shot, { editId: id, base: rev, name, patches: e.patches, inverse: e.inverse });
}

describe("documents", () => {
  it("keep long strokes once, by their content, and give them back whole", async () => {
    const db = await open();
    const docs = new Documents(db);
    const path = Array.from({ length: 900 }, (_, i) => [i / 3, (i * i) % 97]);
    const touch = {
      id: "t",
      kind: "clone" as const,
      brush: { size: 9, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 },
      offset: [3, 3] as [number, number],
      path,
    };
    await change(docs, "edit-plate", "Make a plate", (d) => void (d.plates.p = { from: { take: "a", frame: 3 }, touches: [] }));
    await change(docs, "edit-touch", "Clone stroke", (d) => void d.plates.p.touches.push(touch));
    await change(docs, "edit-again", "Clone stroke", (d) => void d.plates.p.touches.push({ ...touch, id: "u" }));
    const [{ n }] = await db.all<{ n: number }>(sql`select count(*) as n from blobs`);
    expect(n).toBe(1);
    const [{ size }] = await db.all<{ size: number }>(sql`select max(length(patches)) as size from revisions`);
    expect(size).toBeLessThan(1000);
    const again = await new Documents(await open()).read(shot);
    expect(again.recipe.plates.p.touches.map((t) => t.path)).toEqual([path, path]);
  });

  it("undo and redo over restarts, with a snapshot every fifty revisions", async () => {
    let docs = new Documents(await open());
    for (let i = 0; i < 60; i++) await change(docs, `edit-name-${i}`, `Name it ${i}`, (d) => void (d.name = `take ${i}`));
    docs = new Documents(await open());
    for (let i = 0; i < 3; i++) await docs.steps(shot, { editId: `undo-step-${i}`, base: (await docs.read(shot)).rev, step: "undo", times: 1 });
    expect((await docs.read(shot)).recipe.name).toBe("take 56");
    expect(await docs.next(shot)).toEqual({ undo: "Name it 56", redo: "Name it 57" });
    docs = new Documents(await open());
    await docs.steps(shot, { editId: "redo-step-0", base: (await docs.read(shot)).rev, step: "redo", times: 1 });
    expect((await docs.read(shot)).recipe.name).toBe("take 57");
    const db = await open();
    const snaps = await db.all<{ rev: number }>(sql`select rev from revisions where snapshot is not null`);
    expect(snaps.map((s) => s.rev)).toEqual([1, 50]);
  });

  it("refuse a stale base, answer a repeated id as the first time, and keep the recipe valid", async () => {
    const docs = new Documents(await open());
    const { rev } = await docs.read(shot);
    const set = (editId: string, base: number, value: unknown) =>
      docs.edit(shot, {
        editId,
        base,
        name: "Set",
        patches: [{ op: "replace", path: ["shot", "out"], value }],
        inverse: [{ op: "replace", path: ["shot", "out"], value: 95 }],
      });
    // two at once from the same base: one is stored, the other is told
    const both = await Promise.allSettled([set("edit-race-1", rev, 90), set("edit-race-2", rev, 91)]);
    expect(both.map((r) => r.status)).toEqual(["fulfilled", "rejected"]);
    expect((both[1] as PromiseRejectedResult).reason).toBeInstanceOf(Stale);
    expect((await set("edit-race-1", rev, 90)).rev).toBe(rev + 1);
    await expect(set("edit-bad-1", rev + 1, -1)).rejects.toThrow(/shot\.out: found -1/);
    await expect(docs.steps("no-such-shot", { editId: "undo-none-1", base: 0, step: "undo", times: 1 })).rejects.toThrow(/does not exist/);
    expect((await docs.read(shot)).recipe.shot.out).toBe(90);
  });
});
