import { and, asc, desc, eq, inArray } from "drizzle-orm";
import { createHash, randomUUID } from "node:crypto";
import { mkdir, readdir, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { assertRuns } from "../../core/compose/compose";
import { outputOf, type Recipe } from "../../core/document/recipe";
import { FORMATS } from "../../wire/formats";
import type { Job, RenderRequest } from "../../wire/job";
import type { Event } from "../../wire/shot";
import { NotFound } from "../db/documents";
import type { Db } from "../db/open";
import { jobs } from "../db/schema";
import { MediaError, said } from "../media/media-error";
import type { DataPaths } from "../paths";
import { checkFrames } from "../render/composer";
import { refuse } from "../render/encoder";
import { measuredOf } from "../../recipe/assets";
import { nextVersion, writtenName } from "../render/names";
import type { PictureName } from "../render/pictures";
import type { TakeFile } from "../render/spec";
import { stretchOnly } from "../render/stretch";
import { storedJson } from "../stored-json";
import { Stopped } from "../watch";
import { readRender, type StoredRender } from "./render-spec";
import type { Runner } from "./runner";

type Row = typeof jobs.$inferSelect;
const UNDER_WAY = ["queued", "running"] as const;
const CUT_OFF = "The program ended while this was running; it can be run again.";
const DAMAGED = "What was to be rendered is stored in a damaged form: start a new render in its place.";

/** Renders: stored with what they are made of, so that they outlive the program; one after another, stopped, and run again. */
export class Renders {
  /** Those of this process that wait or run. */
  private readonly under = new Map<string, { stop: AbortController; ended: Promise<void> }>();

  constructor(
    private readonly db: Db,
    private readonly paths: DataPaths,
    private readonly tell: (e: Event) => void,
    private readonly runner: Runner,
  ) {}

  /**
   * After a restart: what was running is shown as stopped, its half files are gone, and what waited for its turn waits again. What no
   * job knows is set aside, since it may be somebody's finished work. @returns what was set aside
   */
  async recover(): Promise<string[]> {
    for (const j of await this.db.select().from(jobs).where(eq(jobs.state, "running"))) {
      await this.db.update(jobs).set({ state: "stopped", error: CUT_OFF, endedAt: Date.now() }).where(eq(jobs.id, j.id));
      await rm(this.paths.render(j.id), { recursive: true, force: true });
    }
    const known = new Set((await this.db.select({ id: jobs.id }).from(jobs)).map((r) => r.id));
    const strange = (await readdir(this.paths.renders).catch(() => [])).filter((d) => !known.has(d));
    for (const d of strange) {
      await mkdir(join(this.paths.aside, "renders"), { recursive: true });
      await rename(join(this.paths.renders, d), join(this.paths.aside, "renders", `${d}-${Date.now()}`));
    }
    const waiting = await this.db.select().from(jobs).where(eq(jobs.state, "queued")).orderBy(asc(jobs.createdAt));
    waiting.forEach((j) => this.begin(j.id));
    return strange;
  }

  toJob(r: Row): Job {
    const spec = readRender(r.spec, r.id, r.file);
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

  /** Queues a render. The same recipe with the same settings that is already under way is not begun twice, however quickly it is asked for. */
  async add(
    shotId: string,
    shotName: string,
    rev: number,
    whole: Recipe,
    takes: Record<string, TakeFile>,
    pictures: Record<string, PictureName>,
    q: RenderRequest,
  ): Promise<Job> {
    const recipe = q.handles === undefined ? whole : stretchOnly(whole, q.handles);
    assertRuns(recipe);
    checkFrames(recipe, takes);
    const id = randomUUID();
    const written = await this.db.select({ file: jobs.file }).from(jobs).where(eq(jobs.shotId, shotId));
    const base = nextVersion(
      writtenName(shotName, q.what === "result" ? "mended" : q.what),
      written.map((w) => w.file),
    );
    const { extension, stills } = FORMATS[q.codec];
    const named = stills ? { file: base, stills: `${base}-####${extension}` } : { file: `${base}${extension}` };
    refuse(q.codec, join(this.paths.render(id), ...Object.values(named)), takes[recipe.shot.take].index, q.convert, q.what);
    const { codec, preset, crf, what, convert, look } = q;
    if (look && stills) throw new MediaError("A look is laid on films alone: choose the codec of a film, or leave it out.");
    const ids = Object.fromEntries(Object.entries(takes).map(([k, t]) => [k, t.id]));
    const spec: StoredRender = { job: id, rev, recipe, takes: ids, pictures, ...named, codec, preset, crf, what, convert, ...(look ? { look } : {}) };
    const range = outputOf(recipe);
    const row: Row = {
      id,
      shotId,
      spec: JSON.stringify(spec),
      specHash: createHash("sha256")
        .update(JSON.stringify([recipe, q, Object.values(takes).map((t) => [t.id, t.index.size])]))
        .digest("hex"),
      state: "queued",
      done: 0,
      total: range.out - range.in + 1,
      error: null,
      notes: "[]",
      file: named.file,
      bytes: null,
      createdAt: Date.now(),
      startedAt: null,
      endedAt: null,
    };
    // the database has only one job under way with what is to be done: the first of two that come at once
    const [claimed] = await this.db.insert(jobs).values(row).onConflictDoNothing().returning({ id: jobs.id });
    if (!claimed) {
      const same = await this.sameUnderWay(row.specHash);
      // it has ended just now: then this one is begun after all
      return same ? this.toJob(same) : this.add(shotId, shotName, rev, whole, takes, pictures, q);
    }
    this.begin(id);
    return this.toJob(row);
  }

  async stop(id: string): Promise<void> {
    this.under.get(id)?.stop.abort();
    await Promise.resolve();
  }

  /** Ends jobs that were removed, and says nothing more of them. */
  async drop(ids: string[]): Promise<void> {
    const mine = ids.flatMap((id) => this.under.get(id) ?? []);
    mine.forEach((u) => u.stop.abort());
    await Promise.all(mine.map((u) => u.ended));
  }

  /** Ids of the takes a job reads, and hashes of what was measured for it; none where what is stored of it is damaged. */
  async readBy(id: string): Promise<{ takes: string[]; measured: string[] }> {
    const { spec, file } = await this.row(id);
    const read = readRender(spec, id, file);
    return { takes: Object.values(read?.takes ?? {}), measured: read ? [...measuredOf(read.recipe), ...(read.look ? [read.look.data] : [])] : [] };
  }

  /** Runs a stopped or failed job again, from its own recipe. */
  async again(id: string): Promise<Job> {
    const r = await this.row(id);
    if (!readRender(r.spec, id, r.file)) throw new MediaError(DAMAGED);
    if (r.state === "queued" || r.state === "running") return this.toJob(r);
    const same = await this.sameUnderWay(r.specHash);
    if (same) return this.toJob(same);
    await this.set(id, { state: "queued", done: 0, error: null, notes: "[]", bytes: null, startedAt: null, endedAt: null });
    this.begin(id);
    return this.toJob(await this.row(id));
  }

  /** The job that waits or runs and does just the same, if there is one. */
  private async sameUnderWay(specHash: string): Promise<Row | undefined> {
    const [same] = await this.db
      .select()
      .from(jobs)
      .where(and(eq(jobs.specHash, specHash), inArray(jobs.state, [...UNDER_WAY])));
    return same;
  }

  private begin(id: string): void {
    const stop = new AbortController();
    const ended = this.work(id, stop.signal).finally(() => this.under.delete(id));
    this.under.set(id, { stop, ended });
  }

  /** Waits for its turn and writes. What goes wrong is the job's to tell. */
  private async work(id: string, signal: AbortSignal): Promise<void> {
    let done = 0;
    let began: Promise<unknown> | null = null;
    const folder = this.paths.render(id);
    try {
      const row = await this.row(id);
      const spec = readRender(row.spec, id, row.file);
      if (!spec) throw new MediaError(DAMAGED);
      const { rev: _, ...told } = spec;
      await rm(folder, { recursive: true, force: true });
      const starts = async () => {
        await mkdir(folder, { recursive: true });
        await this.set(id, { state: "running", startedAt: Date.now() });
      };
      const progress = (n: number, total: number) => {
        done = n;
        this.tell({ type: "job", job: { ...this.toJob(row), state: "running", startedAt: row.startedAt ?? Date.now(), done: n, total } });
      };
      const notes = await this.runner.run("render", told, { signal, progress, starts: () => (began = starts()) });
      await began;
      await this.set(id, { state: "done", done, notes: JSON.stringify(notes), bytes: await sizeOf(join(folder, row.file)), endedAt: Date.now() });
    } catch (e) {
      await Promise.resolve(began).catch(() => undefined);
      // first its half-written file goes, then it is said
      await rm(folder, { recursive: true, force: true });
      const stopped = e instanceof Stopped;
      await this.set(id, {
        state: stopped ? "stopped" : "failed",
        done,
        error: began || !stopped ? said(e, "The render failed") : null,
        endedAt: Date.now(),
      });
    }
  }

  private async row(id: string): Promise<Row> {
    const [r] = await this.db.select().from(jobs).where(eq(jobs.id, id));
    if (!r) throw new NotFound("This render does not exist (any more).");
    return r;
  }

  /** Changes what is stored of a job, and tells of it; of one that was removed meanwhile there is nothing to tell. */
  private async set(id: string, change: Partial<Row>): Promise<void> {
    const [r] = await this.db.update(jobs).set(change).where(eq(jobs.id, id)).returning();
    if (r) this.tell({ type: "job", job: this.toJob(r) });
  }
}

async function sizeOf(path: string): Promise<number> {
  const s = await stat(path).catch(() => null);
  if (!s) throw new MediaError("The rendered file is missing.");
  if (!s.isDirectory()) return s.size;
  const sizes = await Promise.all((await readdir(path)).map((f) => stat(join(path, f))));
  return sizes.reduce((a, b) => a + b.size, 0);
}
