import { availableParallelism } from "node:os";
import { extname } from "node:path";
import { timecodeOf } from "../../core/time/timecode";
import { MediaError } from "../media/media-error";
import type { TakeIndex } from "../media/index-file";
import { INTERLEAVED, layoutFor } from "./layout";
import type { Written } from "./spec";

export const CODECS = ["h264", "prores", "ffv1", "vp9", "png", "tiff"] as const;
export type Codec = (typeof CODECS)[number];
export const PRESETS = ["ultrafast", "superfast", "veryfast", "faster", "fast", "medium", "slow", "slower", "veryslow"] as const;

/** Codecs that are written as numbered stills. */
export const isSequence = (c: Codec): c is "png" | "tiff" => c === "png" || c === "tiff";

const NAMES: Record<Codec, string> = { h264: "H.264", prores: "ProRes", ffv1: "FFV1", vp9: "VP9", png: "PNG", tiff: "TIFF" };
const CONTAINERS: Record<Exclude<Codec, "png" | "tiff">, string[]> = {
  h264: [".mp4", ".mov", ".mkv"],
  ffv1: [".mkv"],
  prores: [".mov"],
  vp9: [".webm", ".mkv"],
};

/** Refuses, by name and with a way out, what a codec or container cannot carry. */
export function refuse(codec: Codec, out: string, take: TakeIndex, convert = false, what: Written = "result"): void {
  if (what !== "result" && !isSequence(codec)) throw new MediaError(`The ${what} alone is written with transparency, as stills: choose PNG or TIFF.`);
  const ext = extname(out).toLowerCase();
  const { info } = take;
  if (isSequence(codec)) {
    if (!(codec === "png" ? [".png"] : [".tif", ".tiff"]).includes(ext)) {
      throw new MediaError(
        `${NAMES[codec]} is written as numbered stills: give a name such as frames/####.${codec === "png" ? "png" : "tif"} instead of “${out}”.`,
      );
    }
    return;
  }
  if (!CONTAINERS[codec].includes(ext))
    throw new MediaError(`${NAMES[codec]} is written to ${CONTAINERS[codec].join(", ")}; “${ext || out}” cannot hold it.`);
  layoutFor(codec, info, convert);
}

/** x264's own choice, 1.5 a core, leaves cores idle while pictures come through a pipe; three a core gave 3 % more frames a second at the same size of file. */
const THREADS = String(Math.min(24, 3 * availableParallelism()));

/** Options of ffmpeg for the encoder: size, rate, sample layout and colour exactly as the take has them. */
export function encoderArgs(
  spec: { codec: Codec; preset: string; crf: number; out: string; convert?: boolean },
  take: TakeIndex,
  range: { in: number; out: number },
): { input: string[]; output: string[]; notes: string[] } {
  const { info } = take;
  const layout = layoutFor(spec.codec as Exclude<Codec, "png" | "tiff">, info, spec.convert ?? false);
  const tags = { ...info.tags, ...layout.tags };
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
  const codec = {
    h264: ["-c:v", "libx264", "-preset", spec.preset, "-crf", String(spec.crf), "-threads", THREADS],
    prores: [
      "-c:v",
      "prores_ks",
      "-profile:v",
      layout.pixFmt.includes("444") ? "4" : "3",
      "-vendor",
      "apl0",
      "-sws_flags",
      "bicubic+accurate_rnd+full_chroma_int",
    ],
    ffv1: ["-c:v", "ffv1", "-level", "3", "-g", "1", "-slices", "4", "-slicecrc", "1", "-threads", "2"],
    vp9: [
      "-c:v",
      "libvpx-vp9",
      "-crf",
      String(spec.crf),
      "-b:v",
      "0",
      "-row-mt",
      "1",
      "-deadline",
      "good",
      "-cpu-used",
      spec.preset === "medium" ? "3" : /slow/.test(spec.preset) ? "1" : "5",
    ],
    png: [],
    tiff: [],
  }[spec.codec];
  // a conversion loses the pictures' own tags, and ProRes writes those, so they are set again behind it
  const set = [
    ["range", tags.range],
    ["colorspace", tags.matrix],
    ["color_primaries", tags.primaries],
    ["color_trc", tags.transfer],
  ].flatMap(([k, v]) => (v ? [`${k}=${v}`] : []));
  const filters = [
    ...(layout.filter ? [layout.filter, ...(set.length ? [`setparams=${set.join(":")}`] : [])] : []),
    ...(tags.aspect ? [`setsar=${tags.aspect.replace(":", "/")}`] : []),
  ];
  const turned = tags.rotation && ext !== ".mkv" ? ["-metadata:s:v:0", `rotate=${tags.rotation}`] : [];
  const tc = info.timecode ? timecodeOf(info.timecode, range.in, info.rate) : null; // a tag that is no timecode is not passed on
  const notes = tc && range.in > 0 ? [`The start timecode is ${tc}, that of frame ${range.in}.`] : [];
  if (layout.note) notes.push(layout.note);
  if (tags.rotation && ext === ".mkv")
    notes.push(`The take's flag turns it by ${tags.rotation}°; this container carries no such flag, so the pictures lie as they were recorded.`);
  return {
    input: info.variableRate
      ? ["-f", "matroska"]
      : [
          "-f",
          "rawvideo",
          "-pix_fmt",
          spec.codec === "ffv1" ? (INTERLEAVED[info.planar] ?? info.planar) : info.planar,
          "-s",
          `${info.width}x${info.height}`,
          "-r",
          info.rate.join("/"),
          ...(info.tags.range ? ["-color_range", info.tags.range] : []),
        ],
    output: [
      ...codec,
      "-pix_fmt",
      layout.pixFmt,
      ...(info.variableRate
        ? ["-enc_time_base", "-1", ...(ext === ".mkv" ? [] : ["-video_track_timescale", String(Math.min(1_000_000, take.timeBase[1]))])]
        : []),
      ...turned,
      "-fps_mode",
      "passthrough",
      ...colour,
      ...(filters.length ? ["-vf", filters.join(",")] : []),
      ...(tc ? (ext === ".mkv" || ext === ".webm" ? ["-metadata", `timecode=${tc}`] : ["-timecode", tc]) : []),
      ...(ext === ".mkv" || ext === ".webm" ? [] : ["-movflags", "+faststart"]),
    ],
    notes,
  };
}
