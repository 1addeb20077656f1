import { execFileSync, spawnSync } from "node:child_process";
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import type { Copies } from "../src/wire/shot";
import { type App, lives, ROOT, startApp, until } from "./support/app";
import { By, downloads, openBrowser } from "./support/browser";
import { Session } from "./support/session";

/** Starts, ends and bad data: one program per folder, nothing left behind, one sentence and no endless restarts, caches that were cut off. */
const dir = mkdtempSync(join(tmpdir(), "umber-start-"));
/** A database of the newest version, which is opened without being migrated. */
const databases = join(ROOT, "testkit/fixtures/databases");
const fixture = join(databases, readdirSync(databases).sort().at(-1)!);
const film = join(dir, "pier.mp4");
execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", "testsrc2=s=160x96:r=25:d=4", "-pix_fmt", "yuv420p", "-c:v", "libx264", film]);

const running: App[] = [];
const start = async (...args: Parameters<typeof startApp>) => {
  const app = await startApp(...args);
  running.push(app);
  return app;
};
afterAll(async () => {
  for (const a of running) await a.stop();
});
const fresh = () => mkdtempSync(join(dir, "data-"));
const again = (data: string, port: string) =>
  spawnSync(join(ROOT, "umber"), ["start"], {
    cwd: ROOT,
    encoding: "utf8",
    env: { ...process.env, UMBER_DATA: data, PORT: port, UMBER_LOG: "warn" },
  });

describe("one program per data folder", () => {
  it("a second start says where the first answers, touches nothing and ends with status 1; a clean end leaves one whole file", async () => {
    const app = await start("start", fresh());
    const s = new Session(app);
    await s.upload("pier.mp4", readFileSync(film));
    await s.shot("pier");
    // what is kept is its owner's alone
    const kept = ["", ...readdirSync(app.data, { recursive: true, encoding: "utf8" })];
    expect(kept.filter((f) => statSync(join(app.data, f)).mode & 0o077)).toEqual([]);
    expect(kept.length).toBeGreaterThan(8);
    writeFileSync(join(app.data, "incoming", "under-way"), "an upload of the first one");
    for (const port of [new URL(app.url).port, "4879"]) {
      const second = again(app.data, port);
      expect([second.status, second.stderr]).toEqual([1, expect.stringContaining(`in use by Umber Moth, which answers at ${app.url}`)]);
      expect(second.stderr.trim().split("\n")).toHaveLength(1);
    }
    expect(existsSync(join(app.data, "incoming", "under-way"))).toBe(true);
    expect((await s.takes()).length).toBe(1);
    await app.stop();
    // everything is in the one file: its log is empty or gone
    const log = join(app.data, "umber.db-wal");
    expect(existsSync(log) ? statSync(log).size : 0).toBe(0);
    const alone = fresh();
    copyFileSync(join(app.data, "umber.db"), join(alone, "umber.db"));
    const second = await start("start", alone);
    expect((await new Session(second).takes()).map((t) => t.name)).toEqual(["pier.mp4"]);
    await second.stop();
  });

  it("when the launcher is killed, engine and pages end, and the folder is free", async () => {
    const app = await start("start", fresh());
    const { launcher, engine, web } = app.pids();
    process.kill(launcher, "SIGKILL");
    await until("both to end", () => Promise.resolve(!lives(engine) && !lives(web)));
    const next = await start("start", app.data);
    await next.stop();
  });
});

