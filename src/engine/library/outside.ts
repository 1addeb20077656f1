import { createHash, randomUUID } from "node:crypto";
import { type FSWatcher, watch } from "node:fs";
import { mkdir, readdir, readFile, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import type { PlateFile } from "../../wire/plate";
import type { Event } from "../../wire/shot";
import { type Documents, Stale } from "../db/documents";
import type { OnShot } from "../jobs/kinds/on-shot";
import type { Runner } from "../jobs/runner";
import { writeWhole } from "../media/index-file";
import { MediaError, said } from "../media/media-error";
import type { DataPaths } from "../paths";
import type { Plates } from "./plates";
import { outsidePaths } from "./outside-paths";
import { storedJson } from "../stored-json";

/** What lies beside a plate that was written out. */
interface Note {
  shot: string;
  plate: string;
  name: string;
  kind: PlateFile;
  width: number;
  height: number;
  /** Hash of the file as it was last seen. */
  seen: string;
}

/** Milliseconds in which nothing may happen to a file before it counts as saved. */
const CALM = 250;

/** Plates that are retouched elsewhere: written out, watched, and taken back the moment their file changes. */
export class Outside {
  private readonly watchers = new Map<string, FSWatcher>();
  private readonly writing = new Map<string, Promise<string>>();
  private readonly timers = new Map<string, NodeJS.Timeout>();

  constructor(
    private readonly paths: DataPaths,
    private readonly plates: Plates,
    private readonly runner: Runner,
    private readonly documents: Documents,
    private readonly tell: (e: Event) => void,
  ) {}

  private at(shot: string, plate: string) {
    return outsidePaths(this.paths, this.name(shot, plate));
  }
  private name(shot: string, plate: string): string {
    return `${shot}-${createHash("sha256").update(plate).digest("hex").slice(0, 8)}`;
  }

  /** After a restart: what was written out is watched again. */
  async resume(): Promise<void> {
    for (const d of await readdir(join(this.paths.outside, ".kept")).catch(() => [])) {
      this.watch(d);
      this.soon(d);
    }
  }

  /** Where a plate was written to, if it was. */
  async path(shot: string, plate: string): Promise<string | null> {
    const name = this.name(shot, plate);
    const note = await this.note(name);
    return note && outsidePaths(this.paths, name).picture(note.kind);
  }

  private async note(name: string): Promise<Note | null> {
    return storedJson<Note>(await readFile(outsidePaths(this.paths, name).note, "utf8").catch(() => null));
  }

  /** Writes a plate of a shot out and watches it; one writing at a time, so that a second wish meanwhile gets what the first one writes. */
  write(shot: string, plate: string, kind: PlateFile, n: number, on: () => Promise<OnShot>): Promise<string> {
    const name = this.name(shot, plate);
    let job = this.writing.get(name);
    if (!job) {
      job = this.written(shot, plate, kind, n, on).finally(() => this.writing.delete(name));
      this.writing.set(name, job);
    }
    return job;
  }

  private async written(shot: string, plate: string, kind: PlateFile, n: number, on: () => Promise<OnShot>): Promise<string> {
    const spec = await on();
    const name = this.name(shot, plate);
    const at = this.at(shot, plate);
    const to = { picture: randomUUID(), bare: randomUUID() };
    const size = await this.runner.run("writeOut", { ...spec, plate, n, kind, to });
    this.watchers.get(name)?.close();
    await rm(at.folder, { recursive: true, force: true });
    await mkdir(at.folder, { recursive: true });
    await mkdir(at.own, { recursive: true });
    const path = at.picture(kind);
    await rename(this.paths.arriving(to.bare), at.bare);
    const seen = hash(await readFile(this.paths.arriving(to.picture)));
    await rename(this.paths.arriving(to.picture), path);
    const note: Note = { shot, plate, name: spec.recipe.plates[plate].name || plate, kind, ...size, seen };
    await writeWhole(at.note, JSON.stringify(note));
    this.watch(name);
    return path;
  }

  /** Leaves off watching a plate; what came back stays. */
  async end(shot: string, plate: string): Promise<void> {
    const name = this.name(shot, plate);
    const { folder, own } = this.at(shot, plate);
    this.watchers.get(name)?.close();
    this.watchers.delete(name);
    await rm(own, { recursive: true, force: true });
    await rm(folder, { recursive: true, force: true });
  }

  private watch(name: string): void {
    try {
      // the folder and not the file: many programs save beside it and rename
      const w = watch(outsidePaths(this.paths, name).folder, () => this.soon(name));
      w.on("error", () => w.close());
      this.watchers.set(name, w);
    } catch {
      // the folder has gone: nothing can come back from it
    }
  }

  private soon(name: string): void {
    clearTimeout(this.timers.get(name));
    this.timers.set(
      name,
      setTimeout(() => {
        this.timers.delete(name);
        void this.look(name);
      }, CALM),
    );
  }

  /** Takes back what has changed. */
  private async look(name: string): Promise<void> {
    const note = await this.note(name);
    if (!note) return;
    const at = outsidePaths(this.paths, name);
    const path = at.picture(note.kind);
    const before = await stat(path).catch(() => null);
    if (!before) return;
    const bytes = await readFile(path).catch(() => null);
    const after = await stat(path).catch(() => null);
    if (!bytes || bytes.length === 0 || after?.mtimeMs !== before.mtimeMs || after.size !== bytes.length) return this.soon(name);
    const seen = hash(bytes);
    if (seen === note.seen) return;
    await writeWhole(at.note, JSON.stringify({ ...note, seen } satisfies Note));
    try {
      const words = await this.takeBack(name, note);
      this.tell({ type: "returned", shotId: note.shot, plate: note.plate, words, failed: false });
    } catch (e) {
      const words = said(e, `“${note.name}” came back and could not be taken in`);
      this.tell({ type: "returned", shotId: note.shot, plate: note.plate, words, failed: true });
    }
  }

  private async takeBack(name: string, note: Note): Promise<string> {
    const { kind, width, height } = note;
    const to = randomUUID();
    const back = await this.runner.run("comeBack", { folder: name, kind, width, height, to });
    if (!back.changed) {
      await this.change(note, null, `${note.name} came back as it was written`);
      return `${note.name} came back as it was written: nothing has changed.`;
    }
    const { asset } = await this.plates.add(this.paths.arriving(to), "picture.png");
    const { x0, y0, x1, y1 } = back.box!;
    await this.change(note, { asset }, `${note.name} came back retouched`);
    return `${note.name} came back: ${back.changed} pixels have changed, in ${x1 - x0}×${y1 - y0} at ${x0}, ${y0}; the rest keeps its own samples.`;
  }

  /** Puts what came back into the recipe, as one step of its history. */
  private async change(note: Note, value: { asset: string } | null, name: string): Promise<void> {
    for (;;) {
      const { rev, recipe } = await this.documents.read(note.shot);
      const plate = recipe.plates[note.plate];
      if (!plate) throw new MediaError(`${note.name} came back, and the shot has no such plate any more: undo its deletion, then save it once more.`);
      const path = ["plates", note.plate, "returned"];
      const was = plate.returned;
      if (!was && !value) return;
      const set = (v: unknown, had: boolean) =>
        v ? { op: had ? ("replace" as const) : ("add" as const), path, value: v } : { op: "remove" as const, path };
      try {
        const answer = await this.documents.edit(note.shot, {
          editId: randomUUID(),
          base: rev,
          name,
          patches: [set(value, !!was)],
          inverse: [set(was, !!value)],
        });
        return this.tell({ type: "shot", id: note.shot, rev: answer.rev });
      } catch (e) {
        if (!(e instanceof Stale)) throw e; // somebody edits meanwhile: on top of that, then
      }
    }
  }
}

const hash = (b: Uint8Array) => createHash("sha256").update(b).digest("hex");
