import { ciede2000, toLab } from "../measure/ciede2000";
import { type Colour, ycbcrToRgb } from "../pixels/colour";
import type { PixelFormat } from "../pixels/frame";

/** CIEDE2000 of a colour and the same with something added, both in 8-bit codes of the take, a plane each. */
export function colourStep({ format, colour }: { format: PixelFormat; colour: Colour }, from: readonly number[], step: readonly number[]): number {
  const lab = (v: readonly number[]) => {
    if (format.model === "rgb") return toLab(v[2] / 255, v[0] / 255, v[1] / 255);
    const rgb = ycbcrToRgb(v[0], v[1] ?? 128, v[2] ?? 128, colour, 8).map((c) => Math.min(1, Math.max(0, c)));
    return toLab(rgb[0], rgb[1], rgb[2]);
  };
  return ciede2000(lab(from), lab(from.map((v, p) => v + step[p])));
}
