import { type Film, FORMATS } from "../../../wire/formats";
import type { TakeInfo } from "../../../wire/take";
import type { Arguments } from "../../media/arguments";

/** How one film format is written. */
export interface FilmFormat {
  /** ffmpeg's options for its encoder. `pixFmt` is the layout of samples it is given. */
  encoder: (spec: { preset: string; crf: number }, pixFmt: string) => Arguments;
  /** The nearest layout it carries, for a take it does not carry as it is. */
  nearest: (info: TakeInfo) => string;
  /** The layout it is given for a take it carries. */
  carried: (info: TakeInfo) => string;
}

/** The layout with as many bits as a film carries, of the same chroma where it can; `odd` sizes need full chroma. */
export function yuvLayout(codec: Film, { format }: TakeInfo, odd = false): string {
  const chroma = odd || (format.model === "yuv" && !format.subX) ? "444" : format.model === "yuv" && !format.subY ? "422" : "420";
  const bits = Math.min(format.bits, FORMATS[codec].bits);
  return `yuv${chroma}p${bits > 8 ? `${bits > 10 ? 12 : 10}le` : ""}`;
}
