import { createHash } from "node:crypto";
import { basename } from "node:path";
import { type Arguments, ff, word } from "./arguments";
import { ended, input, start, steady } from "./ffmpeg";
import { MediaError } from "./media-error";
import { unpackRgba } from "./packed";
import { bytesPerFrame, secondsAt, type TakeIndex } from "./index-file";
import { isReadThrough, NotAsListed } from "./listing";

/** Collects a byte stream into pieces of `size`, each in room that `room` gives. */
export async function* pieces(
  stream: AsyncIterable<Buffer>,
  size: number,
  room: () => Uint8Array = () => new Uint8Array(size),
): AsyncGenerator<Uint8Array> {
  let piece = room();
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
        piece = room();
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

/**
 * Pictures as they are decoded, with samples still interleaved where they are decoded so: what the index has hashes of.
 * The first `skip` of them are decoded and left out.
 */
async function* run(t: TakeIndex, from: number, count: number, skip = 0): AsyncGenerator<Uint8Array> {
  const layout = word(t.info.decoded ?? t.info.planar);
  const rest = skip ? ff`-vf trim=start_frame=${skip}` : ff``;
  const child = start(
    ff`-noautorotate ${opened(t, from)} -map 0:v:0 ${rest} -fps_mode passthrough -pix_fmt ${layout} -frames:v ${count} -f rawvideo pipe:1`,
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

/** The pictures are not those of the index: of one that was only listed, the listing was wrong. */
export const changed = (t: TakeIndex) =>
  isReadThrough(t)
    ? new MediaError(`“${basename(t.path)}” has changed since it was read; bring it in again as a new take.`)
    : new NotAsListed(`“${basename(t.path)}” does not hold the pictures its container lists; it has to be read through.`);

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
 * Options that open a take at frame `from`, tried out: null when the pictures found there are others, or their hashes are not known. The first picture alone
 * proves a seek only where it occurs once. Else it is looked on to where a run of a picture begins that occurs nowhere else: that it
 * begins just there, and that all before are right, no other place in the take can show.
 */
export async function provenStart(t: TakeIndex, from: number): Promise<Arguments | null> {
  if (from === 0 || t.sequence) return opened(t, from);
  if (!isReadThrough(t)) return null;
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
  if (!isReadThrough(t)) return 0;
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
  const begin = t.sequence && isReadThrough(t) ? from : provable(t, from);
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
  n = from;
  const start = t.sequence ? from : 0;
  for await (const f of run(t, start, to - from + 1, from - start)) {
    if (n === from && isReadThrough(t) && md5(f) !== t.hashes[n]) throw changed(t);
    yield asPlanes(t, f);
    n++;
  }
  if (n <= to) throw changed(t);
}

/** Frames from the start of a take that are rather decoded than sought past. */
const NEAR = 12;

/**
 * One picture of a take that was only listed, sought by its time; whoever decodes the take past it has to compare.
 * @returns null where it lies so near the start that decoding from there is as good
 */
export async function soughtPicture(t: TakeIndex, n: number): Promise<Uint8Array | null> {
  if (t.sequence || n < NEAR) return null;
  for await (const f of run(t, n, 1)) return asPlanes(t, f);
  throw changed(t);
}
