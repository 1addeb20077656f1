import type { Colour } from "../pixels/colour";
import type { Frame } from "../pixels/frame";
import { stillFrame } from "../pixels/still";
import { toRgb16 } from "../pixels/toRgb";
import type { Look } from "./look";

/**
 * A frame in a look, of its own samples' layout: as R′G′B′ of 16 bits, chroma interpolated at its siting, through the table, mixed by
 * `strength` 0 … 1, and back, chroma averaged over each sample's footprint; rounded once. Its alpha stays.
 */
export function frameInLook(frame: Frame, colour: Colour, look: Look, strength: number): Frame {
  const data = toRgb16(frame, colour);
  const rgb = new Float32Array(3);
  for (let i = 0; i < data.length; i += 3) {
    for (let c = 0; c < 3; c++) rgb[c] = data[i + c] / 65535;
    look(rgb);
    for (let c = 0; c < 3; c++) {
      const v = data[i + c] + strength * (65535 * rgb[c] - data[i + c]);
      data[i + c] = v <= 0 ? 0 : v >= 65535 ? 65535 : Math.round(v);
    }
  }
  const { width, height, format } = frame;
  const out = stillFrame({ width, height, channels: 3, bits: 16, data }, format, colour);
  return format.alpha ? { ...out, format, planes: [...out.planes, frame.planes[frame.planes.length - 1]] } : out;
}
