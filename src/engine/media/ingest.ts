import { open, stat } from "node:fs/promises";
import type { Readable } from "node:stream";
import { brightness, findCuts, type Thumb } from "../../core/survey/cuts";
import { THUMB, toThumb } from "./thumbs";
import { CELL_FILE, CELL_FRAMES, toCells } from "./cells";
import { ff, file, joined, word } from "./arguments";
import { pieces } from "./decode";
import { ended, input, keep, start, steady } from "./ffmpeg";
import { MediaError } from "./media-error";
import { type TakeIndex, writeAll } from "./index-file";
import { timedInfo } from "./listing";
import { probe } from "./probe";
import type { Sequence } from "./sequence";
import { basename, join } from "node:path";
import { QUICK_INDEX, QUICK_PACK } from "../../wire/layout";

const QUICK_WIDTH = 1280;

export interface IngestOptions {
  /** Where quick frames go: `quick.pack` (JPEGs, one after another) and `quick.idx` (their end offsets, 8 bytes each). Without it none are made. */
  quickFolder?: string;
  progress?: (frames: number) => void;
  /** The index as it grows: what it lists can be decoded already. Its count of frames is what the file claims. */
  begun?: (index: TakeIndex) => void;
  signal?: AbortSignal;
  /** The stills, where `path` is not a film but a folder of them. */
  sequence?: Sequence;
}

/** Size of a take's quick frames. */
export function quickSize(info: { width: number; height: number }): { width: number; height: number } {
  const k = Math.min(1, QUICK_WIDTH / info.width);
  return k === 1 ? { width: info.width, height: info.height } : { width: QUICK_WIDTH, height: Math.max(1, Math.round(info.height * k)) };
}

/**
 * One pass over a take: timestamp and hash of every picture, and its quick frames. Quick frames keep the
 * take's matrix and subsampling as 4:2:0, full range.
 */
