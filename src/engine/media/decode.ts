import { createHash } from "node:crypto";
import { basename } from "node:path";
import { type Arguments, ff, word } from "./arguments";
import { ended, input, start, steady } from "./ffmpeg";
import { MediaError } from "./media-error";
import { unpackRgba } from "./packed";
import { bytesPerFrame, secondsAt, type TakeIndex } from "./index-file";

/** Collects a byte stream into pieces of `size`. */
export async function* pieces(stream: AsyncIterable<Buffer>, size: number): AsyncGenerator<Uint8Array> {
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

/** Options that open a take at frame `from`, by its index; whether a seek in a film leads there is to be checked by the hash. */
export function opened(t: TakeIndex, from: number): Arguments {
  if (t.sequence) return input(t.sequence, from);
  if (from === 0) return input(t.path);
  const half = (secondsAt(t, from) - secondsAt(t, from - 1)) / 2;
  return ff`-ss ${Math.max(0, secondsAt(t, from) - half - Math.max(0, secondsAt(t, 0)))} ${input(t.path)}`;
}

/** Pictures as they are decoded, with samples still interleaved where they are decoded so: what the index has hashes of. */
async function* run(t: TakeIndex, from: number, count: number): AsyncGenerator<Uint8Array> {
  const layout = word(t.info.decoded ?? t.info.planar);
  const child = start(
    ff`-noautorotate ${opened(t, from)} -map 0:v:0 -fps_mode passthrough -pix_fmt ${layout} -frames:v ${count} -f rawvideo pipe:1`,
    "ignore",
  );
  const what = `Decoding “${basename(t.path)}”`;
  const done = ended(child, what);
  done.catch(() => undefined);
  try {
    yield* pieces(steady(child, what, child.stdout as AsyncIterable<Buffer>), bytesPerFrame(t));
    await done;
  } finally {
    child.kill("SIGKILL");
  }
}

export const md5 = (b: Uint8Array) => createHash("md5").update(b).digest("hex");

export const changed = (t: TakeIndex) => new MediaError(`“${basename(t.path)}” has changed since it was read; bring it in again as a new take.`);

/** Options that open a take at frame `from`, tried out: null when the picture found there is another. */
export async function provenStart(t: TakeIndex, from: number): Promise<Arguments | null> {
  if (from === 0 || t.sequence) return opened(t, from);
  for await (const f of run(t, from, 1)) return md5(f) === t.hashes[from] ? opened(t, from) : null;
  return null;
}

/** A decoded picture as planes. */
const asPlanes = (t: TakeIndex, raw: Uint8Array) => (t.info.decoded?.startsWith("rgba") ? unpackRgba(raw, t.info.format.bits > 8) : raw);

/**
 * Frames `from` … `to` in order, as the bytes of their planes. A seek is trusted only when its first picture
 * has the hash of the index; else everything is decoded from the start.
 */
export async function* decodeFrames(t: TakeIndex, from: number, to: number): AsyncGenerator<Uint8Array> {
  let n = from;
  if (from > 0) {
    let good = false;
    for await (const f of run(t, from, to - from + 1)) {
      if (!good && md5(f) !== t.hashes[from]) break;
      good = true;
      yield asPlanes(t, f);
      n++;
    }
    if (good) {
      if (n <= to) throw changed(t);
      return;
    }
  }
  n = 0;
  for await (const f of run(t, 0, to + 1)) {
    if (n === from && md5(f) !== t.hashes[n]) throw changed(t);
    if (n >= from) yield asPlanes(t, f);
    n++;
  }
  if (n <= to) throw changed(t);
}
