/**
 * A stand-in for another program in which somebody retouches a plate: paints a soft grey dab into a picture file and saves it.
 *   node scripts/outside-retoucher.mjs FILE [X Y WIDTH HEIGHT]
 * FILE is a PNG, a TIFF or an OpenRaster file; of the last, the layer on top and the merged picture are changed.
 */
import { readFileSync, renameSync, writeFileSync } from "node:fs";
import { extname } from "node:path";
import { unzipSync, zipSync } from "fflate";
import sharp from "sharp";

const [file, x = "100", y = "100", width = "60", height = "40"] = process.argv.slice(2);
const box = { x: Number(x), y: Number(y), width: Number(width), height: Number(height) };

/** Paints the dab; everything outside it keeps its own samples. */
async function dabbed(bytes, kind) {
  const image = sharp(bytes);
  const meta = await image.metadata();
  const wide = meta.depth === "ushort";
  const { data, info } = await image
    .toColourspace(wide ? "rgb16" : "srgb")
    .raw({ depth: wide ? "ushort" : "uchar" })
    .toBuffer({ resolveWithObject: true });
  const samples = wide ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data;
  const grey = wide ? 32896 : 128;
  for (let j = 0; j < box.height; j++)
    for (let i = 0; i < box.width; i++) {
      const u = (2 * (i + 0.5)) / box.width - 1;
      const v = (2 * (j + 0.5)) / box.height - 1;
      const share = Math.max(0, 1 - u * u - v * v);
      const at = ((box.y + j) * info.width + box.x + i) * info.channels;
      if (share > 0) for (let c = 0; c < 3; c++) samples[at + c] = Math.round(samples[at + c] * (1 - share) + grey * share);
    }
  const out = sharp(samples, { raw: { width: info.width, height: info.height, channels: info.channels } }).toColourspace(wide ? "rgb16" : "srgb");
  return (kind === ".tif" || kind === ".tiff" ? out.tiff({ compression: "deflate" }) : out.png()).toBuffer();
}

const kind = extname(file).toLowerCase();
let saved;
if (kind === ".ora") {
  const files = unzipSync(readFileSync(file));
  const picture = await dabbed(files["mergedimage.png"], ".png");
  saved = zipSync({ ...files, mimetype: [files.mimetype, { level: 0 }], "data/layer0.png": picture, "mergedimage.png": picture });
} else saved = await dabbed(readFileSync(file), kind);
// as careful programs save: beside it, then in its place
writeFileSync(`${file}.saving`, saved);
renameSync(`${file}.saving`, file);
