import type { Colour } from "../../core/pixels/colour";
import type { Frame } from "../../core/pixels/frame";
import { toRgb16 } from "../../core/pixels/toRgb";
import type { PlateFile } from "../../wire/plate";
import { openRaster } from "../media/openraster";
import { sharp } from "../media/sharp";

export interface PlateParts {
  /** The plate as it is now. */
  plate: Frame;
  /** What its touches lie on, and the shot's frame: layers for orientation. */
  base: Frame;
  frame: Frame;
  frameNumber: number;
  colour: Colour;
}

/** A plate as a file that other programs open. */
export async function plateFile(kind: PlateFile, w: PlateParts): Promise<Uint8Array> {
  const png16 = (f: Frame) => rgb16(f, w.colour, "png");
  if (kind === "png8") {
    const data = Uint8Array.from(toRgb16(w.plate, w.colour), (v) => Math.round(v / 257));
    return (await sharp())(data, { raw: { width: w.plate.width, height: w.plate.height, channels: 3 } })
      .png({ compressionLevel: 6 })
      .toBuffer();
  }
  if (kind === "png16") return png16(w.plate);
  if (kind === "tiff16") return rgb16(w.plate, w.colour, "tiff");
  const merged = await png16(w.plate);
  const thumbnail = await (await sharp())(merged).resize(256, 256, { fit: "inside" }).toColourspace("srgb").png().toBuffer();
  const layers = [
    { name: "Retouched", png: merged },
    { name: "Plate", png: await png16(w.base), shown: false },
    { name: `Frame ${w.frameNumber}`, png: await png16(w.frame), shown: false },
  ];
  return openRaster(w.plate.width, w.plate.height, layers, merged, thumbnail);
}

/** A frame as a still of 16 bits. */
async function rgb16(f: Frame, colour: Colour, kind: "png" | "tiff"): Promise<Buffer> {
  const image = (await sharp())(toRgb16(f, colour), { raw: { width: f.width, height: f.height, channels: 3 } }).toColourspace("rgb16");
  return (kind === "png" ? image.png({ compressionLevel: 4 }) : image.tiff({ compression: "deflate" })).toBuffer();
}
