import { createClient } from "@libsql/client";
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, truncateSync, writeFileSync } from "node:fs";
import { spawnSync } from "node:child_process";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it, vi } from "vitest";
import { Documents } from "../db/documents";
import { Library } from "../library/library";
import { openChecked } from "../db/open";
import { Removal } from "../library/removal";
import { Renders } from "../jobs/renders";
import { Runner } from "../jobs/runner";
import { dataPaths, NoSuchName, within } from "../paths";
import { backUp, putBack } from "./backup";
import { askToGoBack, copies, goBackIfAsked } from "./copies";
import { takeFolder } from "./lock";
import { InUse, StartFailure } from "./start-failure";

const DAY = 86_400_000;
const NOW = Date.UTC(2026, 10, 28, 12);
const FIXTURES = join(import.meta.dirname, "../../../testkit/fixtures/databases");
const SHOT = "33333333-3333-4333-8333-333333333333";
const TAKE = "22222222-2222-4222-8222-222222222222";
const JOB = "44444444-4444-4444-8444-444444444444";

/** A data folder of its own, with a fixture's database in it. */
function folder(fixture?: string) {
  const paths = dataPaths(mkdtempSync(join(tmpdir(), "umber-data-")));
  if (fixture) copyFileSync(join(FIXTURES, fixture), paths.database);
  return paths;
}
const open = (paths: ReturnType<typeof folder>, now = NOW) => openChecked(paths, "drizzle", now);
const newest = readdirSync(FIXTURES).sort().at(-1)!;
/** Writes into a database that nobody has open. */
async function change(file: string, sql: string) {
  const c = createClient({ url: `file:${file}` });
  await c.execute(sql);
  c.close();
}

describe("names that become paths", () => {
  it.each(["../../x", "..", "", "a/b", "a\\b", "a\0", ".hidden", "x".repeat(65), "a b", "%2e%2e", "a\n"])("“%s” is none", (name) => {
    const p = dataPaths("/data");
    for (const f of [() => within("/data", name), () => p.take(name), () => p.index(name), () => p.render(name), () => p.survey(name)])
      expect(f).toThrow(NoSuchName);
  });
});

describe("one program per data folder", () => {
  it("a second one is told where the first answers; the lock goes with its process, however that ends", async () => {
    const { data } = folder();
    const release = await takeFolder(data, "http://127.0.0.1:4870");
    await expect(takeFolder(data, "x")).rejects.toThrow(InUse);
    await expect(takeFolder(data, "x")).rejects.toThrow(/answers at http:\/\/127\.0\.0\.1:4870: go there/);
    release();
    // a process that takes it and is killed
    const script = `import { createClient } from "@libsql/client";
      const c = createClient({ url: "file:${join(data, "lock.db")}" }); globalThis.t = await c.transaction("write"); process.kill(process.pid, "SIGKILL");`;
    const r = spawnSync(process.execPath, ["--input-type=module", "-e", script], { cwd: process.cwd() });
    expect(r.signal).toBe("SIGKILL");
    (await takeFolder(data, "http://127.0.0.1:4871"))();
  });
});

