import { createHash } from "node:crypto";
import { mkdirSync, mkdtempSync, readdirSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeEach, describe, expect, it } from "vitest";
import { edit } from "../../recipe/edits";
import type { TakeInfo } from "../../wire/take";
import { Documents } from "../db/documents";
import { openDatabase, type Db } from "../db/open";
import { Measured } from "../library/measured";
import { Library } from "../library/library";
import { dataPaths, type DataPaths } from "../paths";
import { Unnamed } from "./unnamed";

const DAY = 86_400_000;
const hashOf = (t: string) => createHash("sha256").update(t).digest("hex");

let paths: DataPaths;
let db: Db;
let docs: Documents;
let shot: string;
let plates: string[];
let unnamed: Unnamed;

/** A picture that came in so many days ago. */
function picture(what: string, days: number): string {
  mkdirSync(paths.pictures, { recursive: true });
  const file = join(paths.pictures, `${hashOf(what)}.png`);
  writeFileSync(file, what);
  const at = new Date(Date.now() - days * DAY);
  utimesSync(file, at, at);
  return hashOf(what);
}
const pictures = () => readdirSync(paths.pictures).map((f) => f.slice(0, 64));
let count = 0;
/** What is kept beside all recipes. */
let preferred = "{}";
async function change(f: Parameters<typeof edit>[1]): Promise<void> {
  const { rev, recipe } = await docs.read(shot);
  const { patches, inverse } = edit(recipe, f);
  await docs.edit(shot, { editId: `edit-${count++}`, base: rev, name: "Change", patches, inverse });
}

beforeEach(async () => {
  const folder = mkdtempSync(join(tmpdir(), "umber-unnamed-"));
  paths = dataPaths(folder);
  db = await openDatabase(folder, "drizzle");
  const library = new Library(db);
  const take = await library.addTake(await library.addProduction("The Last Boat to Vell"), "hall.mp4", "/nowhere/hall.mp4", true);
  shot = await library.addShot(take.id, "hall", { frames: 96 } as TakeInfo);
  docs = new Documents(db);
  plates = [];
  preferred = "{}";
  unnamed = new Unnamed(
    db,
    paths,
    async () => [(await docs.read(shot)).recipe],
    () => Promise.resolve(plates),
    () => preferred,
  );
});

describe("what nothing names any more", () => {
  it("goes after a month by itself, earlier on request, and never while a recipe or a step of its history names it", async () => {
    const [used, once, old, young, fresh] = [picture("used", 90), picture("once", 90), picture("old", 31), picture("young", 29), picture("fresh", 0)];
    await change((d) => void (d.plates.p = { from: { asset: once }, touches: [] }));
    await change((d) => void (d.plates.p = { from: { asset: used }, touches: [] }));
    expect(await unnamed.look()).toEqual({ count: 2, bytes: "old".length + "young".length });
    await unnamed.clear();
    expect(pictures().toSorted()).toEqual([used, once, young, fresh].toSorted());
    await unnamed.clear(true);
    expect(pictures().toSorted()).toEqual([used, once, fresh].toSorted());
    expect(old).not.toBe(young);
  });

  it("grain that is kept by name stays for other shots, though no recipe names it", async () => {
    const kept = new Measured(db, paths);
    const head = (of: string) => ({ kind: "profile" as const, method: 1, of: hashOf(of) });
    const [a, b] = [await kept.put(head("a"), Buffer.from("{1}")), await kept.put(head("b"), Buffer.from("{2}"))];
    expect([await kept.known(head("a")), await kept.known(head("c"))]).toEqual([a, null]);
    preferred = JSON.stringify({ preferences: { profiles: [{ name: "Hall", data: a }] } });
    await unnamed.clearRows();
    expect(await kept.missing([a, b])).toEqual([b]);
  });

  it("built plates go when no recipe has them any more", async () => {
    for (const name of ["kept", "gone"]) {
      mkdirSync(join(paths.built, name), { recursive: true });
      const file = join(paths.built, name, "picture.raw");
      writeFileSync(file, name);
      const at = new Date(Date.now() - 40 * DAY);
      utimesSync(file, at, at);
    }
    plates = ["kept"];
    await unnamed.clear();
    expect(readdirSync(paths.built)).toEqual(["kept"]);
  });

  it("lists of points stay as long as anything leads to them, over many steps and a new start", async () => {
    const path = (k: number) => Array.from({ length: 400 }, (_, i) => [i / 3 + k, (i * i) % 97] as [number, number]);
    const touch = (k: number) => ({ id: `t${k}`, kind: "clone" as const, brush: { size: 9, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 }, offset: [3, 3] as [number, number], path: path(k) }); // prettier-ignore
    await change((d) => void (d.plates.p = { from: { take: "a", frame: 3 }, touches: [] }));
    for (let k = 0; k < 60; k++) await change((d) => void d.plates.p.touches.push(touch(k)));
    await change((d) => void (d.plates.p.touches = []));
    await unnamed.clearRows();
    docs = new Documents(db);
    const { rev } = await docs.read(shot);
    await docs.steps(shot, { editId: "back-again", base: rev, step: "undo", times: 1 });
    expect((await docs.read(shot)).recipe.plates.p.touches.map((t) => t.path)).toEqual(Array.from({ length: 60 }, (_, k) => path(k)));
    // a list that nothing leads to
    await db.run(`insert into blobs (hash, data) values ('${hashOf("stray")}', '[]')`);
    await unnamed.clearRows();
    const left = await db.all<{ n: number }>("select count(*) as n from blobs");
    expect(left[0].n).toBe(60);
  });
});
