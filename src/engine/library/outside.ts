import { createHash, randomUUID } from "node:crypto";
import { type FSWatcher, watch } from "node:fs";
import { mkdir, readdir, readFile, rm, stat } from "node:fs/promises";
import { basename, join } from "node:path";
import { sharp } from "../media/sharp";
import type { Colour } from "../../core/pixels/colour";
import type { Frame } from "../../core/pixels/frame";
import { toRgb16 } from "../../core/pixels/toRgb";
import type { z } from "zod";
import type { outsideRequestSchema } from "../../wire/plate";
import type { Event } from "../../wire/shot";
import { type Documents, Stale } from "../db/documents";
import { writeWhole } from "../media/index-file";
import { MediaError, said } from "../media/media-error";
import { mergedPicture, openRaster } from "../media/openraster";
import { readPicture } from "../media/picture";
import { rgbaStill } from "../media/stills";
import { type DataPaths, within } from "../paths";
import type { Plates } from "./plates";
import { comparedWith } from "./returned";
import { storedJson } from "../stored-json";

type OutsideKind = z.infer<typeof outsideRequestSchema>["kind"];
const NAMES: Record<OutsideKind, string> = { png8: "plate.png", png16: "plate.png", tiff16: "plate.tif", ora: "plate.ora" };

/** What lies beside a plate that was written out. */
interface Note {
  shot: string;
  plate: string;
  name: string;
  kind: OutsideKind;
  width: number;
  height: number;
  /** Hash of the file as it was last seen. */
  seen: string;
}

export interface WrittenOut {
  /** The plate with its touches, without what came back before: what is compared with. */
  bare: Frame;
  /** As it is now. */
  plate: Frame;
  /** What the touches lie on, and the shot's frame: layers for orientation. */
  base: Frame;
  frame: Frame;
  frameNumber: number;
  colour: Colour;
  name: string;
}

