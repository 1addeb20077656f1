import { stat } from "node:fs/promises";
import type { TakeInfo } from "../../wire/take";
import { MediaError } from "./media-error";
import type { TakeIndex } from "./index-file";
import { type Listed, probe, probeListed } from "./probe";
import type { Sequence } from "./sequence";

/**
 * A take was found to be other than its container lists it: it is to be read through, which tells for certain.
 * It is never shown to anybody; whoever works by a listing reads the take and begins again.
 */
export class NotAsListed extends MediaError {}

/** Whether the take was read through, so that each of its pictures is known by its hash. */
export const isReadThrough = (t: TakeIndex) => t.hashes.length > 0;

/** Whether steps between pictures differ by more than rounding to the time base can explain. */
function isVariable(times: readonly number[], [num, den]: readonly [number, number]): boolean {
  let [least, most] = [Infinity, -Infinity];
  for (let i = 1; i < times.length; i++) {
    const step = times[i] - times[i - 1];
    least = Math.min(least, step);
    most = Math.max(most, step);
  }
  const span = most - least;
  return span > 1 && (span * num) / den > 0.002;
}

/** What follows from a take's times: what a file says about itself, and the count of its pictures. */
export function timedInfo(info: Omit<TakeInfo, "frames" | "variableRate">, times: readonly number[], timeBase: readonly [number, number]): TakeInfo {
  const variableRate = isVariable(times, timeBase);
  return {
    ...info,
    frames: times.length,
    variableRate,
    seconds: (times[times.length - 1] - times[0]) * (timeBase[0] / timeBase[1]) + info.rate[1] / info.rate[0],
    notes: variableRate ? [...info.notes, "Its frame rate varies; frames keep their own times."] : info.notes,
  };
}

/**
 * The index of a take by what its container lists, without decoding a picture: no hashes, cuts and brightness. Enough to decode it from
 * its start; whoever does has to check the count.
 * @returns null where the container does not list every picture with its time, so that the take has to be read through
 * @throws MediaError as `probe` does
 */
export async function listTake(path: string, sequence?: Sequence): Promise<TakeIndex | null> {
  const none = { hashes: [], cuts: [], brightness: [] };
  if (sequence) {
    const { expected: _, ...info } = await probe(path, sequence);
    const times = Array.from({ length: sequence.count }, (_, n) => n);
    const timeBase: [number, number] = [sequence.rate[1], sequence.rate[0]];
    return { path, sequence, size: 0, info: timedInfo(info, times, timeBase), times, timeBase, ...none };
  }
  const { probed, listed } = await probeListed(path);
  const { expected, ...info } = probed;
  const found = timesOf(listed);
  if (!found || (expected !== null && expected !== found.times.length)) return null;
  return { path, size: (await stat(path)).size, info: timedInfo(info, found.times, found.timeBase), ...found, ...none };
}

/** Times of all pictures from the file's start, in order, as ffmpeg counts them when it decodes; null where one has none. */
function timesOf({ packets, timeBase, start }: Listed): { times: number[]; timeBase: [number, number] } | null {
  const base = /^(\d+)\/(\d+)$/.exec(timeBase ?? "");
  // what lies before the start of an edit list is decoded and not shown
  const shown = packets.filter((p) => !p.flags.includes("D"));
  if (!base || !shown.length || shown.some((p) => p.flags.includes("C") || p.pts === undefined)) return null;
  const [num, den] = [Number(base[1]), Number(base[2])];
  const zero = Math.round((start * den) / num);
  const times = shown.map((p) => p.pts! - zero).sort((a, b) => a - b);
  if (times.some((t, i) => i > 0 && t === times[i - 1])) return null;
  return { times, timeBase: [num, den] };
}
