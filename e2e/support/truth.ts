import { expect } from "vitest";
import sharp from "sharp";
import { Truth } from "../../benchmarks/truth/truth";

/** The shot's mended frame as 8-bit R′G′B′, and the take's own. */
export async function still(url: string, shot: string, what: "frame" | "original", n: number) {
  const r = await fetch(`${url}/api/shots/${shot}/still?what=${what}&frame=${n}`);
  expect(r.status).toBe(200);
  return sharp(Buffer.from(await r.arrayBuffer()))
    .raw()
    .toBuffer({ resolveWithObject: true });
}
/** PSNR of luma against the clean truth where the intruder's matte is more than half, before and after. @param within instead a rectangle: left, top, right, bottom; @param both of it only what the matte covers */
export async function againstTruth(
  url: string,
  name: string,
  shot: string,
  n: number,
  within?: readonly [number, number, number, number],
  both = false,
) {
  const truth = new Truth(name);
  const box = truth.known;
  const [clean] = [...truth.clean([n], box)];
  const [matte] = [...truth.mattes([n], box)];
  const w = box.x1 - box.x0;
  const measure = async (what: "frame" | "original") => {
    const { data, info } = await still(url, shot, what, n);
    let [s, count] = [0, 0];
    for (let i = 0; i < matte.length; i++) {
      const [x, y0] = [box.x0 + (i % w), box.y0 + Math.floor(i / w)];
      if (within && (x < within[0] || y0 < within[1] || x >= within[2] || y0 >= within[3])) continue;
      if ((!within || both) && matte[i] < 128) continue;
      const at = (y0 * info.width + x) * info.channels;
      const y = 16 + (219 / 255) * (0.2126 * data[at] + 0.7152 * data[at + 1] + 0.0722 * data[at + 2]);
      s += (y - clean.y[i]) ** 2;
      count++;
    }
    return 10 * Math.log10((255 * 255 * count) / s);
  };
  return { before: await measure("original"), after: await measure("frame") };
}
