import { createHash } from "node:crypto";
import { basename } from "node:path";
import { ended, input, MediaError, start } from "./ffmpeg";
import { bytesPerFrame, secondsAt, type TakeIndex } from "./index-file";

/** Collects a byte stream into pieces of `size`. */
async function* pieces(stream: AsyncIterable<Buffer>, size: number): AsyncGenerator<Uint8Array> {
  let piece = new Uint8Array(size);
  let have = 0;
  for await (const chunk of stream) {
    let o = 0;
    while (o < chunk.length) {
      const take = Math.min(size - have, chunk.length - o);
      piece.set(chunk.subarray(o, o + take), have);
      have += take;
      o += take;
      if (have === size) {
        yield piece;
        piece = new Uint8Array(size);
        have = 0;
      }
    }
  }
}

async function* run(t: TakeIndex, seek: string[], count: number): AsyncGenerator<Uint8Array> {
  const ff = start(
    [
      "-noautorotate",
      ...seek,
      ...input(t.path),
      "-map",
      "0:v:0",
      "-fps_mode",
      "passthrough",
      "-pix_fmt",
      t.info.planar,
      "-frames:v",
      String(count),
      "-f",
      "rawvideo",
      "pipe:1",
    ],
    "ignore",
  );
  const done = ended(ff, `Decoding “${basename(t.path)}”`);
  done.catch(() => undefined);
  try {
    yield* pieces(ff.stdout as AsyncIterable<Buffer>, bytesPerFrame(t));
    await done;
  } finally {
    ff.kill("SIGKILL");
  }
}

export const md5 = (b: Uint8Array) => createHash("md5").update(b).digest("hex");

/**
 * Frames `from` … `to` in order, as the bytes of their planes. A seek is trusted only when its first picture
 * has the hash of the index; else everything is decoded from the start.
 */
export async function* decodeFrames(t: TakeIndex, from: number, to: number): AsyncGenerator<Uint8Array> {
  const changed = () => new MediaError(`“${basename(t.path)}” has changed since it was read; bring it in again as a new take.`);
  let n = from;
  if (from > 0) {
    const half = (secondsAt(t, from) - secondsAt(t, from - 1)) / 2;
    const seek = Math.max(0, secondsAt(t, from) - half - Math.max(0, secondsAt(t, 0)));
    let good = false;
    for await (const f of run(t, ["-ss", seek.toFixed(6)], to - from + 1)) {
      if (!good && md5(f) !== t.hashes[from]) break;
      good = true;
      yield f;
      n++;
    }
    if (good) {
      if (n <= to) throw changed();
      return;
    }
  }
  n = 0;
  for await (const f of run(t, [], to + 1)) {
    if (n === from && md5(f) !== t.hashes[n]) throw changed();
    if (n >= from) yield f;
    n++;
  }
  if (n <= to) throw changed();
}
