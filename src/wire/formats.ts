import type { TakeInfo } from "./take";

/** Film codecs that are written. */
export type Film = "h264" | "prores" | "ffv1" | "vp9";

export const MOST_BITS: Record<Film, number> = { h264: 10, vp9: 12, prores: 10, ffv1: 16 };
const NAMES: Record<Film, string> = { h264: "H.264", prores: "ProRes", ffv1: "FFV1", vp9: "VP9" };

/** What of a take's samples a codec cannot carry, as the first half of a sentence; null when it carries them. */
export function cannotCarry(codec: Film, info: TakeInfo): string | null {
  const { format, width, height } = info;
  const name = NAMES[codec];
  if (codec === "ffv1") return null;
  if (format.model === "rgb") return `${name} as written here does not carry this take's R′G′B′ samples`;
  if (format.bits > MOST_BITS[codec]) return `${name} as written here carries ${MOST_BITS[codec]} bits and this take has ${format.bits}`;
  if (codec === "prores") return width % 2 ? `ProRes 4:2:2 needs an even width and this take is ${width}×${height}` : null;
  if (format.alpha) return `${name} does not carry this take's alpha`;
  if (codec === "vp9") return format.model === "gray" ? "VP9 does not carry grey alone" : null;
  const odd = (format.subX && width % 2) || (format.subY && height % 2);
  return odd ? `H.264 with ${format.subY ? "4:2:0" : "4:2:2"} needs an even picture size and this take is ${width}×${height}` : null;
}
