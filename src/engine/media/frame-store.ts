import { mkdir, open, readdir, rename, rm, stat, utimes } from "node:fs/promises";
import { join } from "node:path";
import { type Frame, frameFromBytes } from "../../core/pixels/frame";
import { BLOCK, blockFile } from "../../wire/layout";
import { decodeFrames, md5 } from "./decode";
import { within } from "../paths";
import { bytesPerFrame, fullDisk, type TakeIndex, writeAll } from "./index-file";

const blockPath = (folder: string, k: number) => join(folder, blockFile(k));

/** Bytes of block `k`; the last one of a take may hold fewer frames. */
const blockBytes = (t: TakeIndex, k: number) => Math.max(0, Math.min(BLOCK, t.info.frames - k * BLOCK)) * bytesPerFrame(t);
/** Tells one block file from another in its place; the date is left out, since it says when the block was last used. */
const blockPrint = (s: { ino: number; size: number }) => `${s.ino}/${s.size}`;
/** Whether the index has hashes of the samples as blocks keep them; samples decoded interleaved are taken apart before. */
const hashesFramesAsKept = (t: TakeIndex) => !t.info.decoded?.startsWith("rgba");

/** Exact frames on disk: raw planes at a fixed stride, in blocks; the least recently used are dropped beyond the limit. */
export class FrameStore {
  private readonly making = new Map<string, Promise<void>>();
  /** Blocks whose samples were compared with the hashes of the index. */
  private readonly proven = new Map<string, string>();
  /** Decoders take turns: two cores gain nothing from more. */
  private turn: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly root: string,
    public limit: number,
  ) {}

  folder(takeId: string): string {
    return within(this.root, takeId);
  }

  /** Makes sure that block `k` lies on disk, whole: one of another size, or whose samples are not those that were decoded, is made again. */
  async block(takeId: string, t: TakeIndex, k: number): Promise<string> {
    const path = blockPath(this.folder(takeId), k);
    if (await this.sound(path, t, k)) {
      await utimes(path, new Date(), new Date()).catch(() => undefined);
      return path;
    }
    let job = this.making.get(path);
    if (!job) {
      job = this.turn.then(() => this.made(takeId, t, k, path)).finally(() => this.making.delete(path));
      this.turn = job.catch(() => undefined);
      this.making.set(path, job);
    }
    await job;
    return path;
  }

  /** Whether a block counts: exactly its size, and once in this process each frame against its hash in the index. */
  private async sound(path: string, t: TakeIndex, k: number): Promise<boolean> {
    const s = await stat(path).catch(() => null);
    if (!s || s.size !== blockBytes(t, k)) return false;
    const print = blockPrint(s);
    if (this.proven.get(path) === print || !hashesFramesAsKept(t)) return true;
    const fh = await open(path).catch(() => null);
    if (!fh) return false;
    try {
      const size = bytesPerFrame(t);
      const bytes = new Uint8Array(size);
      for (let i = 0; i < s.size / size; i++) {
        await fh.read(bytes, 0, size, i * size);
        if (md5(bytes) !== t.hashes[k * BLOCK + i]) return false;
      }
    } finally {
      await fh.close();
    }
    this.proven.set(path, print);
    return true;
  }

  /** The folder may be cleared away while a block is being made; then it is made once more. */
  private async made(takeId: string, t: TakeIndex, k: number, path: string): Promise<void> {
    try {
      await this.make(takeId, t, k, path);
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code !== "ENOENT") throw e;
      await this.make(takeId, t, k, path);
    }
  }

  private async make(takeId: string, t: TakeIndex, k: number, path: string): Promise<void> {
    await mkdir(this.folder(takeId), { recursive: true });
    const part = `${path}.${process.pid}.part`;
    try {
      // a handle and not a stream: what a full disk says must arrive here
      const out = await open(part, "w");
      try {
        const last = Math.min(t.info.frames, (k + 1) * BLOCK) - 1;
        for await (const f of decodeFrames(t, k * BLOCK, last)) await writeAll(out, f);
        await out.datasync();
      } finally {
        await out.close();
      }
      await rename(part, path);
    } catch (e) {
      await rm(part, { force: true });
      throw fullDisk(e);
    }
    const s = await stat(path).catch(() => null);
    if (s) this.proven.set(path, blockPrint(s)); // just decoded, and decoding was checked
    await this.trim(path);
  }

  /** Frames that will be asked for soon are decoded meanwhile; what goes wrong is said when they are asked for. */
  expect(takeId: string, t: TakeIndex, n: number): void {
    if (n >= 0 && n < t.info.frames) void this.block(takeId, t, Math.floor(n / BLOCK)).catch(() => undefined);
  }

  /** One exact frame. With `alone`, its neighbours are not wanted: where its block is not on disk, only it is decoded. */
  async frame(takeId: string, t: TakeIndex, n: number, alone = false): Promise<Frame> {
    if (n < 0 || n >= t.info.frames) throw new RangeError(`Frame ${n} lies outside the take, which has frames 0 to ${t.info.frames - 1}.`);
    const size = bytesPerFrame(t);
    const k = Math.floor(n / BLOCK);
    if (alone && !(await this.sound(blockPath(this.folder(takeId), k), t, k)))
      for await (const bytes of decodeFrames(t, n, n)) return frameFromBytes(bytes, t.info.width, t.info.height, t.info.format);
    for (let attempt = 0; ; attempt++) {
      const path = await this.block(takeId, t, Math.floor(n / BLOCK));
      try {
        const fh = await open(path);
        try {
          const bytes = new Uint8Array(size);
          const { bytesRead } = await fh.read(bytes, 0, size, (n % BLOCK) * size);
          if (bytesRead < size) throw Object.assign(new Error("The block of exact frames was cut off."), { code: "ENOENT" });
          return frameFromBytes(bytes, t.info.width, t.info.height, t.info.format);
        } finally {
          await fh.close();
        }
      } catch (e) {
        if (attempt > 1 || (e as NodeJS.ErrnoException).code !== "ENOENT") throw e; // dropped between the two steps: make it again
      }
    }
  }

  private async files(): Promise<{ path: string; size: number; used: number }[]> {
    const files: { path: string; size: number; used: number }[] = [];
    for (const d of await readdir(this.root).catch(() => []))
      for (const f of await readdir(join(this.root, d)).catch(() => [])) {
        const path = join(this.root, d, f);
        const s = await stat(path).catch(() => null);
        if (s && f.endsWith(".raw")) files.push({ path, size: s.size, used: s.mtimeMs });
      }
    return files;
  }

  /** Bytes on disk, and how many there may be. */
  async use(): Promise<{ used: number; limit: number }> {
    return { used: (await this.files()).reduce((n, f) => n + f.size, 0), limit: this.limit };
  }

  /** Sets the limit; what is too much goes at once. */
  async resize(limit: number): Promise<void> {
    this.limit = limit;
    await this.trim("");
  }

  /** All frames of a take go, once none of them is being made. */
  async forget(takeId: string): Promise<void> {
    const folder = this.folder(takeId);
    const under = [...this.making].filter(([path]) => path.startsWith(folder)).map(([, job]) => job.catch(() => undefined));
    await Promise.all(under);
    await rm(folder, { recursive: true, force: true });
  }

  /** Everything goes; it is made again when it is asked for. */
  async empty(): Promise<void> {
    for (const f of await this.files()) await rm(f.path, { force: true });
  }

  private async trim(keep: string): Promise<void> {
    const files = await this.files();
    let total = files.reduce((a, f) => a + f.size, 0);
    for (const f of files.sort((a, b) => a.used - b.used)) {
      if (total <= this.limit) break;
      if (f.path === keep) continue;
      await rm(f.path, { force: true });
      total -= f.size;
    }
  }
}
