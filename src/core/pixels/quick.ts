import { type Colour, codeRange, rgbToYcbcr } from "./colour";
import { createFrame, type Frame, maxCode, type PixelFormat } from "./frame";
import { shrinkFrame } from "./shrink";

/** What quick frames are: 8-bit 4:2:0, full range, in the take's own matrix (709 for R′G′B′ takes). */
export const QUICK_FORMAT: PixelFormat = { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false };

export const quickColour = (take: PixelFormat, colour: Colour): Colour => ({
  ...colour,
  matrix: take.model === "yuv" ? colour.matrix : "bt709",
  range: "full",
});

/** An exact frame as a quick one of `width` × `height`, so that both can be composed together. */
export function toQuick(frame: Frame, colour: Colour, width: number, height: number): Frame {
  const out = createFrame(width, height, QUICK_FORMAT);
  const { format } = frame;
  if (format.model === "yuv") {
    const { black, lumaSpan, neutral, chromaSpan } = codeRange(colour.range, format.bits);
    const small = shrinkPlanes(frame, width, height);
    out.planes.forEach((plane, p) => {
      const src = small[p];
      const [zero, k, add] = p === 0 ? [black, 255 / lumaSpan, 0] : [neutral, 255 / chromaSpan, 128];
      for (let i = 0; i < plane.data.length; i++) plane.data[i] = Math.max(0, Math.min(255, Math.round((src[i] - zero) * k + add)));
    });
    return out;
  }
  const small = shrinkFrame(frame, width, height);
  const top = maxCode(format);
  const [r, g, b] = format.model === "gray" ? [0, 0, 0] : [2, 0, 1];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const v = rgbToYcbcr(
        small.planes[r].data[i] / top,
        small.planes[g].data[i] / top,
        small.planes[b].data[i] / top,
        { matrix: "bt709", range: "full" },
        8,
      );
      out.planes[0].data[i] = Math.round(v[0]);
      if (!(x & 1) && !(y & 1)) {
        const c = (y >> 1) * out.planes[1].width + (x >> 1);
        out.planes[1].data[c] = Math.min(255, Math.round(v[1]));
        out.planes[2].data[c] = Math.min(255, Math.round(v[2]));
      }
    }
  return out;
}

/** Each plane of a Y′CbCr frame at the size it has in a 4:2:0 picture of `width` × `height`. */
function shrinkPlanes(frame: Frame, width: number, height: number) {
  return frame.planes.slice(0, 3).map((plane, p) => {
    const gray: PixelFormat = { model: "gray", bits: frame.format.bits, subX: 0, subY: 0, alpha: false };
    const one: Frame = { width: plane.width, height: plane.height, format: gray, planes: [plane] };
    return shrinkFrame(one, p ? (width + 1) >> 1 : width, p ? (height + 1) >> 1 : height).planes[0].data;
  });
}
