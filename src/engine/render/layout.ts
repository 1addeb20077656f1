import { cannotCarry, type Film, MOST_BITS } from "../../wire/formats";
import type { TakeInfo } from "../../wire/take";
import { MATRIX_TAGS } from "../media/probe";
import { type Arguments, ff, word } from "../media/arguments";
import { MediaError } from "../media/media-error";
import type { Codec } from "./encoder";

/** How an encoder is given a take's samples: under which name, through which filter where they are converted, and what to say then. */
export interface Layout {
  pixFmt: string;
  filter: Arguments | null;
  /** Colour tags that a conversion changes. */
  tags: Partial<TakeInfo["tags"]>;
  note: string | null;
}

/** Layouts that hold the same samples where an encoder does not take ours by name; it would pick another, and change them, without a word. */
const CARRIED: Partial<Record<Codec, Record<string, string>>> = { ffv1: { gbrp: "bgr0", gbrap: "bgra" } };

/** Planes an encoder takes only interleaved, and by what name; we do it ourselves, since ffmpeg's own way changes alpha by one. */
export const INTERLEAVED: Record<string, string> = { gbrap: "bgra" };

/** ProRes is 10 bits, 4:2:2, or 4:4:4 where the take has full chroma or alpha, or an odd width. */
function proresFormat({ format, width }: TakeInfo): string {
  if (format.alpha) return "yuva444p10le";
  return format.model === "rgb" || (format.model === "yuv" && !format.subX) || width % 2 ? "yuv444p10le" : "yuv422p10le";
}

/** The nearest layout a film codec carries: the same size and, where it can, the same chroma and depth. */
function nearest(codec: Film, info: TakeInfo): string {
  if (codec === "prores") return proresFormat(info);
  const { format, width, height } = info;
  const odd = codec === "h264" && (width % 2 || height % 2);
  const chroma = odd || (format.model === "yuv" && !format.subX) ? "444" : format.model === "yuv" && !format.subY ? "422" : "420";
  const bits = Math.min(format.bits, MOST_BITS[codec]);
  return `yuv${chroma}p${bits > 8 ? `${bits > 10 ? 12 : 10}le` : ""}`;
}

/**
 * The layout a codec is given. What it cannot carry is refused, or converted to the nearest it can, when `convert` asks for it.
 * @throws MediaError naming what cannot be carried and the ways out
 */
export function layoutFor(codec: Film, info: TakeInfo, convert: boolean): Layout {
  const reason = cannotCarry(codec, info);
  if (reason && !convert) throw new MediaError(`${reason}: choose FFV1 or stills, which keep it, or ask for it to be converted.`);
  const pixFmt = reason ? nearest(codec, info) : codec === "prores" ? proresFormat(info) : (CARRIED[codec]?.[info.planar] ?? info.planar);
  const same = codec === "ffv1" || pixFmt === info.planar;
  if (same) return { pixFmt, filter: null, tags: {}, note: null };
  const rgb = info.format.model === "rgb";
  const matrix = MATRIX_TAGS[info.colour.matrix];
  const tags = rgb ? { matrix, range: "tv" } : {};
  const to = word(pixFmt);
  const filter = rgb
    ? ff`scale=out_color_matrix=${word(matrix)}:out_range=tv:flags=bicubic+accurate_rnd+full_chroma_int,format=${to}`
    : ff`format=${to}`;
  const dropped = info.format.alpha && !pixFmt.startsWith("yuva") ? " The take's alpha is left out." : "";
  return {
    pixFmt,
    filter,
    tags,
    note: `Samples were converted from ${info.planar} to ${pixFmt}${reason ? ", as asked" : ", which is what ProRes carries"}.${dropped}`,
  };
}
