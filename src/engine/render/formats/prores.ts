import type { TakeInfo } from "../../../wire/take";
import { ff } from "../../media/arguments";
import type { FilmFormat } from "./format";

/** 10 bits, 4:2:2, or 4:4:4 where the take has full chroma or alpha, or an odd width. */
function layout({ format, width }: TakeInfo): string {
  if (format.alpha) return "yuva444p10le";
  return format.model === "rgb" || (format.model === "yuv" && !format.subX) || width % 2 ? "yuv444p10le" : "yuv422p10le";
}

export const prores: FilmFormat = {
  encoder: (_, pixFmt) =>
    ff`-c:v prores_ks -profile:v ${pixFmt.includes("444") ? 4 : 3} -vendor apl0 -sws_flags bicubic+accurate_rnd+full_chroma_int`,
  nearest: layout,
  carried: layout,
};
