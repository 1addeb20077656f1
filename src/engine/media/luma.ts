import type { TakeInfo } from "../../wire/take";
import { type Arguments, ff, word } from "./arguments";

/** The filter that leaves the luma of a take's pictures, or green, which is nearest to it: samples as they are decoded. */
export function toLuma({ format, decoded, planar }: Pick<TakeInfo, "format" | "decoded" | "planar">): Arguments {
  if (format.model === "gray") return ff`format=${word(planar)}`;
  if (format.model === "rgb") return ff`format=${word(planar)},extractplanes=g`;
  return ff`format=${word(decoded ?? planar)},extractplanes=y`;
}
