import { extname } from "node:path";
import { type Codec, type Film, type Format, FORMATS, isStills, shortName } from "../../wire/formats";
import { turnOf } from "../../wire/take";
import { timecodeOf } from "../../core/time/timecode";
import { type Arguments, aspect, chain, ff, joined, pair, timecode, word } from "../media/arguments";
import { MediaError } from "../media/media-error";
import type { TakeIndex } from "../media/index-file";
import { FILMS } from "./formats/films";
import { INTERLEAVED, layoutFor } from "./layout";
import type { Written } from "../../wire/job";

/** Refuses, by name and with a way out, what a codec or container cannot carry. */
export function refuse(codec: Codec, out: string, take: TakeIndex, convert = false, what: Written = "result"): void {
  if (what === "review" && isStills(codec)) throw new MediaError("A review is a film of before and after: choose the codec of a film.");
  if ((what === "patch" || what === "matte") && !isStills(codec))
    throw new MediaError(`The ${what} alone is written with transparency, as stills: choose PNG or TIFF.`);
  const ext = extname(out).toLowerCase();
  const { info } = take;
  const { containers, extension }: Format = FORMATS[codec];
  const name = shortName(codec);
  if (isStills(codec)) {
    if (!containers.includes(ext))
      throw new MediaError(`${name} is written as numbered stills: give a name such as frames/####${extension} instead of “${out}”.`);
    return;
  }
  if (!containers.includes(ext)) throw new MediaError(`${name} is written to ${containers.join(", ")}; “${ext || out}” cannot hold it.`);
  layoutFor(codec, info, convert);
}

/** ffmpeg's options call some colour tags by other names than its filters and ffprobe do. */
const OPTION_NAMES: Record<string, string> = { gbr: "rgb", bt470m: "gamma22", bt470bg: "gamma28" };

/** Options of ffmpeg for the encoder: size, rate, sample layout and colour exactly as the take has them. */
export function encoderArgs(
  spec: { codec: Film; preset: string; crf: number; out: string; convert?: boolean },
  take: TakeIndex,
  range: { in: number; out: number },
): { input: Arguments; output: Arguments; filters: Arguments; turned: Arguments | null; notes: string[] } {
  const { info } = take;
  const layout = layoutFor(spec.codec, info, spec.convert ?? false);
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
  const codec = FILMS[spec.codec].encoder(spec, layout.pixFmt);
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
