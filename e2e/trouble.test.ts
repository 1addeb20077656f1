import { execFileSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Job } from "../src/wire/job";
import { type App, startApp, until } from "./support/app";
import { Session } from "./support/session";

/** A full disk, and an ffmpeg that is missing, killed or hanging: a sentence each time, nothing half, and the production opens. */
const dir = mkdtempSync(join(tmpdir(), "umber-trouble-"));
const film = join(dir, "pier.mp4");

beforeAll(() => {
  const source = "testsrc2=s=320x192:r=25:d=4,noise=alls=20:allf=t";
  execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", source, "-pix_fmt", "yuv420p", "-c:v", "libx264", "-crf", "30", film]);
});

const jobs = (s: Session, shot: string) => s.get<Job[]>(`/api/shots/${shot}/renders`);
/** Renders, and waits for the job's end. */
const rendered = async (s: Session, shot: string): Promise<Job> => {
  const r = await s.post(`/api/shots/${shot}/renders`, { codec: "ffv1" });
  expect([r.status, r.value.error]).toEqual([200, null]);
  const id = r.value.id as string;
  return until("the job to end", async () => (await jobs(s, shot)).find((j) => j.id === id && j.state !== "queued" && j.state !== "running"));
};

describe("a full disk (a small file system of its own)", () => {
  const disk = join(dir, "disk");
  const filler = join(disk, "filler");
  let app: App;
  let s: Session;
  const fill = (leave = 0) => {
    const piece = Buffer.alloc(1 << 16, 1);
    const parts: Buffer[] = [];
    try {
      for (;;) {
        parts.push(piece);
        writeFileSync(filler, piece, { flag: "a" });
      }
    } catch {
      if (leave) execFileSync("truncate", ["-s", `-${leave}`, filler]);
    }
  };

  beforeAll(async () => {
    mkdirSync(disk);
    execFileSync("mount", ["-t", "tmpfs", "-o", "size=40m", "tmpfs", disk]);
    app = await startApp("start", disk);
    s = new Session(app);
  });
  afterAll(async () => {
    await app?.stop();
    execFileSync("umount", ["-l", disk]);
  });

  it("refuses edits and footage in a sentence, keeps what was stored, and goes on when there is room", async () => {
    expect((await s.upload("pier.mp4", readFileSync(film))).status).toBe(200);
    const { id } = await s.shot("pier");
    expect((await s.rename(id, 0, "edit-full-1", "kept")).status).toBe(200);
    const engine = app.pids().engine;
    fill();
    // the log of the database may have a page left; soon it has none
    let last = await s.rename(id, 1, "edit-full-2", "x".repeat(150));
    let rev = 1;
    for (let k = 3; last.status === 200 && k < 400; k++) {
      rev = last.value.rev as number;
      last = await s.rename(id, rev, `edit-full-${k}`, `${k} `.repeat(30));
    }
    expect([last.status, last.value.error]).toEqual([507, expect.stringContaining("The disk is full")]);
    const before = await s.document(id);
    expect(before.rev).toBe(rev);
    const up = await s.upload("again.mp4", readFileSync(film));
    expect([up.status, up.value.error]).toEqual([507, expect.stringContaining("The disk is full")]);
    expect(readdirSync(join(disk, "incoming"))).toEqual([]);
    const render = await s.post(`/api/shots/${id}/renders`, { codec: "ffv1" });
    // the database may have found a page for the job's row: then the job itself says it
    const refused =
      render.status === 200
        ? (await until("the job's end", async () => (await jobs(s, id)).find((j) => j.state === "failed"))).error
        : render.value.error;
    expect(refused).toContain("The disk is full");
    rmSync(filler);
    expect((await s.rename(id, rev, "edit-full-after", "after")).status).toBe(200);
    expect((await s.document(id)).recipe.name).toBe("after");
    expect(app.pids().engine).toBe(engine); // nothing fell over
  });

  it("fails a render that runs out of room, with no half file, and runs it again when there is room", async () => {
    const { id } = await s.shot("pier");
    await s.post("/api/cache", { empty: true });
    fill();
    await new Promise((r) => setTimeout(r, 600)); // until nothing is being made or cleared any more
    fill(1 << 18);
    const job = await rendered(s, id);
    expect([job.state, job.error]).toEqual(["failed", expect.stringContaining("The disk is full")]);
    expect(existsSync(join(disk, "renders", job.id))).toBe(false);
    rmSync(filler);
    await s.post(`/api/jobs/${job.id}/again`, {});
    await until("the job", async () => (await jobs(s, id)).find((j) => j.id === job.id)?.state === "done");
  });
});

describe("an ffmpeg that fails", () => {
  const mode = join(dir, "mode");
  const program = join(dir, "ffmpeg");
  let app: App;
  let s: Session;
  let shot: string;
  const as = (m: "well" | "hanging" | "killed" | "missing") => {
    rmSync(program, { force: true });
    writeFileSync(mode, m);
    const script = `#!/bin/sh\ncase "$(cat ${mode})" in\nhanging) exec sleep 600;;\nkilled) kill -9 $$;;\nesac\nexec ffmpeg "$@"\n`;
    if (m !== "missing") writeFileSync(program, script, { mode: 0o755 });
  };
  const sentences = { hanging: "did nothing for 6 s", killed: "was ended by SIGKILL", missing: "ffmpeg could not be started" } as const;

  beforeAll(async () => {
    as("well");
    app = await startApp("start", undefined, { FFMPEG_PATH: program, FFPROBE_PATH: "ffprobe", UMBER_STALL: "6" });
    s = new Session(app);
    await s.upload("pier.mp4", readFileSync(film));
    shot = (await s.shot("pier")).id;
    await s.document(shot);
  });
  afterAll(async () => app?.stop());

  /** On a busy machine even an ffmpeg that is well may do nothing for a while: it is asked again. */
  const shown = (asset: string | undefined, n: number) =>
    until(`frame ${n}`, async () => (await fetch(`${app.url}/api/takes/${asset}/frames/${n}`)).status === 200);

  it.each(["missing", "killed", "hanging"] as const)("%s: footage, frames and renders say so, and all is well afterwards", async (m) => {
    const { asset } = (await s.document(shot)).recipe.takes.a;
    for (const n of [0, 60, 99]) await shown(asset, n);
    await s.post("/api/cache", { empty: true });
    as(m);
    const frame = await fetch(`${app.url}/api/takes/${asset}/frames/60`);
    expect([frame.ok, ((await frame.json()) as { error: string }).error]).toEqual([false, expect.stringContaining(sentences[m])]);
    const job = await rendered(s, shot);
    expect([job.state, job.error]).toEqual(["failed", expect.stringContaining(sentences[m])]);
    expect((await s.upload("more.mp4", readFileSync(film))).status).toBe(200);
    await until("the take to be refused", async () => (await s.takes()).length === 1);
    expect((await s.document(shot)).recipe.shot.out).toBe(99);
    as("well");
    await shown(asset, 60);
    const state = async () => (await jobs(s, shot)).find((j) => j.id === job.id)!.state;
    await until("the job", async () => {
      const now = await state();
      if (now === "failed") await s.post(`/api/jobs/${job.id}/again`, {});
      return now === "done";
    });
  });
});
