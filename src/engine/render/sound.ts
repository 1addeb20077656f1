import { extname } from "node:path";
import { type Arguments, ff } from "../media/arguments";
import { input } from "../media/ffmpeg";
import { secondsAfter, secondsAt, sourceOf, type TakeIndex } from "../media/index-file";

const COPIES: Record<string, RegExp> = {
  ".mp4": /^(aac|mp3|ac3|eac3|alac|opus|flac)$/,
  ".mov": /^(aac|mp3|ac3|eac3|alac|pcm_\w+)$/,
  ".mkv": /./,
  ".webm": /^(opus|vorbis)$/,
};

/**
 * The take's sound beside the render: copied when the output is the whole take, otherwise cut to the sample
 * and encoded again. All tracks are kept.
 * @param fileIndex which of ffmpeg's inputs the sound will be
 */
export function soundArgs(
  take: TakeIndex,
  range: { in: number; out: number },
  out: string,
  fileIndex: number,
): {
  /** Seconds by which the take's pictures begin after its sound, where they are to stay so; and the option for it in front of a raw input. */
  late: number;
  offset: Arguments;
  input: Arguments;
  output: Arguments;
  notes: string[];
} {
  const whole = range.in === 0 && range.out === take.info.frames - 1;
  const first = secondsAt(take, 0);
  const late = whole && first > 0 ? first : 0;
  const offset = late ? ff`-itsoffset ${late}` : ff``;
  if (!take.info.sound) return { late, offset, input: ff``, output: ff``, notes: [] };
  const ext = extname(out).toLowerCase();
  const file = input(sourceOf(take));
  const map = ff`-map ${fileIndex}:a`;
  if (whole && COPIES[ext]?.test(take.info.sound.codec)) return { late, offset, input: file, output: ff`${map} -c:a copy`, notes: ["Sound copied."] };
  const [codec, again] =
    ext === ".mkv" ? ["FLAC", ff`-c:a flac`] : ext === ".webm" ? ["Opus", ff`-c:a libopus -b:a 192k`] : ["AAC", ff`-c:a aac -b:a 256k`];
  if (whole)
    return {
      late,
      offset,
      input: file,
      output: ff`${map} ${again}`,
      notes: [`Sound encoded again as ${codec}, since ${ext} does not hold ${take.info.sound.codec}.`],
    };
  const [a, b] = [secondsAt(take, range.in), secondsAfter(take, range.out)];
  const cut = ff`atrim=start=${a}:end=${b},asetpts=PTS-${a}/TB,aresample=async=1:first_pts=0`;
  return {
    late,
    offset,
    input: file,
    output: ff`${map} -af ${cut} ${again}`,
    notes: [`Sound cut to the sample and encoded again as ${codec}, since only part of the take is written.`],
  };
}
