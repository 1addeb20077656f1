import { once } from "node:events";
import { createWriteStream } from "node:fs";
import { access, mkdir, open, readdir, rename, rm, stat, utimes } from "node:fs/promises";
import { join } from "node:path";
import { type Frame, frameFromBytes } from "../../core/pixels/frame";
import { BLOCK, blockFile } from "../../wire/layout";
import { decodeFrames } from "./decode";
import { bytesPerFrame, type TakeIndex } from "./index-file";

const blockPath = (folder: string, k: number) => join(folder, blockFile(k));

const there = (path: string) =>
  access(path).then(
    () => true,
    () => false,
  );

/** Exact frames on disk: raw planes at a fixed stride, in blocks; the least recently used are dropped beyond the limit. */
export class FrameStore {
  private readonly making = new Map<string, Promise<void>>();
  /** Decoders take turns: two cores gain nothing from more. */
  private turn: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly root: string,
    private readonly limit: number,
  ) {}

  folder(takeId: string): string {
    return join(this.root, takeId);
  }

  /** Makes sure that block `k` lies on disk. */
  async block(takeId: string, t: TakeIndex, k: number): Promise<string> {
    const path = blockPath(this.folder(takeId), k);
    if (await there(path)) {
      await utimes(path, new Date(), new Date()).catch(() => undefined);
      return path;
    }
    let job = this.making.get(path);
    if (!job) {
      job = this.turn.then(() => this.make(takeId, t, k, path)).finally(() => this.making.delete(path));
      this.turn = job.catch(() => undefined);
      this.making.set(path, job);
    }
    await job;
    return path;
  }

  private async make(takeId: string, t: TakeIndex, k: number, path: string): Promise<void> {
    await mkdir(this.folder(takeId), { recursive: true });
    const part = `${path}.${process.pid}.part`;
    const out = createWriteStream(part);
    try {
      const last = Math.min(t.info.frames, (k + 1) * BLOCK) - 1;
      for await (const f of decodeFrames(t, k * BLOCK, last)) {
        if (!out.write(f)) await once(out, "drain");
      }
      await new Promise<void>((resolve, reject) => out.once("error", reject).end(() => resolve()));
      await rename(part, path);
    } catch (e) {
      out.destroy();
      await rm(part, { force: true });
      throw e;
    }
    await this.trim(path);
  }

  /** One exact frame. With `alone`, its neighbours are not wanted: where its block is not on disk, only it is decoded. */
  async frame(takeId: string, t: TakeIndex, n: number, alone = false): Promise<Frame> {
    if (n < 0 || n >= t.info.frames) throw new RangeError(`Frame ${n} lies outside the take, which has frames 0 to ${t.info.frames - 1}.`);
    const size = bytesPerFrame(t);
    if (alone && !(await there(blockPath(this.folder(takeId), Math.floor(n / BLOCK)))))
      for await (const bytes of decodeFrames(t, n, n)) return frameFromBytes(bytes, t.info.width, t.info.height, t.info.format);
    for (let attempt = 0; ; attempt++) {
      const path = await this.block(takeId, t, Math.floor(n / BLOCK));
      try {
        const fh = await open(path);
        try {
          const bytes = new Uint8Array(size);
          await fh.read(bytes, 0, size, (n % BLOCK) * size);
          return frameFromBytes(bytes, t.info.width, t.info.height, t.info.format);
        } finally {
          await fh.close();
        }
      } catch (e) {
        if (attempt > 1 || (e as NodeJS.ErrnoException).code !== "ENOENT") throw e; // dropped between the two steps: make it again
      }
    }
  }

  private async trim(keep: string): Promise<void> {
    const files: { path: string; size: number; used: number }[] = [];
    for (const d of await readdir(this.root).catch(() => []))
      for (const f of await readdir(join(this.root, d)).catch(() => [])) {
        const path = join(this.root, d, f);
        const s = await stat(path).catch(() => null);
        if (s && f.endsWith(".raw")) files.push({ path, size: s.size, used: s.mtimeMs });
      }
    let total = files.reduce((a, f) => a + f.size, 0);
    for (const f of files.sort((a, b) => a.used - b.used)) {
      if (total <= this.limit) break;
      if (f.path === keep) continue;
      await rm(f.path, { force: true });
      total -= f.size;
    }
  }
}
