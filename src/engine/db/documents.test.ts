import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { sql } from "drizzle-orm";
import fc from "fast-check";
import { applyPatches, produceWithPatches } from "immer";
import { beforeAll, describe, expect, it } from "vitest";
import { edit, type Patch } from "../../recipe/edits";
import { RecipeError } from "../../recipe/schema";
import type { TakeInfo } from "../../wire/take";
import { Documents, Stale } from "./documents";
import { Library } from "../library/library";
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

describe("edits from anywhere", () => {
  it("are stored only where they can be taken back and leave a shot that opens (property)", async () => {
    const data = mkdtempSync(join(tmpdir(), "umber-edits-"));
    const library = new Library(await openDatabase(data, "drizzle"));
    const take = await library.addTake(await library.addProduction("x"), "hall.mp4", "/nowhere/hall.mp4", true);
    const id = await library.addShot(take.id, "hall", { frames: 96 } as TakeInfo);
    const db = await openDatabase(data, "drizzle");
    let docs = new Documents(db);
    const known = async (assets: string[]) => {
      for (const a of assets) if (!(await library.hasTake(a))) throw new RecipeError("unknown");
    };
    docs.known = known;
    const values = fc.oneof(
      fc.constantFrom<unknown>("../../x", "x", -1, 3, 95, null, {}, [], { take: "a", in: 0, out: 9 }, { asset: take.id }, { asset: "../../x" }),
      fc.constant({ id: "i", name: "Boom", layers: [] }),
      fc.string({ maxLength: 5 }),
      fc.constant({ from: { take: "a", frame: 3 } }), // its touches are a default
      fc.anything({ maxDepth: 2 }),
    );
    const steps = fc.constantFrom(
      "takes",
      "a",
      "plates",
      "p",
      "intruders",
      "shot",
      "name",
      "out",
      "asset",
      "touches",
      "__proto__",
      "constructor",
      0,
      1,
    );
    const sound = fc.record({
      op: fc.constant("replace" as const),
      path: fc.constant<(string | number)[]>(["name"]),
      value: fc.string({ maxLength: 9 }),
    });
    const strange = fc.record({
      op: fc.constantFrom("add" as const, "replace" as const, "remove" as const),
      path: fc.array(steps, { maxLength: 3 }),
      value: values,
    });
    // so many of them sound, and half of the inverses right, that of two hundred some twenty are stored
    const patch = fc.oneof({ weight: 3, arbitrary: strange }, { weight: 2, arbitrary: sound });
    let [stored, refused] = [0, 0];
    await fc.assert(
      fc.asyncProperty(
        fc.array(patch, { minLength: 1, maxLength: 3 }),
        fc.option(fc.array(patch, { minLength: 1, maxLength: 2 }), { freq: 1 }),
        async (patches, wrong) => {
          const { rev, recipe } = await docs.read(id);
          const before = JSON.stringify(recipe);
          // an inverse as a page makes it, or one that is made up
          let inverse: Patch[] = (wrong ?? []) as Patch[];
          if (!wrong)
            try {
              inverse = produceWithPatches(recipe, (d) => void applyPatches(d, patches as Patch[]))[2];
            } catch {
              inverse = [];
            }
          const e = { editId: `fuzz-${stored}-${refused}-${rev}`, base: rev, name: "x", patches, inverse };
          const answer = await docs.edit(id, e).catch((x: unknown) => x as Error);
          if (answer instanceof Error) {
            refused++;
            expect(answer).toBeInstanceOf(RecipeError);
            expect(answer.message.split("\n")).toHaveLength(1);
            expect(JSON.stringify((await docs.read(id)).recipe)).toBe(before);
          } else {
            stored++;
            const undone = await docs.steps(id, { editId: `${e.editId}-undo`, base: answer.rev, step: "undo", times: 1 });
            expect((await docs.read(id)).recipe).toEqual(JSON.parse(before));
            await docs.steps(id, { editId: `${e.editId}-redo`, base: undone.rev, step: "redo", times: 1 });
          }
          docs = new Documents(db); // as after a restart
          docs.known = known;
          expect((await docs.read(id)).recipe.format).toBe("umber-moth/recipe");
          expect((await library.productions())[0].shots[0].broken).toBeNull();
        },
      ),
      { numRuns: 200 },
    );
    expect([stored > 0, refused > 50]).toEqual([true, true]);
  });

  it("what is stored has its defaults, and a fact is passed over by undo", async () => {
    const docs = new Documents(await open());
    const { rev } = await docs.read(shot);
    const value = { from: { take: "a", frame: 3 } };
    const made = await docs.edit(shot, {
      editId: "edit-default",
      base: rev,
      name: "Make a plate",
      patches: [{ op: "add", path: ["plates", "q"], value }],
      inverse: [{ op: "remove", path: ["plates", "q"] }],
    });
    expect((await docs.read(shot)).recipe.plates.q.touches).toEqual([]);
    const patches = [{ op: "replace" as const, path: ["shot", "out"], value: 80 }];
    const fact = await docs.fact(shot, { editId: "fact-count-1", base: made.rev, name: "The take was read", patches });
    expect(fact.undo).toBe("Make a plate");
    await docs.steps(shot, { editId: "undo-default", base: fact.rev, step: "undo", times: 1 });
    expect((await docs.read(shot)).recipe).toMatchObject({ shot: { out: 80 } });
    expect((await docs.read(shot)).recipe.plates.q).toBeUndefined();
  });

  it("more steps back than there are go back to the beginning, and say so; none at all is refused", async () => {
    const docs = new Documents(await open());
    const start = await docs.read(shot);
    let { rev } = start;
    const all = await docs.steps(shot, { editId: "undo-everything", base: rev, step: "undo", times: 500 });
    expect(all.undo).toBeNull();
    expect(all.patches.length).toBeGreaterThan(0);
    const taken = all.rev - rev;
    expect(taken).toBeLessThan(500);
    rev = all.rev;
    expect((await docs.read(shot)).rev).toBe(rev);
    await expect(docs.steps(shot, { editId: "undo-nothing-1", base: rev, step: "undo", times: 3 })).rejects.toThrow(/nothing to undo/);
    await docs.steps(shot, { editId: "redo-everything", base: rev, step: "redo", times: taken });
    // but for the last frame, which a fact has set in between
    const { shot: _, ...rest } = (await docs.read(shot)).recipe;
    expect({ ...rest, shot: start.recipe.shot }).toEqual(start.recipe);
  });

  it.each([
    [
      "an inverse that does not lead back",
      [{ op: "replace" as const, path: ["name"], value: "x" }],
      [{ op: "replace" as const, path: ["name"], value: "y" }],
    ],
    [
      "a path that leads nowhere",
      [{ op: "replace" as const, path: ["plates", "no", "name"], value: "x" }],
      [{ op: "replace" as const, path: ["name"], value: "y" }],
    ],
    [
      "a list that is made longer than what is in it",
      [{ op: "replace" as const, path: ["intruders", "length"], value: 4_000_000_000 }],
      [{ op: "replace" as const, path: ["intruders", "length"], value: 0 }],
    ],
    [
      "a place far beyond a list",
      [{ op: "add" as const, path: ["intruders", 1_000_000_000], value: { id: "x", name: "x", layers: [] } }],
      [{ op: "remove" as const, path: ["intruders", 1_000_000_000] }],
    ],
    ["a reserved name", [{ op: "add" as const, path: ["__proto__", "x"], value: 1 }], [{ op: "remove" as const, path: ["__proto__", "x"] }]],
  ])("%s is refused in a sentence", async (_, patches, inverse) => {
    const docs = new Documents(await open());
    const { rev } = await docs.read(shot);
    await expect(docs.edit(shot, { editId: `edit-no-${rev}-${_.length}`, base: rev, name: "x", patches, inverse })).rejects.toThrow(RecipeError);
  });
});
