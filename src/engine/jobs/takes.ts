import { mkdir, rename, rm } from "node:fs/promises";
import { basename, extname, join } from "node:path";
import type { Event } from "../../wire/shot";
import type { Take } from "../../wire/take";
import type { Library } from "../db/library";
import { MediaError } from "../media/media-error";
import { readIndex, type TakeIndex, writeWhole } from "../media/index-file";
import { ingest } from "../media/ingest";
import { probe } from "../media/probe";
import type { DataPaths } from "../paths";

/** Brings takes in: looks at a file, then reads it through once in the background. */
export class Takes {
  private readonly indexes = new Map<string, Promise<TakeIndex>>();

  constructor(
    private readonly library: Library,
    private readonly paths: DataPaths,
    private readonly tell: (e: Event) => void,
  ) {}

  index(id: string): Promise<TakeIndex> {
    let i = this.indexes.get(id);
    if (!i) {
      i = readIndex(this.paths.index(id));
      i.catch(() => this.indexes.delete(id));
      this.indexes.set(id, i);
    }
    return i;
  }

  /** Adds an uploaded file (which is moved), or one used in place. What is no video is refused and leaves nothing. */
  async add(productionId: string, name: string, file: string, inPlace: boolean): Promise<Take> {
    try {
      await probe(file);
    } catch (e) {
      if (!inPlace) await rm(file, { force: true });
      throw e instanceof MediaError ? new MediaError(e.message.replaceAll(`“${basename(file)}”`, `“${name}”`)) : e;
    }
    let path = file;
    const take = await this.library.addTake(productionId, name, path);
    await mkdir(this.paths.take(take.id), { recursive: true });
    if (!inPlace) {
      path = join(
        this.paths.take(take.id),
        `original${extname(name)
          .toLowerCase()
          .replace(/[^.a-z0-9]/g, "")}`,
      );
      await rename(file, path);
      await this.library.movePath(take.id, path);
    }
    this.tell({ type: "productions" });
    void this.read(take.id, name, path);
    return take;
  }

  /** Takes whose reading was cut short begin again. */
  async resume(): Promise<void> {
    for (const t of await this.library.takesInState("reading")) void this.read(t.id, t.name, t.path);
  }

  private async read(id: string, name: string, path: string): Promise<void> {
    let last = 0;
    try {
      const index = await ingest(path, {
        quickFolder: this.paths.take(id),
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
      await writeWhole(this.paths.index(id), JSON.stringify(index));
      const take = await this.library.setTake(id, { state: "ready", info: JSON.stringify(index.info) });
      await this.library.addShot(id, name.replace(/\.[^.]+$/, ""), index.info);
      this.tell({ type: "take", take });
      this.tell({ type: "productions" });
    } catch (e) {
      const error = (e instanceof Error ? e.message : String(e)).replaceAll(`“${basename(path)}”`, `“${name}”`);
      const row = await this.library.takeRow(id).catch(() => null);
      await this.library.removeTake(id);
      await rm(this.paths.take(id), { recursive: true, force: true });
      if (row) this.tell({ type: "take", take: { ...this.library.toTake(row), state: "failed", error } });
      this.tell({ type: "productions" });
    }
  }
}
