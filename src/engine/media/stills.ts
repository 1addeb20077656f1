import sharp from "sharp";
import { toRgba8 } from "../../core/pixels/toRgb";
import type { Colour } from "../../core/pixels/colour";
import { type Frame, maxCode } from "../../core/pixels/frame";

/** A frame as PNG, R′G′B′, 8 bit. `alpha` (0–1, one a pixel) makes it straight RGBA. */
export async function framePng(frame: Frame, colour: Colour, alpha?: Float64Array): Promise<Buffer> {
  const { width, height } = frame;
  const rgba = new Uint8ClampedArray(width * height * 4);
  toRgba8(frame, colour, { x0: 0, y0: 0, x1: width, y1: height }, rgba, "linear");
  if (alpha) for (let i = 0; i < alpha.length; i++) rgba[i * 4 + 3] = alpha[i] * 255;
  const image = sharp(Buffer.from(rgba.buffer), { raw: { width, height, channels: 4 } });
  return (alpha ? image : image.removeAlpha()).png({ compressionLevel: 6 }).toBuffer();
}

/** Whether a frame's depth is more than an 8-bit PNG can hold, to be said where it is written. */
export const losesDepth = (frame: Frame) => maxCode(frame.format) > 255;
