import { readFile } from "node:fs/promises";
import { basename } from "node:path";
import { sharp } from "./sharp";
import type { Still } from "../../core/pixels/still";
import { MediaError } from "./media-error";

/** A picture's pixels, with what is worth saying about them. */
export interface ReadPicture {
  still: Still;
  notes: string[];
}

const KINDS = ["png", "tiff", "jpeg"];
/** 16384 × 8192: a panorama around a 4K take, 1 GB at 16 bits with alpha. */
const MOST_PIXELS = 1 << 27;

/** Reads a PNG, TIFF or JPEG of 8 or 16 bits as it is: no colour profile is applied, no orientation flag followed. @throws MediaError in one sentence. */
export async function readPicture(path: string): Promise<ReadPicture> {
  const name = basename(path);
  const bytes = await readFile(path).catch(() => {
    throw new MediaError(`The picture “${name}” was not found: check the path, or whether the file was moved.`);
  });
  try {
    const image = (await sharp())(bytes, { ignoreIcc: true, limitInputPixels: false, failOn: "error" });
    const meta = await image.metadata();
    if (!KINDS.includes(meta.format)) throw new MediaError(`The picture “${name}” is ${meta.format.toUpperCase()}: give PNG, TIFF or JPEG.`);
    if (meta.width * meta.height > MOST_PIXELS)
      throw new MediaError(
        `The picture “${name}” is too large: it has ${meta.width}×${meta.height} pixels, and ${Math.floor(MOST_PIXELS / 1e6)} million are possible. Save it smaller.`,
      );
    const wide = meta.depth === "ushort";
    if (!wide && meta.depth !== "uchar")
      throw new MediaError(`The picture “${name}” has samples of the kind ${meta.depth}: save it with 8 or 16 bits a channel.`);
    const grey = meta.space === "b-w" || meta.space === "grey16";
    if (!grey && meta.space !== "srgb" && meta.space !== "rgb" && meta.space !== "rgb16")
      throw new MediaError(`The picture “${name}” is in the colour space ${meta.space}: save it as RGB or grey.`);
    const to = grey ? (wide ? "grey16" : "b-w") : wide ? "rgb16" : "srgb";
    const { data, info } = await image
      .toColourspace(to)
      .raw({ depth: wide ? "ushort" : "uchar" })
      .toBuffer({ resolveWithObject: true });
    const samples = wide ? new Uint16Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength)) : new Uint8Array(data);
    return {
      still: { width: info.width, height: info.height, channels: info.channels as Still["channels"], bits: wide ? 16 : 8, data: samples },
      notes: meta.icc ? [`The colour profile of “${name}” was left aside: its samples are taken as the take's own R′G′B′.`] : [],
    };
  } catch (e) {
    if (e instanceof MediaError) throw e;
    throw new MediaError(`“${name}” is not a picture that can be read, or it is damaged: give PNG, TIFF or JPEG.`);
  }
}