describe("the database", () => {
  it.each(readdirSync(FIXTURES))("of version %s opens, whole, with its history", async (fixture) => {
    const paths = folder(fixture);
    const { db, close } = await open(paths);
    const docs = new Documents(db);
    const doc = await docs.read(SHOT);
    expect([doc.rev, doc.recipe.intruders[0].name, doc.recipe.plates.p.from]).toEqual([2, "Boom", { take: "a", frame: 28 }]);
    expect((await docs.steps(SHOT, { editId: "undo-fixture", base: 2, step: "undo", times: 2 })).undo).toBeNull();
    expect((await docs.read(SHOT)).recipe.intruders).toEqual([]);
    expect((await new Library(db).productions())[0]).toMatchObject({ name: "The Last Boat to Vell", takes: [{ note: "" }], shots: [{ renders: 1 }] });
    await close();
    const kinds = (await copies(paths)).map((c) => c.kind);
    expect(kinds.includes("before-migration")).toBe(fixture !== newest);
  });

  it("is whole in its one file after a clean end", async () => {
    const paths = folder(newest);
    const { db, close } = await open(paths);
    const docs = new Documents(db);
    const patches = [{ op: "replace" as const, path: ["name"], value: "kept" }];
    const inverse = [{ op: "replace" as const, path: ["name"], value: "Ticket hall" }];
    await docs.edit(SHOT, { editId: "edit-whole", base: 2, name: "Name it", patches, inverse });
    await close();
    const alone = folder();
    copyFileSync(paths.database, alone.database);
    const again = await open(alone);
    expect((await new Documents(again.db).read(SHOT)).recipe.name).toBe("kept");
    await again.close();
  });

  it.each([
    [
      "that is text",
      (file: string) => writeFileSync(file, "this is not a database, and long enough to be read as one"),
      /is damaged and was left as it is/,
    ],
    ["that is cut off", (file: string) => truncateSync(file, 8192), /is damaged and was left as it is/],
    ["with holes", (file: string) => writeFileSync(file, readFileSync(file).fill(7, 4096, 20000)), /is damaged and was left as it is/],
  ])("%s is refused in one sentence, and left as it is", async (_, damage, words) => {
    const quiet = vi.spyOn(console, "error").mockImplementation(() => undefined);
    const paths = folder(newest);
    damage(paths.database);
    const before = readFileSync(paths.database);
    await expect(open(paths)).rejects.toThrow(words);
    await expect(open(paths)).rejects.toThrow(StartFailure);
    expect(readFileSync(paths.database).equals(before)).toBe(true);
    quiet.mockRestore();
  });

  it("of a newer program is left alone", async () => {
    const paths = folder(newest);
    await change(paths.database, "INSERT INTO __drizzle_migrations(hash, created_at) VALUES('x', 9999999999999)");
    const before = readFileSync(paths.database);
    await expect(open(paths)).rejects.toThrow(/written by a newer Umber Moth and is left alone/);
    expect(readFileSync(paths.database).equals(before)).toBe(true);
  });

  it("that is empty beside takes stops the start: it was lost, or copied without its log", async () => {
    const lost = folder();
    mkdirSync(lost.take(TAKE), { recursive: true });
    await expect(open(lost)).rejects.toThrow(/is empty, and 1 take lies beside it/);
    const emptied = folder(newest);
    mkdirSync(emptied.take(TAKE), { recursive: true });
    for (const t of ["revisions", "jobs", "shots", "takes", "productions"]) await change(emptied.database, `DELETE FROM ${t}`);
    await expect(open(emptied)).rejects.toThrow(/is empty/);
    await (await open(folder())).close(); // a fresh start is none of that
  });

  it("a file in the folder's place, and a full disk, are said", async () => {
    const file = join(mkdtempSync(join(tmpdir(), "umber-data-")), "file");
    writeFileSync(file, "");
    const quiet = vi.spyOn(console, "error").mockImplementation(() => undefined);
    await expect(openChecked(dataPaths(file), "drizzle", NOW)).rejects.toThrow(/is a file, or lies below one/);
    await expect(openChecked(dataPaths(join(file, "below")), "drizzle", NOW)).rejects.toThrow(/is a file, or lies below one/);
    quiet.mockRestore();
  });
});

describe("kept copies", () => {
  it("one a day, three of them, and each can be gone back to", async () => {
    const paths = folder(newest);
    for (let day = 0; day < 6; day++) {
      const { daily, close } = await open(paths, NOW + day * DAY);
      await daily(NOW + day * DAY + 1000);
      await close();
      await change(paths.database, `UPDATE shots SET name = 'day ${day}'`);
    }
    const kept = await copies(paths);
    expect(kept.map((c) => [c.kind, c.at])).toEqual([5, 4, 3].map((d) => ["daily", NOW + d * DAY]));
    await askToGoBack(paths, kept[1].name);
    await goBackIfAsked(paths, NOW + 7 * DAY);
    const { db, close } = await open(paths, NOW + 7 * DAY);
    expect((await new Library(db).shotRow(SHOT)).name).toBe("day 3"); // as it was when the day's copy was made
    await close();
    // what was replaced is set aside
    const [aside] = readdirSync(paths.aside);
    await change(join(paths.aside, aside, "umber.db"), "UPDATE shots SET name = name");
    await expect(askToGoBack(paths, "../umber.db")).rejects.toThrow(/no such copy/);
  });

  it("a damaged copy is not gone back to", async () => {
    const paths = folder(newest);
    await (await open(paths)).close();
    const [copy] = await copies(paths);
    const file = join(paths.copies, copy.name);
    writeFileSync(file, readFileSync(file).fill(9, 4096, 16384));
    await expect(askToGoBack(paths, copy.name)).rejects.toThrow(/damaged/);
  });

  it("a whole backup comes back in another folder, and a damaged one changes nothing", async () => {
    const paths = folder(newest);
    mkdirSync(paths.take(TAKE), { recursive: true });
    writeFileSync(join(paths.take(TAKE), "original.mp4"), "footage");
    writeFileSync(join(paths.take(TAKE), "quick.pack"), "a cache");
    mkdirSync(paths.render(JOB), { recursive: true });
    writeFileSync(join(paths.render(JOB), "Ticket-hall-mended.mp4"), "rendered");
    await change(paths.database, `UPDATE takes SET own = 1, path = '${join(paths.take(TAKE), "original.mp4")}'`);
    const running = await open(paths); // it may run meanwhile
    const to = join(mkdtempSync(join(tmpdir(), "umber-backup-")), "backup");
    expect((await backUp(paths, to)).files).toBe(3);
    await running.close();
    await expect(backUp(paths, to)).rejects.toThrow(/not empty/);
    const other = folder();
    await putBack(other, to, NOW);
    const { db, close } = await open(other);
    const row = await new Library(db).takeRow(TAKE);
    expect(row.path).toBe(join(other.take(TAKE), "original.mp4"));
    expect(readFileSync(row.path, "utf8")).toBe("footage");
    expect(readFileSync(join(other.render(JOB), "Ticket-hall-mended.mp4"), "utf8")).toBe("rendered");
    expect(existsSync(join(other.take(TAKE), "quick.pack"))).toBe(false);
    await close();
    writeFileSync(join(to, "takes", TAKE, "original.mp4"), "footagE");
    const third = folder();
    await expect(putBack(third, to, NOW)).rejects.toThrow(/“takes\/.*original\.mp4” is not as it was written. Nothing was changed/);
    expect(readdirSync(third.data)).toEqual([]);
  });
});

