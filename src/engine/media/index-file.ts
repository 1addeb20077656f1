import { type FileHandle, readFile, rename, rm, writeFile } from "node:fs/promises";
import { MediaError } from "./media-error";
import { frameBytes } from "../../core/pixels/frame";
import type { TakeInfo } from "../../wire/take";
import type { Sequence } from "./sequence";

/** Everything about a take that decoding needs: where its file is, what it holds, and one line per picture. */
export interface TakeIndex {
  path: string;
  /** Where the take is numbered stills: how they are opened. */
  sequence?: Sequence;
  size: number;
  info: TakeInfo;
  /** Timestamps in units of `timeBase` seconds, counted from the file's start. */
  times: number[];
  timeBase: [number, number];
  /** MD5 of each picture's samples; empty where the take was only listed, not read through. */
  hashes: string[];
  /** First frames of new shots; of a listing none are known. */
  cuts: number[];
  /** Mean luma of each picture, 8-bit codes; of a listing none is known. */
  brightness: number[];
}

/** What ffmpeg is to open for a take. */
export const sourceOf = (t: TakeIndex) => t.sequence ?? t.path;

export const bytesPerFrame = (t: TakeIndex) => frameBytes(t.info.width, t.info.height, t.info.format);

/** The frames around some, from the cut before them to the one behind: their scene, where no cut lies among them. */
export const sceneOf = ({ cuts, info }: Pick<TakeIndex, "cuts" | "info">, from: number, to: number): { in: number; out: number } => ({
  in: cuts.findLast((c) => c <= from) ?? 0,
  out: (cuts.find((c) => c > to) ?? info.frames) - 1,
});

/** Seconds from the file's start to frame `n`. */
export const secondsAt = (t: TakeIndex, n: number) => (t.times[n] * t.timeBase[0]) / t.timeBase[1];

/** Seconds at which frame `n` ends. */
export function secondsAfter(t: TakeIndex, n: number): number {
  if (n + 1 < t.times.length) return secondsAt(t, n + 1);
  return secondsAt(t, n) + t.info.rate[1] / t.info.rate[0];
}

/** @throws when it is not there, or was cut off */
export async function readIndex(path: string): Promise<TakeIndex> {
  const t = JSON.parse(await readFile(path, "utf8")) as TakeIndex;
  if (!t.info || t.times?.length !== t.info.frames || t.hashes?.length !== t.info.frames) throw new Error("The index of a take is cut off.");
  return t;
}

let parts = 0;

/** Writes to a temporary name, waits until the disk has it, and renames: after a power cut it is there whole or not at all. */
export async function writeWhole(path: string, data: string | Uint8Array): Promise<void> {
  const part = `${path}.${process.pid}.${++parts}.part`;
  try {
    await writeFile(part, data, { flush: true });
    await rename(part, path);
  } catch (e) {
    await rm(part, { force: true }).catch(() => undefined);
    throw fullDisk(e);
  }
}

/** Gives a file or folder another name, where it is there. */
export const movedIfThere = (from: string, to: string) =>
  rename(from, to).catch((e: NodeJS.ErrnoException) => {
    if (e.code !== "ENOENT") throw e;
  });

/** Writes all bytes at the handle's place. */
export async function writeAll(to: FileHandle, bytes: Uint8Array): Promise<void> {
  try {
    for (let at = 0; at < bytes.length;) at += (await to.write(bytes, at)).bytesWritten;
  } catch (e) {
    throw fullDisk(e);
  }
}

export const diskIsFull = () => new MediaError("The disk is full: make room, then try again; everything stored before is there.");

/** A full disk in a sentence; anything else as it is. */
export const fullDisk = (e: unknown): unknown => ((e as NodeJS.ErrnoException)?.code === "ENOSPC" ? diskIsFull() : e);
