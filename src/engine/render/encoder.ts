import { availableParallelism } from "node:os";
import { extname } from "node:path";
import { turnOf } from "../../wire/take";
import { timecodeOf } from "../../core/time/timecode";
import { type Arguments, aspect, chain, ff, joined, pair, timecode, word } from "../media/arguments";
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
const THREADS = Math.min(24, 3 * availableParallelism());

/** ffmpeg's options call some colour tags by other names than its filters and ffprobe do. */
const OPTION_NAMES: Record<string, string> = { gbr: "rgb", bt470m: "gamma22", bt470bg: "gamma28" };

/** Options of ffmpeg for the encoder: size, rate, sample layout and colour exactly as the take has them. */
export function encoderArgs(
  spec: { codec: Codec; preset: string; crf: number; out: string; convert?: boolean },
  take: TakeIndex,
  range: { in: number; out: number },
): { input: Arguments; output: Arguments; filters: Arguments; turned: Arguments | null; notes: string[] } {
  const { info } = take;
  const layout = layoutFor(spec.codec as Exclude<Codec, "png" | "tiff">, info, spec.convert ?? false);
  const tags = { ...info.tags, ...layout.tags };
  const tag = (name: Arguments, v: string | undefined, renamed = false) => (v ? ff`${name} ${word((renamed && OPTION_NAMES[v]) || v)}` : ff``);
  const colour = joined(
    tag(ff`-color_range`, tags.range),
    tag(ff`-colorspace`, tags.matrix === "gbr" ? "rgb" : tags.matrix),
    tag(ff`-color_primaries`, tags.primaries),
    tag(ff`-color_trc`, tags.transfer, true),
    tag(ff`-chroma_sample_location`, tags.siting),
    tag(ff`-field_order`, tags.fieldOrder),
  );
  const ext = extname(spec.out).toLowerCase();
  const codec = {
    h264: ff`-c:v libx264 -preset ${word(spec.preset)} -crf ${spec.crf} -threads ${THREADS}`,
    prores: ff`-c:v prores_ks -profile:v ${layout.pixFmt.includes("444") ? 4 : 3} -vendor apl0 -sws_flags bicubic+accurate_rnd+full_chroma_int`,
    ffv1: ff`-c:v ffv1 -level 3 -g 1 -slices 4 -slicecrc 1 -threads 2`,
    vp9: ff`-c:v libvpx-vp9 -crf ${spec.crf} -b:v 0 -row-mt 1 -deadline good -cpu-used ${spec.preset === "medium" ? 3 : /slow/.test(spec.preset) ? 1 : 5}`,
    png: ff``,
    tiff: ff``,
  }[spec.codec];
  // a conversion loses the pictures' own tags, and ProRes writes those, so they are set again behind it
  const set = [
    tags.range && ff`setparams=range=${word(tags.range)}`,
    tags.matrix && ff`setparams=colorspace=${word(tags.matrix)}`,
    tags.primaries && ff`setparams=color_primaries=${word(tags.primaries)}`,
    tags.transfer && ff`setparams=color_trc=${word(tags.transfer)}`,
  ].filter((f) => f !== undefined && f !== "");
  const filters = chain([...(layout.filter ? [layout.filter, ...set] : []), ...(tags.aspect ? [ff`setsar=${aspect(tags.aspect)}`] : [])]);
  const turn = turnOf(info);
  const tc = info.timecode ? timecodeOf(info.timecode, range.in, info.rate) : null; // a tag that is no timecode is not passed on
  const notes = tc && range.in > 0 ? [`The start timecode is ${tc}, that of frame ${range.in}.`] : [];
  if (layout.note) notes.push(layout.note);
  const matroska = ext === ".mkv" || ext === ".webm";
  if (turn && matroska) notes.push(`The take is turned by ${turn}°; this container carries no such flag, so the pictures lie as they were recorded.`);
  const raw = word(spec.codec === "ffv1" ? (INTERLEAVED[info.planar] ?? info.planar) : info.planar);
  const size = pair([info.width, info.height], "x");
  return {
    input: info.variableRate
      ? ff`-f matroska`
      : ff`-f rawvideo -pix_fmt ${raw} -s ${size} -r ${pair(info.rate)} ${tag(ff`-color_range`, info.tags.range)}`,
    output: joined(
      ff`${codec} -pix_fmt ${word(layout.pixFmt)}`,
      info.variableRate ? ff`-enc_time_base -1` : ff``,
      info.variableRate && ext !== ".mkv" ? ff`-video_track_timescale ${Math.min(1_000_000, take.timeBase[1])}` : ff``,
      ff`-fps_mode passthrough ${colour}`,
      tc ? (matroska ? ff`-metadata timecode=${timecode(tc)}` : ff`-timecode ${timecode(tc)}`) : ff``,
      matroska ? ff`` : ff`-movflags +faststart`,
    ),
    filters,
    // the tag counts against the clock, as the display matrix does
    turned:
      turn && !matroska ? ff`-metadata:s:v:0 rotate=${(360 - turn) % 360} ${tc ? ff`-timecode ${timecode(tc)}` : ff``} -movflags +faststart` : null,
    notes,
  };
}