export async function ingest(path: string, o: IngestOptions = {}): Promise<TakeIndex> {
  const { expected, ...info } = await probe(path, o.sequence);
  const size = o.sequence ? 0 : (await stat(path)).size;
  const quick = quickSize(info);
  const range = info.colour.range === "full" ? "pc" : "tv";
  const toJpeg =
    info.format.model === "yuv"
      ? ff`scale=${quick.width}:${quick.height}:flags=area:in_range=${word(range)}:out_range=pc,format=yuvj420p`
      : ff`scale=${quick.width}:${quick.height}:flags=area:out_color_matrix=bt709:out_range=pc,format=yuvj420p`;
  const first = ff`-map 0:v:0 -fps_mode passthrough`;
  const child = start(
    joined(
      ff`-noautorotate ${input(o.sequence ?? path)}`,
      ff`${first} -enc_time_base -1 -pix_fmt ${word(info.decoded ?? info.planar)} -hash md5 -flush_packets 1 -f framehash pipe:1`,
      ff`${first} -vf ${toThumb} -f rawvideo pipe:3`,
      o.quickFolder
        ? ff`${first} -vf ${toJpeg} -c:v mjpeg -q:v 3 -f image2pipe pipe:4
             ${first} -vf ${toCells(info)} -frames:v ${CELL_FRAMES} -f rawvideo -y ${file(join(o.quickFolder, CELL_FILE))}`
        : ff``,
    ),
    "ignore",
    o.quickFolder ? 2 : 1,
  );
  const stop = () => child.kill("SIGKILL");
  o.signal?.addEventListener("abort", stop);
  const times: number[] = [];
  const hashes: string[] = [];
  let timeBase: [number, number] = [1, 1000];
  const own = { path, ...(o.sequence ? { sequence: o.sequence } : {}), size };
  if (expected)
    o.begun?.({
      ...own,
      info: { ...info, frames: expected, variableRate: false },
      times,
      hashes,
      cuts: [],
      brightness: [],
      get timeBase() {
        return timeBase;
      },
    });
  const what = `Reading “${basename(path)}”`;
  const lines = readLines(steady(child, what, child.stdout as AsyncIterable<Buffer>), (line) => {
    const tb = /^#tb 0: (\d+)\/(\d+)/.exec(line);
    if (tb) timeBase = [Number(tb[1]), Number(tb[2])];
    if (line.startsWith("#")) return;
    const part = line.split(",").map((s) => s.trim());
    if (part.length < 6) return;
    times.push(Number(part[2]));
    hashes.push(part[5]);
    if (!o.quickFolder && times.length % 24 === 0) o.progress?.(times.length);
  });
  const thumbs: Thumb[] = [];
  const small = (async () => {
    for await (const t of pieces(steady(child, what, keep(child.stdio[3] as Readable)), THUMB.width * THUMB.height)) thumbs.push({ values: t });
  })();
  const pack = o.quickFolder
    ? writePack(steady(child, what, keep(child.stdio[4] as Readable)), o.quickFolder, (n) => o.progress?.(n))
    : Promise.resolve();
  let failure: unknown = null;
  let complaints = "";
  await Promise.all([
    ended(child, what).then(
      (s) => (complaints = s),
      (e: unknown) => (failure = e),
    ),
    lines,
    small,
    pack,
  ]).catch((e: unknown) => {
    stop();
    throw e;
  });
  o.signal?.removeEventListener("abort", stop);
  if (o.signal?.aborted) throw new MediaError(`Reading “${basename(path)}” was stopped.`);
  if (times.length === 0) {
    throw failure instanceof MediaError && /could not be started/.test(failure.message)
      ? failure
      : new MediaError(`“${basename(path)}” is cut off or damaged: not one picture of it could be decoded; copy or export the file again.`);
  }
  if (/partial file|ended prematurely|truncat/i.test(complaints))
    throw new MediaError(`“${basename(path)}” is cut off: only its first ${times.length} pictures could be decoded; copy or export the file again.`);
  if (failure) throw failure instanceof Error ? failure : new MediaError(String(failure));
  if (o.sequence && times.length < o.sequence.count)
    throw new MediaError(`Still ${times.length + 1} of ${o.sequence.count} in “${basename(path)}” is damaged: export it again.`);
  return { ...own, info: timedInfo(info, times, timeBase), times, timeBase, hashes, cuts: findCuts(thumbs), brightness: thumbs.map(brightness) };
}

async function readLines(stream: AsyncIterable<Buffer>, line: (l: string) => void): Promise<void> {
  let rest = "";
  for await (const chunk of stream) {
    const parts = (rest + String(chunk)).split("\n");
    rest = parts.pop()!;
    parts.forEach(line);
  }
  if (rest) line(rest);
}

/** Splits a run of JPEGs at their end markers; inside a JPEG's data FF D9 cannot occur. */
async function writePack(stream: AsyncIterable<Buffer>, folder: string, made: (n: number) => void): Promise<void> {
  const pack = await open(join(folder, QUICK_PACK), "w");
  const idx = await open(join(folder, QUICK_INDEX), "w");
  let at = 0;
  let n = 0;
  let before = 0;
  try {
    for await (const chunk of stream) {
      const ends: number[] = [];
      let from = 0;
      while (from < chunk.length) {
        const d9 = chunk.indexOf(0xd9, from);
        if (d9 < 0) break;
        if ((d9 === 0 ? before : chunk[d9 - 1]) === 0xff) ends.push(at + d9 + 1);
        from = d9 + 1;
      }
      before = chunk[chunk.length - 1];
      at += chunk.length;
      await writeAll(pack, chunk);
      if (!ends.length) continue;
      await writeAll(idx, new Uint8Array(Float64Array.from(ends).buffer));
      n += ends.length;
      made(n);
    }
  } finally {
    await pack.close();
    await idx.close();
  }
}
