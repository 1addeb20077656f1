import { sharp } from "./sharp";
import type { Colour } from "../../core/pixels/colour";
import type { Frame } from "../../core/pixels/frame";
import { toRgb16, toRgba8 } from "../../core/pixels/toRgb";

/** A frame as 8-bit PNG, R′G′B′. `alpha` (0–1, one a pixel) makes it straight RGBA. */
export async function framePng(frame: Frame, colour: Colour, alpha?: Float64Array): Promise<Buffer> {
  const { width, height } = frame;
  const rgba = new Uint8ClampedArray(width * height * 4);
  toRgba8(frame, colour, { x0: 0, y0: 0, x1: width, y1: height }, rgba, "linear");
  if (alpha) for (let i = 0; i < alpha.length; i++) rgba[i * 4 + 3] = alpha[i] * 255;
  const image = (await sharp())(Buffer.from(rgba.buffer), { raw: { width, height, channels: 4 } });
  return (alpha ? image : image.removeAlpha()).png({ compressionLevel: 6 }).toBuffer();
}

/** A frame as a still of a sequence: PNG with 8 bits, or 16 where the frame has more than 8; TIFF always with 16. */
export async function frameStill(frame: Frame, colour: Colour, kind: "png" | "tiff"): Promise<Buffer> {
  if (kind === "png" && frame.format.bits === 8) return framePng(frame, colour);
  const image = (await sharp())(toRgb16(frame, colour), { raw: { width: frame.width, height: frame.height, channels: 3 } }).toColourspace("rgb16");
  return (kind === "png" ? image.png({ compressionLevel: 6 }) : image.tiff({ compression: "deflate" })).toBuffer();
}

/** R′G′B′A of 16 bits as a still with straight alpha, of 8 or 16 bits. */
export async function rgbaStill(rgba: Uint16Array, width: number, height: number, bits: 8 | 16, kind: "png" | "tiff"): Promise<Buffer> {
  const data = bits === 16 ? rgba : Uint8Array.from(rgba, (v) => (v + 128) / 257);
  const image = (await sharp())(data, { raw: { width, height, channels: 4 } }).toColourspace(bits === 16 ? "rgb16" : "srgb");
  return (kind === "png" ? image.png({ compressionLevel: 6 }) : image.tiff({ compression: "deflate" })).toBuffer();
}
