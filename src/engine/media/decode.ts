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

/** How often each picture occurs in a take, by its hash. */
const counts = new WeakMap<readonly string[], { length: number; of: Map<string, number> }>();
function occurs(t: TakeIndex, n: number): number {
  let known = counts.get(t.hashes);
  if (known?.length !== t.hashes.length) {
    const of = new Map<string, number>();
    for (const h of t.hashes) of.set(h, (of.get(h) ?? 0) + 1);
    counts.set(t.hashes, (known = { length: t.hashes.length, of }));
  }
  return known.of.get(t.hashes[n]) ?? 0;
}

/** Frames that are looked at or decoded in addition to prove a seek; where that is not enough, everything is decoded from the start. */
const PROOF = 60;

/** The length of a run of identical pictures that begins at frame `n` and whose picture occurs nowhere else; 0 where none begins. */
function ownRun(t: TakeIndex, n: number): number {
  if (n > 0 && t.hashes[n] === t.hashes[n - 1]) return 0;
  let length = 1;
  while (t.hashes[n + length] === t.hashes[n]) length++;
  return occurs(t, n) === length ? length : 0;
}

/**
 * Options that open a take at frame `from`, tried out: null when the pictures found there are others. The first picture alone
 * proves a seek only where it occurs once. Else it is looked on to where a run of a picture begins that occurs nowhere else: that it
 * begins just there, and that all before are right, no other place in the take can show.
 */
export async function provenStart(t: TakeIndex, from: number): Promise<Arguments | null> {
  if (from === 0 || t.sequence) return opened(t, from);
  const end = Math.min(t.hashes.length - 1, from + PROOF);
  let n = from;
  if (occurs(t, from) > 1) for (n = from + 1; n <= end && !ownRun(t, n); n++);
  if (n > end) return null;
  let k = from;
  for await (const f of run(t, from, n - from + 1)) if (md5(f) !== t.hashes[k++]) return null;
  return k > n ? opened(t, from) : null;
}

/** The nearest frame at or before `n` with which a run of a picture begins that occurs nowhere else; 0 where there is none near. */
function provable(t: TakeIndex, n: number): number {
  for (let k = n; k > Math.max(0, n - PROOF); k--) if (ownRun(t, k)) return k;
  return 0;
}

/** A decoded picture as planes. */
const asPlanes = (t: TakeIndex, raw: Uint8Array) => (t.info.decoded?.startsWith("rgba") ? unpackRgba(raw, t.info.format.bits > 8) : raw);

/**
 * Frames `from` … `to` in order, as the bytes of their planes. A seek is trusted only where it is proven: it leads to the beginning of a
 * run of a picture that occurs nowhere else, at or before `from`, when the whole run is seen. Else everything is decoded from the start.
 */
export async function* decodeFrames(t: TakeIndex, from: number, to: number): AsyncGenerator<Uint8Array> {
  let n = from;
  const begin = t.sequence ? from : provable(t, from);
  if (begin > 0) {
    const length = t.sequence ? 1 : ownRun(t, begin);
    let good = false;
    let same = 0;
    n = begin;
    for await (const f of run(t, begin, Math.max(to, begin + length - 1) - begin + 1)) {
      if (!good) {
        if (md5(f) !== t.hashes[begin]) break;
        good = ++same === length;
        // all pictures of the run are this one
        if (good) for (; n < begin + length; n++) if (n >= from && n <= to) yield asPlanes(t, f.slice());
        continue;
      }
      if (n >= from) yield asPlanes(t, f);
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
