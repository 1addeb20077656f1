import type { Readable } from "node:stream";
import { ff } from "./arguments";
import { ended, input, patiently, start } from "./ffmpeg";
import { secondsAfter, secondsAt, sourceOf, type TakeIndex } from "./index-file";
import { MediaError } from "./media-error";

/** Longest stretch, in seconds, that is given out as one piece to be played. */
const LONGEST = 600;

/**
 * The sound of frames `a` to `b`, to be played: the first track as FLAC in stereo, cut to the sample, filled with silence
 * where the track begins later or ends earlier.
 */
export async function takeSound(take: TakeIndex, a: number, b: number): Promise<Buffer> {
  const last = take.info.frames - 1;
  if (!take.info.sound) throw new MediaError("This take has no sound.");
  if (a > b || b > last) throw new MediaError(`The frames ${a} to ${b} lie outside the take, which has frames 0 to ${last}.`);
  const [from, to] = [secondsAt(take, a), secondsAfter(take, b)];
  if (to - from > LONGEST) throw new MediaError(`Sound is played for at most ${LONGEST / 60} minutes at a time: mark a shorter stretch.`);
  const length = to - from;
  // asked for from a little before, since a track's packets do not begin where a frame does
  const begin = Math.max(0, from - 2);
  const cut = ff`atrim=start=${from}:end=${to},asetpts=PTS-${from}/TB,aresample=48000:async=1:first_pts=0,apad=whole_dur=${length},atrim=end=${length}`;
  const seek = begin > 0 ? ff`-ss ${begin} -copyts` : ff`-copyts`;
  const child = start(ff`${seek} ${input(sourceOf(take))} -map 0:a:0 -vn -af ${cut} -ac 2 -sample_fmt s16 -f flac pipe:1`, "ignore");
  const end = ended(child, "Reading the sound");
  const parts: Buffer[] = [];
  const read = (async () => {
    for await (const part of child.stdout as Readable) parts.push(part as Buffer);
  })();
  await patiently(child, "Reading the sound", Promise.all([read, end]), 2);
  return Buffer.concat(parts);
}