describe("data it cannot work on", () => {
  it("a damaged database: a sentence on the terminal and on the page, no endless restarts, and back to a kept copy by a click", async () => {
    const data = fresh();
    copyFileSync(fixture, join(data, "umber.db"));
    const first = await start("start", data);
    await first.stop();
    expect(readdirSync(join(data, "copies"))).toHaveLength(1);
    writeFileSync(join(data, "umber.db"), readFileSync(join(data, "umber.db")).fill(7, 4096, 30000));
    const app = await start("start", data);
    const { engine } = app.pids();
    const state = await fetch(`${app.url}/api/state`);
    expect([state.status, ((await state.json()) as { error: string }).error]).toEqual([
      503,
      expect.stringContaining("is damaged and was left as it is"),
    ]);
    expect(app.said().match(/is damaged and was left as it is/g)).toHaveLength(1);
    const d = await openBrowser(downloads());
    try {
      await d.get(app.url);
      const alert = await until("the sentence", () => d.findElement(By.css("[role=alert]")));
      expect(await alert.getText()).toContain("is damaged and was left as it is");
      expect(app.pids().engine).toBe(engine); // it was not started again and again meanwhile
      await (await until("the copies", () => d.findElement(By.xpath("//button[normalize-space(.)='Go back to it']")))).click();
      await (await until("the question", () => d.findElement(By.xpath("//div[@role='dialog']//button[normalize-space(.)='Go back']")))).click();
      await until("the shots", async () => (await d.findElement(By.css("main")).getText()).includes("The Last Boat to Vell"));
    } finally {
      await d.quit();
    }
    expect((await new Session(app).productions())[0].shots[0].name).toBe("Ticket hall");
    expect(readdirSync(join(data, "set-aside"))).toHaveLength(1);
    await app.stop();
  });

  it("an empty database beside takes, a newer one, a file in the folder's place: a sentence each, and all is left alone", async () => {
    const empty = fresh();
    mkdirSync(join(empty, "takes", "22222222-2222-4222-8222-222222222222"), { recursive: true });
    const file = join(dir, "a-file");
    writeFileSync(file, "mine");
    for (const [data, words] of [
      [empty, "is empty, and 1 take lies beside it"],
      [file, "is a file, or lies below one"],
    ]) {
      const app = await start("start", data);
      const { error } = (await (await fetch(`${app.url}/api/state`)).json()) as { error: string };
      expect(error).toContain(words);
      expect(error).not.toContain(dir);
      await app.stop();
      expect(app.said().match(new RegExp(words, "g"))).toHaveLength(1);
    }
    expect(readFileSync(file, "utf8")).toBe("mine");
    // the kept copies by the command line
    const list = spawnSync(join(ROOT, "umber"), ["restore"], { cwd: ROOT, encoding: "utf8", env: { ...process.env, UMBER_DATA: empty } });
    expect([list.status, list.stdout]).toEqual([0, "There is no kept copy of the database.\n"]);
  });
});

describe("an engine that is silent", () => {
  it("is started again, named with what it was doing, and that is set aside", async () => {
    const data = fresh();
    const slow = join(dir, "ffmpeg-slow");
    writeFileSync(slow, `#!/bin/sh\nif [ -e ${join(dir, "slow")} ]; then exec sleep 600; fi\nexec ffmpeg "$@"\n`, { mode: 0o755 });
    const app = await start("start", data, { UMBER_SILENCE: "2", FFMPEG_PATH: slow, FFPROBE_PATH: "ffprobe" });
    const s = new Session(app);
    await s.upload("good.mp4", readFileSync(film));
    await s.shot("good");
    writeFileSync(join(dir, "slow"), "");
    expect((await s.upload("bad.mp4", readFileSync(film))).status).toBe(200);
    const { engine } = app.pids();
    process.kill(engine, "SIGSTOP"); // as one that turns in circles
    await until("another engine", () => Promise.resolve(app.pids().engine !== engine));
    rmSync(join(dir, "slow"));
    expect(app.said()).toContain("The engine was silent for 2 s while it was reading “bad.mp4”; it is started again, and that is set aside.");
    const bad = await until(
      "the take to be set aside",
      async () => (await s.takes()).find((t) => t.name === "bad.mp4" && t.state === "failed"),
      900_000,
    );
    expect(bad.error).toContain("was set aside, since the program stopped answering while it was read");
    expect((await s.takes()).find((t) => t.name === "good.mp4")!.state).toBe("ready");
    const { notices } = await s.get<{ notices: { words: string }[] }>("/api/state");
    expect(notices.map((n) => n.words)).toEqual([expect.stringContaining("stopped answering while it was reading “bad.mp4”")]);
    await app.stop();
    // once more by hand: then it is tried again
    const next = await start("start", data);
    const t = new Session(next);
    await until("both takes", async () => (await t.takes()).filter((x) => x.state === "ready" || x.state === "failed").length === 2);
    await next.stop();
  });
});

