import { desc, eq, inArray } from "drizzle-orm";
import { type ChildProcess, fork } from "node:child_process";
import { createHash, randomUUID } from "node:crypto";
import { mkdir, readdir, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { assertRuns } from "../../core/compose/compose";
import { outputOf, type Recipe } from "../../core/document";
import type { Event, Job, RenderRequest } from "../../wire/shot";
import { NotFound } from "../db/documents";
import type { Db } from "../db/open";
import { jobs } from "../db/schema";
import { MediaError } from "../media/media-error";
import { writtenName } from "../render/names";
import { writeWhole } from "../media/index-file";
import type { DataPaths } from "../paths";
import { isSequence, refuse } from "../render/encoder";
import { checkFrames } from "../render/composer";
import type { PictureFile } from "../render/pictures";
import type { TakeFile } from "../render/spec";
import { stretchOnly } from "../render/stretch";
import type { JobMessage, JobSpec } from "./render-job";
import { storedJson } from "../stored-json";

type Row = typeof jobs.$inferSelect;
type Stored = JobSpec & { rev: number };

const EXT: Record<RenderRequest["codec"], string> = { h264: ".mp4", prores: ".mov", ffv1: ".mkv", vp9: ".webm", png: "", tiff: "" };

/** Renders, one after another, each in a process of its own; they can be stopped and run again. */
export class Renders {
  private readonly queue: string[] = [];
  private running: { id: string; child: ChildProcess } | null = null;

  constructor(
    private readonly db: Db,
    private readonly paths: DataPaths,
    private readonly tell: (e: Event) => void,
    private readonly workerPath: string,
    public cacheLimit: number,
  ) {}

  /**
   * After a restart: what was queued or running is shown as stopped, and its half files are gone. What no job knows is set aside,
   * since it may be somebody's finished work. @returns what was set aside
   */
  async recover(): Promise<string[]> {
    const cut = await this.db
      .select()
      .from(jobs)
      .where(inArray(jobs.state, ["queued", "running"]));
    for (const j of cut) {
      await this.db
        .update(jobs)
        .set({ state: "stopped", error: "The program ended while this was running; it can be run again.", endedAt: Date.now() })
        .where(eq(jobs.id, j.id));
      await rm(this.paths.render(j.id), { recursive: true, force: true });
    }
    const known = new Set((await this.db.select({ id: jobs.id }).from(jobs)).map((r) => r.id));
    const strange = (await readdir(this.paths.renders).catch(() => [])).filter((d) => !known.has(d));
    for (const d of strange) {
      await mkdir(join(this.paths.aside, "renders"), { recursive: true });
      await rename(join(this.paths.renders, d), join(this.paths.aside, "renders", `${d}-${Date.now()}`));
    }
    return strange;
  }

  toJob(r: Row): Job {
    const spec = storedJson<Stored>(r.spec);
    return {
      id: r.id,
      shotId: r.shotId,
      state: r.state,
      done: r.done,
      total: r.total,
      error: r.error,
      notes: storedJson<string[]>(r.notes) ?? [],
      file: r.file,
      bytes: r.bytes,
      codec: spec?.codec ?? "",
      rev: spec?.rev ?? 0,
      createdAt: r.createdAt,
      startedAt: r.startedAt,
      endedAt: r.endedAt,
    };
  }

  async list(shotId: string): Promise<Job[]> {
    return (await this.db.select().from(jobs).where(eq(jobs.shotId, shotId)).orderBy(desc(jobs.createdAt))).map((r) => this.toJob(r));
  }

  async get(id: string): Promise<Job & { path: string }> {
    const r = await this.row(id);
    return { ...this.toJob(r), path: join(this.paths.render(id), r.file) };
  }

  /** Queues a render. The same recipe with the same settings that is already under way is not begun twice. */
  async add(
    shotId: string,
    shotName: string,
    rev: number,
    whole: Recipe,
    takes: Record<string, TakeFile>,
    pictures: Record<string, PictureFile>,
    q: RenderRequest,
  ): Promise<Job> {
    const recipe = q.handles === undefined ? whole : stretchOnly(whole, q.handles);
    assertRuns(recipe);
    checkFrames(recipe, takes);
    const id = randomUUID();
    const base = writtenName(shotName, q.what === "result" ? "mended" : q.what);
    const stills = isSequence(q.codec);
    const file = `${base}${EXT[q.codec]}`;
    const out = join(this.paths.render(id), file, stills ? `${base}-####.${q.codec === "png" ? "png" : "tif"}` : "").replace(/\/$/, "");
    refuse(q.codec, out, takes[recipe.shot.take].index, q.convert, q.what);
    const spec: Stored = {
      recipe,
      rev,
      out,
      codec: q.codec,
      preset: q.preset,
      crf: q.crf,
      what: q.what,
      convert: q.convert,
      pictures,
      cache: this.paths.cache,
      cacheLimit: this.cacheLimit,
      takes: Object.fromEntries(Object.entries(takes).map(([k, t]) => [k, { id: t.id, index: this.paths.index(t.id) }])),
    };
    const specHash = createHash("sha256")
      .update(JSON.stringify([recipe, q, Object.values(takes).map((t) => [t.id, t.index.size])]))
      .digest("hex");
    const same = (await this.db.select().from(jobs).where(eq(jobs.specHash, specHash))).find((j) => j.state === "queued" || j.state === "running");
    if (same) return this.toJob(same);
    const range = outputOf(recipe);
    const row: Row = {
      id,
      shotId,
      spec: JSON.stringify(spec),
      specHash,
      state: "queued",
      done: 0,
      total: range.out - range.in + 1,
      error: null,
      notes: "[]",
      file,
      bytes: null,
      createdAt: Date.now(),
      startedAt: null,
      endedAt: null,
    };
    await this.db.insert(jobs).values(row);
    this.queue.push(id);
    void this.next();
    return this.toJob(row);
  }

  async stop(id: string): Promise<void> {
    const at = this.queue.indexOf(id);
    if (at >= 0) {
      this.queue.splice(at, 1);
      await this.set(id, { state: "stopped", endedAt: Date.now() });
    } else if (this.running?.id === id) {
      const { child } = this.running;
      child.send("stop");
      setTimeout(() => child.kill("SIGKILL"), 4000).unref();
    }
  }

  /** Ends jobs that were removed, and says nothing more of them. */
  drop(ids: string[]): Promise<void> {
    for (const id of ids) if (this.queue.includes(id)) this.queue.splice(this.queue.indexOf(id), 1);
    const now = this.running;
    if (!now || !ids.includes(now.id)) return Promise.resolve();
    now.child.kill("SIGKILL");
    return new Promise((r) => now.child.once("close", () => r()));
  }

  /** Ids of the takes a job reads; none where what is stored of it is damaged. */
  async takesOf(id: string): Promise<string[]> {
    return Object.values(storedJson<Stored>((await this.row(id)).spec)?.takes ?? {}).map((t) => t.id);
  }

  /** Runs a stopped or failed job again, from its own recipe. */
  async again(id: string): Promise<Job> {
    const r = await this.row(id);
    if (!storedJson<Stored>(r.spec)) throw new MediaError("What was to be rendered is stored in a damaged form: start a new render in its place.");
    if (r.state === "queued" || r.state === "running") return this.toJob(r);
    await this.set(id, { state: "queued", done: 0, error: null, notes: "[]", bytes: null, startedAt: null, endedAt: null });
    this.queue.push(id);
    void this.next();
    return this.toJob(await this.row(id));
  }

  private async next(): Promise<void> {
    if (this.running || this.queue.length === 0) return;
    const id = this.queue.shift()!;
    const folder = this.paths.render(id);
    const row = await this.row(id);
    await rm(folder, { recursive: true, force: true });
    await mkdir(folder, { recursive: true });
    const specFile = join(folder, "spec.json");
    await writeWhole(specFile, row.spec);
    await this.set(id, { state: "running", startedAt: Date.now() });
    const child = fork(this.workerPath, [specFile], { stdio: ["ignore", "ignore", "inherit", "ipc"] });
    this.running = { id, child };
    let result: JobMessage | null = null;
    let done = 0;
    child.on("message", (m: JobMessage) => {
      if ("done" in m) {
        done = m.done;
        this.tell({
          type: "job",
          job: { ...this.toJob(row), state: "running", startedAt: row.startedAt ?? Date.now(), done: m.done, total: m.total },
        });
      } else result = m;
    });
    child.on("close", () => void this.finished(id, result, done, join(folder, row.file)));
    child.on("error", () => undefined);
  }

  private async finished(id: string, result: JobMessage | null, done: number, path: string): Promise<void> {
    this.running = null;
    if (!(await this.known(id))) return void this.next();
    await rm(join(this.paths.render(id), "spec.json"), { force: true });
    if (result && "notes" in result) {
      await this.set(id, { state: "done", done, notes: JSON.stringify(result.notes), bytes: await sizeOf(path), endedAt: Date.now() });
    } else {
      const stopped = !!result && "error" in result && result.stopped;
      // first its half-written file goes, then it is said
      await rm(this.paths.render(id), { recursive: true, force: true });
      await this.set(id, {
        state: stopped ? "stopped" : "failed",
        done,
        error: result && "error" in result ? result.error : "The render ended unexpectedly; run it again.",
        endedAt: Date.now(),
      });
    }
    void this.next();
  }

  private async known(id: string): Promise<boolean> {
    return (await this.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, id))).length > 0;
  }

  private async row(id: string): Promise<Row> {
    const [r] = await this.db.select().from(jobs).where(eq(jobs.id, id));
    if (!r) throw new NotFound("This render does not exist (any more).");
    return r;
  }

  private async set(id: string, change: Partial<Row>): Promise<void> {
    await this.db.update(jobs).set(change).where(eq(jobs.id, id));
    this.tell({ type: "job", job: this.toJob(await this.row(id)) });
  }
}

async function sizeOf(path: string): Promise<number> {
  const s = await stat(path).catch(() => null);
  if (!s) throw new MediaError("The rendered file is missing.");
  if (!s.isDirectory()) return s.size;
  const sizes = await Promise.all((await readdir(path)).map((f) => stat(join(path, f))));
  return sizes.reduce((a, b) => a + b.size, 0);
}
