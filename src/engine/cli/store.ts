import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { FrameStore } from "../media/frame-store";

/** A store of exact frames, in a folder that lives as long as one command. */
export async function withStore<T>(work: (store: FrameStore, folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), "umber-"));
  try {
    return await work(new FrameStore(join(folder, "frames"), Number(process.env.UMBER_CACHE ?? 8e9)), folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Tells on stderr how far something is. */
export const said = (what: string) => (n: number, total: number) => {
  if (process.stderr.isTTY) process.stderr.write(`\r${n} of ${total} ${what}`);
};
