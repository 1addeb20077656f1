import { mkdir, readdir, readFile, rename, rm, stat } from "node:fs/promises";
import { basename, extname, join } from "node:path";
import PQueue from "p-queue";
import { QUICK_INDEX, QUICK_PACK } from "../../wire/layout";
import type { Event } from "../../wire/shot";
import type { Take, TakeInfo } from "../../wire/take";
import { NotYet } from "../db/documents";
import type { Library, StillsOf, TakeRow } from "./library";
import { readIndex, type TakeIndex, writeWhole } from "../media/index-file";
import { storedJson } from "../stored-json";
import { ingest } from "../media/ingest";
import { MediaError, said } from "../media/media-error";
import { type Print, printOf } from "../media/print";
import { probe } from "../media/probe";
import { type Doing, doing } from "../life";
import { inOrder, openSequence } from "../media/sequence";
import type { DataPaths } from "../paths";

/** Files the original of a take consists of. */
export const originalsOf = (r: Pick<TakeRow, "path" | "stills">): string[] => (r.stills ? (JSON.parse(r.stills) as StillsOf).paths : [r.path]);

const withTurn = ({ turned: _, ...info }: TakeInfo, turned: TakeInfo["turned"]): TakeInfo => ({
  ...info,
  ...(turned === undefined ? {} : { turned }),
});

/** Where the last quick frame ends in its pack. */
async function lastEnd(index: string): Promise<number> {
  const bytes = await readFile(index);
  return bytes.length < 8 ? 0 : bytes.readDoubleLE(bytes.length - 8);
}

/** Brings takes in: looks at a file, then reads it through once in the background. */
export class Takes {
  private readonly indexes = new Map<string, Promise<TakeIndex>>();
  private readonly under = new Map<string, AbortController>();
  /** Indexes of takes that are still being read. */
  private readonly growing = new Map<string, TakeIndex>();
  /** Told when a take has been read. */
  read: (takeId: string) => void = () => undefined;
  /** Takes that are read at once: a short one need not wait for a long one, and more would only share the same processors. */
  private readonly queue = new PQueue({ concurrency: 2 });
  /** Told when a take has been read and has another count of frames than it claimed. */
  counted: (takeId: string, claimed: number, frames: number) => Promise<void> = () => Promise.resolve();

  constructor(
    private readonly library: Library,
    private readonly paths: DataPaths,
    private readonly tell: (e: Event) => void,
    /** What the engine hung on before: such a take is not read again by itself. */
    private readonly aside: Doing[] = [],
  ) {}

  /** How far a take has been read, while it is being read. */
  reading(id: string): TakeIndex | null {
    return this.growing.get(id) ?? null;
  }

  /** @throws MediaError while one of the takes is being read */
  async whole(ids: string[]): Promise<void> {
    for (const id of ids) {
      const g = this.growing.get(id);
      if (!g) continue;
      const { name } = await this.library.takeRow(id);
      throw new MediaError(
        `“${name}” is still being read (${g.times.length} of about ${g.info.frames} frames): do this again when all of it is there.`,
      );
    }
  }

  index(id: string): Promise<TakeIndex> {
    const growing = this.growing.get(id);
    if (growing) return Promise.resolve(growing);
    let i = this.indexes.get(id);
    if (!i) {
      i = readIndex(this.paths.index(id)).catch(async () => {
        this.indexes.delete(id);
        await this.again(id);
        throw new NotYet("What is known of this take was lost and is being read again: wait until it is there.");
      });
      i.catch(() => undefined);
      this.indexes.set(id, i);
    }
    return i;
  }

  /** The index, whole on disk too, where processes of their own read it. */
  async onDisk(id: string): Promise<TakeIndex> {
    const index = await this.index(id);
    if (!this.growing.has(id)) await readIndex(this.paths.index(id)).catch(() => writeWhole(this.paths.index(id), JSON.stringify(index)));
    return index;
  }

  /** A take that was read, and whose index is lost or cut off, is read again by itself. */
  private async again(id: string): Promise<void> {
    const row = await this.library.takeRow(id);
    if (row.state !== "ready" || this.under.has(id)) return;
    this.tell({ type: "take", take: await this.library.setTake(id, { state: "reading" }) });
    void this.readThrough(id, row.name);
  }

  /** Quick frames that were cut off are made again, with the rest of what is read of a take. */
  async checkQuick(id: string): Promise<void> {
    const row = await this.library.takeRow(id);
    if (row.state !== "ready") return;
    const { info } = await this.index(id);
    const size = (file: string) =>
      stat(join(this.paths.take(id), file)).then(
        (s) => s.size,
        () => -1,
      );
    if ((await size(QUICK_INDEX)) === 8 * info.frames && (await size(QUICK_PACK)) === (await lastEnd(join(this.paths.take(id), QUICK_INDEX)))) return;
    await this.again(id);
  }

  there(id: string): Promise<boolean> {
    return this.library.hasTake(id);
  }

