import { extname } from "node:path";
import { NotSupportedYet } from "../../core/document";
import { timecodeOf } from "../../core/time/timecode";
import { MediaError } from "../media/ffmpeg";
import type { TakeIndex } from "../media/index-file";

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
export function refuse(codec: Codec, out: string, take: TakeIndex): void {
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
  if (codec === "ffv1" && info.planar === "gbrap") throw new NotSupportedYet("FFV1 of 8-bit R′G′B′ with alpha");
  if (codec === "ffv1") return;
  const { format } = info;
  const name = NAMES[codec];
  if (format.model === "rgb") throw new MediaError(`${name} does not carry this take's R′G′B′ samples: choose FFV1 or stills.`);
  if (codec === "prores") {
    if (format.bits > 10) throw new MediaError(`ProRes as written here carries 10 bits and this take has ${format.bits}: choose FFV1.`);
    if (info.width % 2)
      throw new MediaError(`ProRes 4:2:2 needs an even width and this take is ${info.width}×${info.height}: choose FFV1 or stills.`);
    return;
  }
  if (format.alpha) throw new MediaError(`${name} does not carry this take's alpha: choose FFV1 or ProRes.`);
  const most = codec === "h264" ? 10 : 12;
  if (format.bits > most) throw new MediaError(`${name} does not carry ${format.bits} bits: choose FFV1.`);
  if (codec === "vp9" && format.model === "gray") throw new MediaError("VP9 does not carry grey alone: choose FFV1 or H.264.");
  if (codec === "h264" && ((format.subX && info.width % 2) || (format.subY && info.height % 2))) {
    throw new MediaError(`H.264 needs an even picture size and this take is ${info.width}×${info.height}: choose FFV1 or stills, which keep it.`);
  }
}

/** What ProRes is written as: 4:2:2, or 4:4:4 where the take has full chroma or alpha; always 10 bits. Said when samples are converted. */
function proresLayout(info: TakeIndex["info"]): { pixFmt: string; profile: string; note: string | null } {
  const { format } = info;
  const full = format.alpha || (format.model === "yuv" && !format.subX);
  const pixFmt = format.alpha ? "yuva444p10le" : full ? "yuv444p10le" : "yuv422p10le";
  return {
    pixFmt,
    profile: full ? "4" : "3",
    note: pixFmt === info.planar ? null : `Samples were converted from ${info.planar} to ${pixFmt}, which is what ProRes carries.`,
  };
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
  const prores = spec.codec === "prores" ? proresLayout(info) : null;
  const codec = {
    h264: ["-c:v", "libx264", "-preset", spec.preset, "-crf", String(spec.crf)],
    prores: ["-c:v", "prores_ks", "-profile:v", prores?.profile ?? "3", "-vendor", "apl0", "-sws_flags", "bicubic+accurate_rnd+full_chroma_int"],
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
    ...(prores ? [`format=${prores.pixFmt}`, ...(set.length ? [`setparams=${set.join(":")}`] : [])] : []),
    ...(tags.aspect ? [`setsar=${tags.aspect.replace(":", "/")}`] : []),
  ];
  const turned = tags.rotation && ext !== ".mkv" ? ["-metadata:s:v:0", `rotate=${tags.rotation}`] : [];
  const tc = info.timecode ? timecodeOf(info.timecode, range.in, info.rate) : null; // a tag that is no timecode is not passed on
  const notes = tc && range.in > 0 ? [`The start timecode is ${tc}, that of frame ${range.in}.`] : [];
  if (prores?.note) notes.push(prores.note);
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
      prores?.pixFmt ?? CARRIED[spec.codec]?.[info.planar] ?? info.planar,
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
