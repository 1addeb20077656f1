import { open, readdir, stat } from "node:fs/promises";
import { readIndex, type TakeIndex } from "../media/index-file";
import type { DataPaths } from "../paths";

/** Bytes of an index in which its take's path stands: it is written first. */
const HEAD = 8192;

/**
 * The index the application made of a film when it was brought in, where it has one that still holds: of the same path and size, and
 * made after the file was last written. How the take was turned by hand belongs to the application's shots and is left out.
 */
export async function knownTake(path: string, paths: DataPaths): Promise<TakeIndex | null> {
  const film = await stat(path).catch(() => null);
  if (!film) return null;
  const begins = Buffer.from(`{"path":${JSON.stringify(path)},`);
  if (begins.length > HEAD) return null;
  for (const id of await readdir(paths.takes).catch(() => [])) {
    const file = paths.index(id);
    const fh = await open(file).catch(() => null);
    if (!fh) continue;
    const head = Buffer.alloc(begins.length);
    const made = await fh
      .read(head, 0, head.length, 0)
      .then(() => fh.stat())
      .finally(() => fh.close());
    if (!head.equals(begins) || made.mtimeMs < film.mtimeMs) continue;
    const index = await readIndex(file).catch(() => null);
    if (index?.size !== film.size) continue;
    const { turned: _, ...info } = index.info;
    return { ...index, info };
  }
  return null;
}