  /** Adds an uploaded file (which is moved), or one used in place. What is no video is refused and leaves nothing. */
  async add(productionId: string, name: string, file: string, inPlace: boolean, note = ""): Promise<Take> {
    try {
      await probe(file);
    } catch (e) {
      if (!inPlace) await rm(file, { force: true });
      throw e instanceof MediaError ? new MediaError(e.message.replaceAll(`“${basename(file)}”`, `“${name}”`)) : e;
    }
    let path = file;
    const take = await this.library.addTake(productionId, name, path, !inPlace, null, note);
    await mkdir(this.paths.take(take.id), { recursive: true });
    if (!inPlace) {
      path = join(
        this.paths.take(take.id),
        `original${extname(name)
          .toLowerCase()
          .replace(/[^.a-z0-9]/g, "")}`,
      );
      await rename(file, path);
      await this.library.setTake(take.id, { path });
    }
    this.tell({ type: "productions" });
    void this.readThrough(take.id, name);
    return take;
  }

  /** Adds numbered stills: a folder that was uploaded (which is moved), or paths used in place. */
  async addStills(
    productionId: string,
    name: string,
    from: { folder: string } | { paths: string[] },
    rate: [number, number],
    note = "",
  ): Promise<Take> {
    const own = "folder" in from;
    const list = async (folder: string) => inOrder((await readdir(folder)).map((f) => join(folder, f)));
    let paths: string[];
    try {
      paths = own ? await list(from.folder) : from.paths;
      // looked at where they lie, so that what is refused leaves nothing
      const trial = `${own ? from.folder : join(this.paths.incoming, String(process.hrtime.bigint()))}-links`;
      await openSequence(paths, rate, trial).finally(() => rm(trial, { recursive: true, force: true }));
    } catch (e) {
      if (own) await rm(from.folder, { recursive: true, force: true });
      throw e;
    }
    const take = await this.library.addTake(productionId, name, paths[0], own, { paths, rate }, note);
    await mkdir(this.paths.take(take.id), { recursive: true });
    if (own) {
      const folder = join(this.paths.take(take.id), "stills");
      await rename(from.folder, folder);
      paths = await list(folder);
      await this.library.setTake(take.id, { path: paths[0], stills: JSON.stringify({ paths, rate } satisfies StillsOf) });
    }
    this.tell({ type: "productions" });
    void this.readThrough(take.id, name);
    return take;
  }

  /**
   * Puts numbered stills in the other order, or gives them another rate: they are read again. `cleared` drops what was made
   * from the old order. @throws MediaError once somebody works on them, since every frame would have another number
   */
  async order(id: string, reversed: boolean, rate: [number, number], cleared: () => Promise<void>): Promise<void> {
    const row = await this.library.takeRow(id);
    if (!row.stills) throw new MediaError(`“${row.name}” is a film and has its own order and rate; only numbered stills can be put in another.`);
    await this.whole([id]);
    const now = JSON.parse(row.stills) as StillsOf;
    if ((now.reversed === true) !== reversed) {
      const busy = (await this.library.productions()).flatMap((p) => p.shots).filter((s) => s.takeId === id && (s.layers || s.intruders));
      if (busy.length)
        throw new MediaError(`“${row.name}” is being worked on, and in the other order every frame has another number: take its patches out first.`);
    }
    const paths = (now.reversed === true) !== reversed ? now.paths.toReversed() : now.paths;
    const stills: StillsOf = { paths, rate, ...(reversed ? { reversed } : {}) };
    await cleared();
    await rm(join(this.paths.take(id), "links"), { recursive: true, force: true });
    await rm(this.paths.index(id), { force: true });
    this.indexes.delete(id);
    this.library.quick.delete(id);
    const take = await this.library.setTake(id, { state: "reading", path: paths[0], stills: JSON.stringify(stills) });
    this.tell({ type: "take", take });
    void this.readThrough(id, row.name);
  }

  /** Takes whose reading was cut short begin again. */
  async resume(): Promise<void> {
    for (const t of await this.library.takesInState("reading")) void this.readThrough(t.id, t.name);
  }

  /** The original of a read take lies elsewhere now; `print` is what was found there. */
  async moved(id: string, paths: string[], print: Print): Promise<void> {
    const row = await this.library.takeRow(id);
    const index = await this.index(id);
    let { sequence } = index;
    let stills = row.stills;
    if (row.stills && sequence) {
      const { rate } = JSON.parse(row.stills) as StillsOf;
      await rm(sequence.folder, { recursive: true, force: true });
      sequence = (await openSequence(paths, rate, sequence.folder)).sequence;
      stills = JSON.stringify({ paths, rate } satisfies StillsOf);
    }
    await writeWhole(this.paths.index(id), JSON.stringify({ ...index, path: paths[0], ...(sequence ? { sequence } : {}) }));
    this.indexes.delete(id);
    await this.library.setTake(id, { path: paths[0], stills, print: JSON.stringify(print) });
  }

