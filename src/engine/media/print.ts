import { createHash } from "node:crypto";
import { open, stat } from "node:fs/promises";

/** What tells whether an original is still the one that was read. */
export interface Print {
  size: number;
  /** When it was last written, as the file system says; while size and this stand, the hash is not worked out again. */
  written: number;
  hash: string;
}

const PIECE = 1 << 20;
/** Pieces that are hashed; a file of up to 64 MiB is hashed whole, a larger one at this many places spread over it. */
const PIECES = 64;

/** Size, date and hash of one file, or of all stills of a take together. @throws when one is not there */
export async function printOf(paths: string[]): Promise<Print> {
  const sum = createHash("sha256");
  let size = 0;
  let written = 0;
  const pieces = Math.max(1, Math.floor(PIECES / paths.length));
  for (const path of paths) {
    const s = await stat(path);
    size += s.size;
    written = Math.max(written, s.mtimeMs);
    sum.update(`${s.size}\n`);
    const fh = await open(path);
    try {
      const count = Math.min(pieces, Math.ceil(s.size / PIECE));
      const buffer = Buffer.alloc(Math.min(PIECE, s.size));
      for (let i = 0; i < count; i++) {
        const at = count === 1 ? 0 : Math.round((i * Math.max(0, s.size - PIECE)) / (count - 1));
        const { bytesRead } = await fh.read(buffer, 0, buffer.length, at);
        sum.update(buffer.subarray(0, bytesRead));
      }
    } finally {
      await fh.close();
    }
  }
  return { size, written, hash: sum.digest("hex") };
}

/** Size and date without the hash. */
export async function lookedAt(paths: string[]): Promise<Pick<Print, "size" | "written">> {
  const all = await Promise.all(paths.map((p) => stat(p)));
  return { size: all.reduce((n, s) => n + s.size, 0), written: Math.max(...all.map((s) => s.mtimeMs)) };
}
