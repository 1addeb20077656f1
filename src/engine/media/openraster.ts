import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import { MediaError } from "./media-error";

/** A layer of an OpenRaster file, top first. */
export interface RasterLayer {
  name: string;
  png: Uint8Array;
  /** Whether it is shown when the file is opened. */
  shown?: boolean;
}

const TYPE = "image/openraster";
const xml = (s: string) => s.replace(/[<>&"']/g, (c) => `&#${c.charCodeAt(0)};`);

/**
 * An OpenRaster file (the open layered format, version 0.0.5 as published by the Create project): a zip whose first entry,
 * stored, is its type, then the layers, the stack, the picture as merged, and a small picture.
 */
export function openRaster(width: number, height: number, layers: RasterLayer[], merged: Uint8Array, thumbnail: Uint8Array): Uint8Array {
  const stack = [
    `<?xml version="1.0" encoding="UTF-8"?>`,
    `<image version="0.0.5" w="${width}" h="${height}"><stack>`,
    ...layers.map(
      (l, i) =>
        `<layer name="${xml(l.name)}" src="data/layer${i}.png" x="0" y="0" opacity="1.0" composite-op="svg:src-over" visibility="${l.shown === false ? "hidden" : "visible"}"/>`,
    ),
    `</stack></image>`,
  ].join("\n");
  const stored = { level: 0 as const };
  return zipSync({
    mimetype: [strToU8(TYPE), stored],
    "stack.xml": strToU8(stack),
    ...Object.fromEntries(layers.map((l, i): [string, [Uint8Array, typeof stored]] => [`data/layer${i}.png`, [l.png, stored]])),
    "mergedimage.png": [merged, stored],
    "Thumbnails/thumbnail.png": [thumbnail, stored],
  });
}

/** The picture an OpenRaster file shows, as PNG. @throws MediaError in one sentence */
export function mergedPicture(bytes: Uint8Array, name: string): Uint8Array {
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, { filter: (f) => f.name === "mimetype" || f.name === "mergedimage.png" });
  } catch {
    throw new MediaError(`“${name}” is no whole OpenRaster file: save it again.`);
  }
  if (!files.mimetype || strFromU8(files.mimetype).trim() !== TYPE)
    throw new MediaError(`“${name}” is not an OpenRaster file: save it in that format again.`);
  const merged = files["mergedimage.png"];
  if (!merged) throw new MediaError(`“${name}” holds no merged picture: save it with one, as OpenRaster asks for.`);
  return merged;
}