const NOTE = "note.json";
const BARE = "bare.raw";
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
    private readonly documents: Documents,
    private readonly tell: (e: Event) => void,
  ) {}

  private folder(shot: string, plate: string): string {
    return within(this.paths.outside, `${shot}-${createHash("sha256").update(plate).digest("hex").slice(0, 8)}`);
  }
  /** What we keep about a folder lies beside it, so that nothing but the plate is seen in it. */
  private own(folder: string): string {
    return join(this.paths.outside, ".kept", basename(folder));
  }

  /** After a restart: what was written out is watched again. */
  async resume(): Promise<void> {
    for (const d of await readdir(join(this.paths.outside, ".kept")).catch(() => [])) {
      const folder = join(this.paths.outside, d);
      this.watch(folder);
      this.soon(folder);
    }
  }

  /** Where a plate was written to, if it was. */
  async path(shot: string, plate: string): Promise<string | null> {
    const folder = this.folder(shot, plate);
    const note = await this.note(folder);
    return note && join(folder, NAMES[note.kind]);
  }

  private async note(folder: string): Promise<Note | null> {
    return storedJson<Note>(await readFile(join(this.own(folder), NOTE), "utf8").catch(() => null));
  }

  /** Writes a plate out and watches it; one writing at a time, so that a second wish meanwhile gets what the first one writes. */
  write(shot: string, plate: string, kind: OutsideKind, parts: () => Promise<WrittenOut>): Promise<string> {
    const folder = this.folder(shot, plate);
    let job = this.writing.get(folder);
    if (!job) {
      job = parts()
        .then((w) => this.written(shot, plate, kind, w, folder))
        .finally(() => this.writing.delete(folder));
      this.writing.set(folder, job);
    }
    return job;
  }

  private async written(shot: string, plate: string, kind: OutsideKind, w: WrittenOut, folder: string): Promise<string> {
    this.watchers.get(folder)?.close();
    await rm(folder, { recursive: true, force: true });
    await mkdir(folder, { recursive: true });
    await mkdir(this.own(folder), { recursive: true });
    const { width, height } = w.plate;
    const bytes = await encoded(kind, w);
    const path = join(folder, NAMES[kind]);
    await writeWhole(path, bytes);
    const bare = toRgb16(w.bare, w.colour);
    await writeWhole(join(this.own(folder), BARE), new Uint8Array(bare.buffer, bare.byteOffset, bare.byteLength));
    const note: Note = { shot, plate, name: w.name, kind, width, height, seen: hash(bytes) };
    await writeWhole(join(this.own(folder), NOTE), JSON.stringify(note));
    this.watch(folder);
    return path;
  }

  /** Leaves off watching a plate; what came back stays. */
  async end(shot: string, plate: string): Promise<void> {
    const folder = this.folder(shot, plate);
    this.watchers.get(folder)?.close();
    this.watchers.delete(folder);
    await rm(this.own(folder), { recursive: true, force: true });
    await rm(folder, { recursive: true, force: true });
  }

  private watch(folder: string): void {
    try {
      // the folder and not the file: many programs save beside it and rename
      const w = watch(folder, () => this.soon(folder));
      w.on("error", () => w.close());
      this.watchers.set(folder, w);
    } catch {
      // the folder has gone: nothing can come back from it
    }
  }

  private soon(folder: string): void {
    clearTimeout(this.timers.get(folder));
    this.timers.set(
      folder,
      setTimeout(() => {
        this.timers.delete(folder);
        void this.look(folder);
      }, CALM),
    );
  }

  /** Takes back what has changed. */
  private async look(folder: string): Promise<void> {
    const note = await this.note(folder);
    if (!note) return;
    const path = join(folder, NAMES[note.kind]);
    const before = await stat(path).catch(() => null);
    if (!before) return;
    const bytes = await readFile(path).catch(() => null);
    const after = await stat(path).catch(() => null);
    if (!bytes || bytes.length === 0 || after?.mtimeMs !== before.mtimeMs || after.size !== bytes.length) return this.soon(folder);
    const seen = hash(bytes);
    if (seen === note.seen) return;
    await writeWhole(join(this.own(folder), NOTE), JSON.stringify({ ...note, seen } satisfies Note));
    try {
      const words = await this.takeBack(folder, note, path, bytes);
      this.tell({ type: "returned", shotId: note.shot, plate: note.plate, words, failed: false });
    } catch (e) {
      const words = said(e, `“${note.name}” came back and could not be taken in`);
      this.tell({ type: "returned", shotId: note.shot, plate: note.plate, words, failed: true });
    }
  }

  private async takeBack(folder: string, note: Note, path: string, bytes: Uint8Array): Promise<string> {
    const raw = await readFile(join(this.own(folder), BARE));
    const bare = new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
    let file = path;
    if (note.kind === "ora") {
      file = join(this.own(folder), "merged.png");
      await writeWhole(file, mergedPicture(bytes, basename(path)));
    }
    const { still } = await readPicture(file);
    const back = comparedWith(bare, note.width, note.height, still, basename(path));
    if (!back.changed) {
      await this.change(note, null, `${note.name} came back as it was written`);
      return `${note.name} came back as it was written: nothing has changed.`;
    }
    const asset = await this.plates.addBytes(await rgbaStill(back.rgba, note.width, note.height, 16, "png"), ".png");
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

async function encoded(kind: OutsideKind, w: WrittenOut): Promise<Uint8Array> {
  const png16 = (f: Frame) => rgb16(f, w.colour, "png");
  if (kind === "png8") {
    const data = Uint8Array.from(toRgb16(w.plate, w.colour), (v) => Math.round(v / 257));
    return (await sharp())(data, { raw: { width: w.plate.width, height: w.plate.height, channels: 3 } })
      .png({ compressionLevel: 6 })
      .toBuffer();
  }
  if (kind === "png16") return png16(w.plate);
  if (kind === "tiff16") return rgb16(w.plate, w.colour, "tiff");
  const merged = await png16(w.plate);
  const thumbnail = await (await sharp())(merged).resize(256, 256, { fit: "inside" }).toColourspace("srgb").png().toBuffer();
  const layers = [
    { name: "Retouched", png: merged },
    { name: "Plate", png: await png16(w.base), shown: false },
    { name: `Frame ${w.frameNumber}`, png: await png16(w.frame), shown: false },
  ];
  return openRaster(w.plate.width, w.plate.height, layers, merged, thumbnail);
}

/** A frame as a still of 16 bits. */
async function rgb16(f: Frame, colour: Colour, kind: "png" | "tiff"): Promise<Buffer> {
  const image = (await sharp())(toRgb16(f, colour), { raw: { width: f.width, height: f.height, channels: 3 } }).toColourspace("rgb16");
  return (kind === "png" ? image.png({ compressionLevel: 4 }) : image.tiff({ compression: "deflate" })).toBuffer();
}
