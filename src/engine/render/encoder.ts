import { extname } from "node:path";
import { NotSupportedYet } from "../../core/document";
import { fromTimecode, isDropFrame, toTimecode } from "../../core/time/timecode";
import { MediaError } from "../media/ffmpeg";
import type { TakeIndex } from "../media/index-file";

export const CODECS = ["h264", "ffv1", "png", "prores", "vp9"] as const;
export type Codec = (typeof CODECS)[number];
export const PRESETS = ["ultrafast", "superfast", "veryfast", "faster", "fast", "medium", "slow", "slower", "veryslow"] as const;

const CONTAINERS: Record<Exclude<Codec, "png">, string[]> = {
  h264: [".mp4", ".mov", ".mkv"],
  ffv1: [".mkv"],
  prores: [".mov"],
  vp9: [".webm", ".mkv"],
};

/** Refuses, by name and with a way out, what a codec or container cannot carry. */
export function refuse(codec: Codec, out: string, take: TakeIndex): void {
  const ext = extname(out).toLowerCase();
  const { info } = take;
  if (codec === "prores" || codec === "vp9") throw new NotSupportedYet(`The codec ${codec}`);
  if (codec === "png") {
    if (ext !== ".png") throw new MediaError(`PNG is written as numbered stills: give a name such as frames/####.png instead of “${out}”.`);
    return;
  }
  if (!CONTAINERS[codec].includes(ext))
    throw new MediaError(`${codec === "ffv1" ? "FFV1" : "H.264"} is written to ${CONTAINERS[codec].join(", ")}; “${ext || out}” cannot hold it.`);
  if (codec === "ffv1" && info.planar === "gbrap") throw new NotSupportedYet("FFV1 of 8-bit R′G′B′ with alpha");
  if (codec === "h264") {
    const { format } = info;
    if (format.model === "rgb") throw new MediaError("H.264 does not carry this take's R′G′B′ samples: choose FFV1 or PNG.");
    if (format.alpha) throw new MediaError("H.264 does not carry this take's alpha: choose FFV1.");
    if (format.bits > 10) throw new MediaError(`H.264 does not carry ${format.bits} bits: choose FFV1.`);
    if ((format.subX && info.width % 2) || (format.subY && info.height % 2))
      throw new MediaError(`H.264 needs an even picture size and this take is ${info.width}×${info.height}: choose FFV1 or PNG, which keep it.`);
  }
}

/** Layouts that hold the same samples where an encoder does not take ours by name; it would pick another, and change them, without a word. */
const CARRIED: Partial<Record<Codec, Record<string, string>>> = { ffv1: { gbrp: "bgr0" } };

/** Options of ffmpeg for the encoder: size, rate, sample layout and colour exactly as the take has them. */
export function encoderArgs(
  spec: { codec: Codec; preset: string; crf: number; out: string },
  take: TakeIndex,
  range: { in: number; out: number },
): { input: string[]; output: string[]; notes: string[] } {
  const { info } = take;
  const { tags } = info;
  const given: [string, string | undefined][] = [
    ["-color_range", tags.range],
    ["-colorspace", tags.matrix === "gbr" ? "rgb" : tags.matrix],
    ["-color_primaries", tags.primaries],
    ["-color_trc", tags.transfer],
    ["-chroma_sample_location", tags.siting],
    ["-field_order", tags.fieldOrder],
  ];
  const colour = given.flatMap(([k, v]) => (v ? [k, v] : []));
  const ext = extname(spec.out).toLowerCase();
  const codec =
    spec.codec === "h264"
      ? ["-c:v", "libx264", "-preset", spec.preset, "-crf", String(spec.crf)]
      : ["-c:v", "ffv1", "-level", "3", "-g", "1", "-slices", "4", "-slicecrc", "1", "-threads", "2"];
  const turned = tags.rotation && ext !== ".mkv" ? ["-metadata:s:v:0", `rotate=${tags.rotation}`] : [];
  const tc = startTimecode(take, range.in);
  const notes = tc && range.in > 0 ? [`The start timecode is ${tc}, that of frame ${range.in}.`] : [];
  if (tags.rotation && ext === ".mkv")
    notes.push(`The take's flag turns it by ${tags.rotation}°; this container carries no such flag, so the pictures lie as they were recorded.`);
  return {
    input: info.variableRate
      ? ["-f", "matroska"]
      : [
          "-f",
          "rawvideo",
          "-pix_fmt",
          info.planar,
          "-s",
          `${info.width}x${info.height}`,
          "-r",
          info.rate.join("/"),
          ...(tags.range ? ["-color_range", tags.range] : []),
        ],
    output: [
      ...codec,
      "-pix_fmt",
      CARRIED[spec.codec]?.[info.planar] ?? info.planar,
      ...(info.variableRate
        ? ["-enc_time_base", "-1", ...(ext === ".mkv" ? [] : ["-video_track_timescale", String(Math.min(1_000_000, take.timeBase[1]))])]
        : []),
      ...turned,
      "-fps_mode",
      "passthrough",
      ...colour,
      ...(tags.aspect ? ["-vf", `setsar=${tags.aspect.replace(":", "/")}`] : []),
      ...(tc ? (ext === ".mkv" ? ["-metadata", `timecode=${tc}`] : ["-timecode", tc]) : []),
      ...(ext === ".mkv" ? [] : ["-movflags", "+faststart"]),
    ],
    notes,
  };
}

/** The timecode of frame `n`, counted from the take's start timecode. */
export function startTimecode(take: TakeIndex, n: number): string | null {
  const tc = take.info.timecode;
  if (!tc) return null;
  try {
    return toTimecode(fromTimecode(tc, take.info.rate) + n, take.info.rate, isDropFrame(tc));
  } catch {
    return null; // a tag that is no timecode is not passed on
  }
}
