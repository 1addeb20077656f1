import { cannotCarry, type Film } from "../../wire/formats";
import type { TakeInfo } from "../../wire/take";
import { MATRIX_TAGS } from "../media/probe";
import { type Arguments, ff, word } from "../media/arguments";
import { MediaError } from "../media/media-error";
import { FILMS } from "./formats/films";

/** How an encoder is given a take's samples: under which name, through which filter where they are converted, and what to say then. */
export interface Layout {
  pixFmt: string;
  filter: Arguments | null;
  /** Colour tags that a conversion changes. */
  tags: Partial<TakeInfo["tags"]>;
  note: string | null;
}

/** Planes an encoder takes only interleaved, and by what name; we do it ourselves, since ffmpeg's own way changes alpha by one. */
export const INTERLEAVED: Record<string, string> = { gbrap: "bgra" };

/**
 * The layout a codec is given. What it cannot carry is refused, or converted to the nearest it can, when `convert` asks for it.
 * @throws MediaError naming what cannot be carried and the ways out
 */
export function layoutFor(codec: Film, info: TakeInfo, convert: boolean): Layout {
  const reason = cannotCarry(codec, info);
  if (reason && !convert) throw new MediaError(`${reason}: choose FFV1 or stills, which keep it, or ask for it to be converted.`);
  const pixFmt = FILMS[codec][reason ? "nearest" : "carried"](info);
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
