import { codeRange, LUMA, type Colour } from "./colour";
import { type Frame, type Rect, maxCode } from "./frame";
import { sitedAt } from "./siting";

/**
 * Reads a rectangle of a frame as 8-bit R′G′B′A, row by row, into `out` (`(x1−x0)·(y1−y0)·4` bytes).
 * `chroma: "nearest"` repeats chroma samples (quick, for moving pictures); `"linear"` interpolates them at
 * their true siting (for stills). α is 255, or the frame's own where it has one.
 */
export function toRgba8(frame: Frame, colour: Colour, rect: Rect, out: Uint8ClampedArray, chroma: "nearest" | "linear" = "nearest"): void {
  const { format } = frame;
  const w = rect.x1 - rect.x0;
  const down = format.bits - 8;
  const alpha = format.alpha ? frame.planes[frame.planes.length - 1] : undefined;
  const top = maxCode(format);
  let o = 0;
  if (format.model !== "yuv") {
    const [a, b, c] = format.model === "gray" ? [0, 0, 0] : [2, 0, 1];
    const full = format.model === "rgb" || colour.range === "full";
    const { black, lumaSpan } = codeRange(full ? "full" : "limited", format.bits);
    const k = 255 / lumaSpan;
    for (let y = rect.y0; y < rect.y1; y++) {
      for (let x = rect.x0; x < rect.x1; x++, o += 4) {
        const i = y * frame.width + x;
        out[o] = (frame.planes[a].data[i] - black) * k;
        out[o + 1] = (frame.planes[b].data[i] - black) * k;
        out[o + 2] = (frame.planes[c].data[i] - black) * k;
        out[o + 3] = alpha ? (alpha.data[i] * 255) / top : 255;
      }
    }
    return;
  }
  const { kr, kb } = LUMA[colour.matrix];
  const { black, lumaSpan, neutral, chromaSpan } = codeRange(colour.range, format.bits);
  const ky = 255 / lumaSpan;
  const kc = 255 / chromaSpan;
  const rCr = 2 * (1 - kr) * kc;
  const bCb = 2 * (1 - kb) * kc;
  const gCr = (-kr / (1 - kr - kb)) * rCr;
  const gCb = (-kb / (1 - kr - kb)) * bCb;
  const [Y, U, V] = frame.planes;
  const at = sitedAt(colour.siting);
  const offX = format.subX && at.x === "midway" ? -0.25 : 0;
  const offY = format.subY && at.y === "midway" ? -0.25 : 0;
  const linear = chroma === "linear" && (format.subX || format.subY);
  for (let y = rect.y0; y < rect.y1; y++) {
    const rowY = y * Y.width;
    const cy = y >> format.subY;
    const fy = (format.subY ? y / 2 : y) + offY;
    const y0 = Math.max(0, Math.floor(fy));
    const y1 = Math.min(U.height - 1, Math.floor(fy) + 1);
    const ty = fy - Math.floor(fy);
    for (let x = 0; x < w; x++, o += 4) {
      const px = rect.x0 + x;
      let cb: number;
      let cr: number;
      if (linear) {
        const fx = (format.subX ? px / 2 : px) + offX;
        const xf = Math.floor(fx);
        const x0 = xf < 0 ? 0 : xf;
        const x1 = xf + 1 < U.width ? xf + 1 : U.width - 1;
        const tx = fx - xf;
        const a = y0 * U.width;
        const b = y1 * U.width;
        const w00 = (1 - tx) * (1 - ty);
        const w10 = tx * (1 - ty);
        const w01 = (1 - tx) * ty;
        const w11 = tx * ty;
        cb = U.data[a + x0] * w00 + U.data[a + x1] * w10 + U.data[b + x0] * w01 + U.data[b + x1] * w11;
        cr = V.data[a + x0] * w00 + V.data[a + x1] * w10 + V.data[b + x0] * w01 + V.data[b + x1] * w11;
      } else {
        const c = cy * U.width + (px >> format.subX);
        cb = U.data[c];
        cr = V.data[c];
      }
      const l = (Y.data[rowY + px] - black) * ky;
      cb -= neutral;
      cr -= neutral;
      out[o] = l + rCr * cr;
      out[o + 1] = l + gCr * cr + gCb * cb;
      out[o + 2] = l + bCb * cb;
      out[o + 3] = alpha ? alpha.data[rowY + px] >> down : 255;
    }
  }
}