  /** A take is shown, and its renders are flagged, turned by so many degrees clockwise; null goes by its own flag. */
  async turn(id: string, turned: TakeInfo["turned"] | null): Promise<Take> {
    await this.whole([id]);
    const index = await this.index(id);
    const info = withTurn(index.info, turned ?? undefined);
    await writeWhole(this.paths.index(id), JSON.stringify({ ...index, info }));
    this.indexes.delete(id);
    const take = await this.library.setTake(id, { info: JSON.stringify(info) });
    this.tell({ type: "take", take });
    return take;
  }

  /** Stops reading a take and forgets it. */
  forget(id: string): void {
    this.under.get(id)?.abort();
    this.indexes.delete(id);
    this.library.quick.delete(id);
    this.library.trouble.delete(id);
  }

  /** Reads a take to its end once its turn has come. */
  private async readThrough(id: string, name: string): Promise<void> {
    const stop = new AbortController();
    this.under.set(id, stop);
    await this.queue.add(async () => {
      if (stop.signal.aborted) this.under.delete(id);
      else await this.readNow(id, name, stop);
    });
  }

  private async readNow(id: string, name: string, stop: AbortController): Promise<void> {
    const key = `take ${id}`;
    const setAside = this.aside.some((a) => a.key === key);
    const ended = doing({ key, words: `reading “${name}”` });
    const row = await this.library.takeRow(id);
    const { path } = row;
    // what was set by hand stays when a take is read again
    const turned = storedJson<TakeInfo>(row.info)?.turned;
    let last = 0;
    let early: Promise<unknown> = Promise.resolve();
    const shotName = name.replace(/\.[^.]+$/, "").replace(/[.\s_-]*#+$/, "");
    try {
      if (setAside)
        throw new MediaError(
          `“${name}” was set aside, since the program stopped answering while it was read: end the program and start it again to try it once more.`,
        );
      const print = await printOf(originalsOf(row)).catch(() => {
        throw new MediaError(`“${name}” was not found: check whether it was moved, or its disk taken out, and bring it in again.`);
      });
      const stills = row.stills ? (JSON.parse(row.stills) as StillsOf) : null;
      const opened = stills && (await openSequence(stills.paths, stills.rate, join(this.paths.take(id), "links")));
      const index = await ingest(path, {
        quickFolder: this.paths.take(id),
        signal: stop.signal,
        begun: (g) => {
          g.info = withTurn(g.info, turned);
          this.growing.set(id, g);
          early = this.begin(id, shotName, g);
          early.catch(() => undefined);
        },
        ...(opened ? { sequence: opened.sequence } : {}),
        progress: (n) => {
          this.library.quick.set(id, n);
          if (Date.now() - last < 250) return;
          last = Date.now();
          void this.library.takeRow(id).then(
            (r) => this.tell({ type: "take", take: this.library.toTake(r) }),
            () => undefined,
          );
        },
      });
      if (opened) index.info.notes.push(...opened.notes);
      index.info = withTurn(index.info, turned);
      await writeWhole(this.paths.index(id), JSON.stringify(index));
      await early;
      const claimed = this.growing.get(id)?.info.frames;
      await this.library.addShot(id, shotName, index.info);
      // before it counts as read: cut off here, it is read and counted again
      if (claimed && claimed !== index.info.frames) await this.counted(id, claimed, index.info.frames);
      const take = await this.library.setTake(id, { state: "ready", info: JSON.stringify(index.info), print: JSON.stringify(print) });
      this.growing.delete(id);
      this.tell({ type: "take", take });
      this.tell({ type: "productions" });
      this.read(id);
    } catch (e) {
      if (stop.signal.aborted) return;
      const error = said(e, `Reading “${name}” failed`).replaceAll(`“${basename(path)}”`, `“${name}”`);
      await early.catch(() => undefined);
      const left = await this.library.takeRow(id).catch(() => null);
      // what was read before, or was set aside, is kept: only what never was a take goes
      const fresh = row.print === null && !setAside;
      if (fresh && (await this.library.dropUnused(id))) {
        await rm(this.paths.take(id), { recursive: true, force: true });
        if (left) this.tell({ type: "take", take: { ...this.library.toTake(left), state: "failed", error } });
      } else this.tell({ type: "take", take: await this.library.setTake(id, { state: "failed", error }) });
      this.tell({ type: "productions" });
    } finally {
      ended();
      this.under.delete(id);
      this.growing.delete(id);
    }
  }

  /** A take whose size and rate are known gets its shot at once: one can work on what is read so far. */
  private async begin(id: string, shotName: string, g: TakeIndex): Promise<void> {
    const take = await this.library.setTake(id, { info: JSON.stringify(g.info) });
    await this.library.addShot(id, shotName, g.info);
    this.tell({ type: "take", take });
    this.tell({ type: "productions" });
  }
}
