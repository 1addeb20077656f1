import { createClient } from "@libsql/client";
import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, statSync, truncateSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, it } from "vitest";
import { random } from "../src/core/random";
import type { Job } from "../src/wire/job";
import { lives, ROOT, startApp, until } from "./support/app";
import { Session } from "./support/session";

/**
 * Web, engine and launcher are killed at random moments, and caches cut off, while somebody edits and renders; what was
 * acknowledged is there, and no half file looks whole.
 */
const KILLS = 12;
const SEED = Number(process.env.UMBER_SEED ?? Date.now() % 1_000_000);

it(`survives ${KILLS} kills at random moments (seed ${SEED}; the same again with UMBER_SEED=${SEED})`, async () => {
  console.log(`seed of the kills: ${SEED}`);
  const rnd = random(SEED);
  const data = mkdtempSync(join(tmpdir(), "umber-kills-"));
  let app = await startApp("demo", data);
  let s = new Session(app);
  const { id: shot } = await s.shot("Ticket hall");
  const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));

  let over = false;
  let killed = 0;
  let launchers = 0;
  let cuts = 0;
  /** Cuts a cache off somewhere, as a power cut does. */
  const cutOff = () => {
    const caches = ["cache", "takes"].flatMap((d) =>
      existsSync(join(data, d))
        ? readdirSync(join(data, d), { recursive: true })
            .map((f) => join(data, d, String(f)))
            .filter((f) => /block-\d+\.raw$|index\.json$|survey-3(-first)?\.json$|quick\.(pack|idx)$|cells\.raw$/.test(f))
        : [],
    );
    if (!caches.length) return;
    const file = caches[Math.floor(rnd() * caches.length)];
    truncateSync(file, Math.floor(rnd() * statSync(file).size));
    cuts++;
  };
  const killer = (async () => {
    while (killed < KILLS) {
      await pause(60 + rnd() * 700);
      const dice = rnd();
      if (dice < 0.2) cutOff();
      const which = dice < 0.75 ? "engine" : dice < 0.94 ? "web" : "launcher";
      const pids = app.pids();
      try {
        process.kill(pids[which], "SIGKILL");
        killed++;
      } catch {
        continue; // it is being started again
      }
      if (which !== "launcher") continue;
      launchers++;
      await until("all to end", () => Promise.resolve(!lives(pids.engine) && !lives(pids.web)));
      app = await startApp("demo", data);
      s = new Session(app);
    }
    over = true;
  })();

  /** Names that were acknowledged and not undone, and those undone. */
  const done: string[] = [];
  const undone: string[] = [];
  const acknowledged: string[] = [];
  let rev = (await s.document(shot)).rev;
  let rendersAsked = 0;
  /** Asks until there is an answer; the same edit id, so that it is done once however often it is sent. */
  const ask = async (send: () => ReturnType<Session["post"]>) => {
    for (;;) {
      const r = await send().catch(() => null);
      if (r && r.status < 500) return r;
      await pause(30);
    }
  };
  for (let k = 0; !over; k++) {
    const editId = `edit-${SEED}-${k}`;
    const what = rnd();
    if (what < 0.1) {
      const r = await s.post(`/api/shots/${shot}/renders`, { codec: "ffv1" }).catch(() => null);
      if (r?.status === 200) rendersAsked++;
      continue;
    }
    if (what < 0.25 && done.length) {
      const r = await ask(() => s.post(`/api/shots/${shot}/steps`, { editId, base: rev, step: "undo" }));
      expect([r.status, r.value.error]).toEqual([200, undefined]);
      undone.push(done.pop()!);
      rev = r.value.rev as number;
    } else if (what < 0.35 && undone.length) {
      const r = await ask(() => s.post(`/api/shots/${shot}/steps`, { editId, base: rev, step: "redo" }));
      expect([r.status, r.value.error]).toEqual([200, undefined]);
      done.push(undone.pop()!);
      rev = r.value.rev as number;
    } else {
      const before = done.at(-1) ?? "Ticket hall";
      const r = await ask(() =>
        s.post(`/api/shots/${shot}/edits`, {
          editId,
          base: rev,
          name: `Call it ${k}`,
          patches: [{ op: "replace", path: ["name"], value: `name ${k}` }],
          inverse: [{ op: "replace", path: ["name"], value: before }],
        }),
      );
      expect([r.status, r.value.error]).toEqual([200, undefined]);
      done.push(`name ${k}`);
      undone.length = 0;
      rev = r.value.rev as number;
    }
    acknowledged.push(editId);
    expect(rev).toBe(acknowledged.length);
    await pause(rnd() * 40);
  }
  await killer;
  await until("the program to answer", async () => (await s.productions()).length);
  console.log(`${killed} kills, ${launchers} of them of the launcher; ${cuts} caches cut off; ${acknowledged.length} edits acknowledged`);
  await until("the take to be whole again", async () => (await s.takes()).every((t) => t.state === "ready"));
  const now = await until("the shot", () => s.document(shot));
  expect([now.rev, now.recipe.name]).toEqual([acknowledged.length, done.at(-1) ?? "Ticket hall"]);
  expect(now.undo === null).toBe(done.length === 0);
  const jobs = await s.get<Job[]>(`/api/shots/${shot}/renders`);
  expect(jobs.length).toBeGreaterThanOrEqual(Math.min(1, rendersAsked));
  // a job that was cut off can be run again, and then is whole
  const cut = jobs.find((j) => j.state === "stopped");
  if (cut) {
    await until("it to begin again", async () => (await s.post(`/api/jobs/${cut.id}/again`, {})).status === 200, 900_000);
    await until(
      "the cut job to be done",
      async () => (await s.get<Job[]>(`/api/shots/${shot}/renders`)).find((j) => j.id === cut.id)?.state === "done",
      900_000,
    );
  }
  const last = await s.get<Job[]>(`/api/shots/${shot}/renders`);
  const take = now.recipe.takes.a.asset!;
  const shown = await until("a frame", async () => {
    const r = await fetch(`${app.url}/api/takes/${take}/frames/70`);
    return r.ok && Buffer.from(await r.arrayBuffer());
  });
  await app.stop();

  const db = createClient({ url: `file:${join(data, "umber.db")}` });
  expect((await db.execute("PRAGMA integrity_check")).rows[0][0]).toBe("ok");
  const rows = (await db.execute({ sql: "SELECT rev, edit_id FROM revisions WHERE shot_id = ? ORDER BY rev", args: [shot] })).rows;
  expect(rows.map((r) => r.edit_id)).toEqual(acknowledged);
  expect(rows.map((r) => r.rev)).toEqual(acknowledged.map((_, i) => i + 1));
  db.close();
  for (const j of last) {
    const path = join(data, "renders", j.id, j.file);
    if (j.state === "done") {
      const args = ["-v", "error", "-count_frames", "-select_streams", "v", "-show_entries", "stream=nb_read_frames", "-of", "csv=p=0", path];
      expect(execFileSync("ffprobe", args).toString().trim()).toBe("96");
    } else expect([j.state, existsSync(path)]).toEqual([j.state, false]);
  }
  // a frame that is asked for is the one that was decoded, whatever was cut off
  const truth = execFileSync("ffmpeg", [
    ...["-v", "error", "-i", join(ROOT, "demo/takes/hall.mp4"), "-vf", "select=eq(n\\,70)", "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "yuv420p", "-"],
  ], { maxBuffer: 1 << 26 }); // prettier-ignore
  expect(shown.equals(truth)).toBe(true);
});
