import { type Colour, LUMA, rgbToYcbcr } from "./colour";
import { createFrame, type Frame, maxCode, type PixelFormat, planeShift, type Samples } from "./frame";
import { overFootprint } from "./siting";

/** A picture that was brought in: R′G′B′ or grey (1 or 3 colour channels), maybe with straight alpha behind; channels interleaved. */
export interface Still {
  width: number;
  height: number;
  channels: 1 | 2 | 3 | 4;
  bits: 8 | 16;
  data: Samples;
}

export const hasAlpha = (s: Still) => s.channels === 2 || s.channels === 4;

const top = (s: Still) => (s.bits === 8 ? 255 : 65535);

/** Channel `c` of R′G′B′ at sample `i`, 0–1. */
const value = (s: Still, i: number, c: number) => s.data[i * s.channels + (s.channels < 3 ? 0 : c)] / top(s);

/**
 * A brought-in picture on the planes of a take: Y′CbCr by the take's matrix and range (BT.601-7, BT.709-6, BT.2020-2), no transfer
 * conversion; chroma is averaged over each sample's footprint at its siting with the weights of α, borders replicated. What is
 * transparent has no colour and does not count in the mean (Porter & Duff 1984: means are of α-weighted colours).
 * Alpha, where the picture has it, follows as its own plane. Values are rounded once, at the end.
 */
export function stillFrame(s: Still, like: PixelFormat, colour: Pick<Colour, "matrix" | "range" | "siting">): Frame {
  const format = { ...like, alpha: hasAlpha(s) };
  const out = createFrame(s.width, s.height, format);
  const max = maxCode(format);
  const count = s.width * s.height;
  const put = (p: number, i: number, v: number) => (out.planes[p].data[i] = Math.min(max, Math.max(0, Math.floor(v + 0.5))));
  if (format.alpha) {
    const plane = out.planes.length - 1;
    for (let i = 0; i < count; i++) put(plane, i, (max * s.data[(i + 1) * s.channels - 1]) / top(s));
  }
  if (format.model === "rgb") {
    // planes are G, B, R
    [1, 2, 0].forEach((c, p) => {
      for (let i = 0; i < count; i++) put(p, i, max * value(s, i, c));
    });
    return out;
  }
  const ycc = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
  for (let i = 0; i < count; i++) {
    const v = rgbToYcbcr(value(s, i, 0), value(s, i, 1), value(s, i, 2), colour, format.bits);
    for (let p = 0; p < 3; p++) ycc[p][i] = v[p];
  }
  for (let i = 0; i < count; i++) put(0, i, ycc[0][i]);
  if (format.model === "yuv")
    for (const p of [1, 2]) {
      const over = (read: (x: number, y: number) => number) => overFootprint(colour.siting, planeShift(format, p), s.width, s.height, read);
      const plain = over((x, y) => ycc[p][y * s.width + x]);
      const alpha = (x: number, y: number) => s.data[(y * s.width + x + 1) * s.channels - 1];
      const [seen, weighed] = [over(alpha), over((x, y) => alpha(x, y) * ycc[p][y * s.width + x])];
      const mean = (x: number, y: number) => (hasAlpha(s) && seen(x, y) > 0 ? weighed(x, y) / seen(x, y) : plain(x, y));
      const { width, height } = out.planes[p];
      for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) put(p, i, mean(x, y));
    }
  return out;
}

/** Values 0–1 of a picture, one a pixel. */
export interface Values {
  width: number;
  height: number;
  data: Float64Array;
}

/** A picture as mask: its alpha, or its brightness (luma by the take's matrix). @throws when it has no alpha to use. */
export function stillValues(s: Still, use: "alpha" | "brightness", matrix: Colour["matrix"], name: string): Values {
  if (use === "alpha" && !hasAlpha(s)) throw new Error(`The picture “${name}” has no alpha to mask with: use its brightness, or save it with alpha.`);
  const { kr, kb } = LUMA[matrix];
  const data = new Float64Array(s.width * s.height);
  for (let i = 0; i < data.length; i++) {
    data[i] =
      use === "alpha" ? s.data[(i + 1) * s.channels - 1] / top(s) : kr * value(s, i, 0) + (1 - kr - kb) * value(s, i, 1) + kb * value(s, i, 2);
  }
  return { width: s.width, height: s.height, data };
}