describe("a shot whose row is damaged", () => {
  const broken = "UPDATE shots SET recipe = substr(recipe, 1, 100)";
  it("is put together again from a snapshot and what was done after it", async () => {
    const paths = folder(newest);
    const first = await open(paths);
    const snapshot = JSON.stringify({ ...(await new Documents(first.db).read(SHOT)).recipe, intruders: [] });
    await first.close();
    await change(paths.database, `UPDATE revisions SET snapshot = '${snapshot}' WHERE rev = 1`);
    await change(paths.database, broken);
    const { db, close } = await open(paths);
    const docs = new Documents(db);
    const rebuilt: string[] = [];
    docs.rebuilt = (n) => void rebuilt.push(n);
    expect((await docs.read(SHOT)).recipe.intruders[0].name).toBe("Boom");
    expect(rebuilt).toEqual(["Ticket hall"]);
    expect((await new Documents(db).read(SHOT)).rev).toBe(2); // and is stored so
    await close();
  });

  it.each([broken, "UPDATE shots SET recipe = '{}'", "UPDATE shots SET recipe = '[]'", `UPDATE shots SET recipe = '{"$blob":"${"0".repeat(64)}"}'`])(
    "is shown as damaged where its history does not lead there, and everything else opens: %s",
    async (sql) => {
      const paths = folder(newest);
      await change(paths.database, sql);
      await change(paths.database, "UPDATE takes SET stills = '{', info = 'x'");
      const { db, close } = await open(paths);
      const docs = new Documents(db);
      const library = new Library(db, (id) => docs.broken.get(id));
      expect((await library.productions())[0].shots[0].broken).toMatch(/damaged/);
      await expect(docs.read(SHOT)).rejects.toThrow(/cannot be opened: what is stored of it is damaged/);
      expect((await library.productions())[0].shots[0].broken).toMatch(/^“Ticket hall” cannot be opened/);
      await close();
    },
  );
});

describe("what is removed", () => {
  it("comes back when it was cut off before the database forgot it, and goes when it was cut off after", async () => {
    const paths = folder(newest);
    const { db, close } = await open(paths);
    const aside = (f: string) => join(paths.removed, f);
    mkdirSync(aside(`take-${TAKE}`), { recursive: true });
    mkdirSync(aside("take-55555555-5555-4555-8555-555555555555"), { recursive: true });
    mkdirSync(aside(`render-${JOB}`), { recursive: true });
    mkdirSync(join(paths.data, "takes"), { recursive: true });
    mkdirSync(paths.renders, { recursive: true });
    const removal = new Removal(db, paths);
    await removal.finish();
    expect([existsSync(paths.take(TAKE)), existsSync(paths.render(JOB)), readdirSync(paths.removed)]).toEqual([true, true, []]);
    await removal.remove(await removal.plan("take", TAKE));
    expect([existsSync(paths.take(TAKE)), existsSync(paths.render(JOB)), readdirSync(paths.removed)]).toEqual([false, false, []]);
    await close();
  });

  it("finished files that nobody knows are set aside and never deleted", async () => {
    const paths = folder(newest);
    const strange = "66666666-6666-4666-8666-666666666666";
    mkdirSync(paths.render(strange), { recursive: true });
    writeFileSync(join(paths.render(strange), "mended.mp4"), "hours of work");
    const { db, close } = await open(paths);
    const renders = new Renders(db, paths, () => undefined, new Runner("", paths.data, () => 1e9));
    expect(await renders.recover()).toEqual([strange]);
    const [kept] = readdirSync(join(paths.aside, "renders"));
    expect(readFileSync(join(paths.aside, "renders", kept, "mended.mp4"), "utf8")).toBe("hours of work");
    await close();
  });
});