describe("caches that were cut off", () => {
  it("frames, indexes and quick frames are made again, and no false picture is shown", async () => {
    const app = await start("start", fresh());
    const s = new Session(app);
    await s.upload("pier.mp4", readFileSync(film));
    const shot = (await s.shot("pier")).id;
    const id = (await s.document(shot)).recipe.takes.a.asset!;
    const frame = async (n: number) => Buffer.from(await (await fetch(`${app.url}/api/takes/${id}/frames/${n}`)).arrayBuffer());
    const truth = execFileSync("ffmpeg", ["-v", "error", "-i", film, "-f", "rawvideo", "-pix_fmt", "yuv420p", "-"], { maxBuffer: 1 << 28 });
    const size = 160 * 96 * 1.5;
    const wanted = (n: number) => truth.subarray(n * size, (n + 1) * size);
    for (const n of [10, 60, 99]) expect((await frame(n)).equals(wanted(n))).toBe(true);
    const block = (k: number) => join(app.data, "cache", id, `block-${k}.raw`);
    // cut off, as by a power cut
    truncateSync(block(0), 5 * size);
    expect((await frame(10)).equals(wanted(10))).toBe(true);
    // of the right size, with other samples in it: found after a restart
    writeFileSync(block(1), readFileSync(block(1)).fill(0, 12 * size, 13 * size));
    process.kill(app.pids().engine, "SIGKILL");
    process.kill(app.pids().web, "SIGKILL");
    const plate = async () => (await fetch(`${app.url}/api/shots/${shot}/still?what=original&frame=60`)).ok;
    await until("the program", plate);
    expect((await frame(60)).equals(wanted(60))).toBe(true);
    // a lost index, one that is cut off, and a pack of quick frames
    const folder = join(app.data, "takes", id);
    for (const damage of [
      () => rmSync(join(folder, "index.json")),
      () => truncateSync(join(folder, "index.json"), 100),
      () => truncateSync(join(folder, "quick.pack"), 5000),
    ]) {
      process.kill(app.pids().engine, "SIGKILL");
      process.kill(app.pids().web, "SIGKILL");
      damage();
      await until("the quick frame", async () => (await fetch(`${app.url}/api/takes/${id}/quick/90`)).ok);
      await until("the exact frame", async () => (await frame(60)).equals(wanted(60)));
      await until("the take", async () => (await s.takes()).every((t) => t.name === "pier.mp4" && t.state === "ready"));
    }
    await app.stop();
  });
});

it("kept copies are listed by the program that runs", async () => {
  const data = fresh();
  copyFileSync(fixture, join(data, "umber.db"));
  const app = await start("start", data);
  const { copies, trouble } = await new Session(app).get<Copies>("/api/copies");
  expect([copies.map((c) => c.kind), trouble]).toEqual([["daily"], null]);
  const backup = join(dir, "backup");
  const r = spawnSync(join(ROOT, "umber"), ["backup", backup], { cwd: ROOT, encoding: "utf8", env: { ...process.env, UMBER_DATA: data } });
  expect([r.status, r.stdout]).toEqual([0, expect.stringContaining("Backed up: 1 files")]);
  const busy = spawnSync(join(ROOT, "umber"), ["restore", backup], { cwd: ROOT, encoding: "utf8", env: { ...process.env, UMBER_DATA: data } });
  expect([busy.status, busy.stderr]).toEqual([2, expect.stringContaining("in use by Umber Moth")]);
  await app.stop();
  const back = spawnSync(join(ROOT, "umber"), ["restore", backup], { cwd: ROOT, encoding: "utf8", env: { ...process.env, UMBER_DATA: data } });
  expect([back.status, back.stdout]).toEqual([0, expect.stringContaining("Put back: 1 files")]);
});
