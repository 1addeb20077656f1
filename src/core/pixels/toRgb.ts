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
  yuvRows(frame, colour, rect, new Uint32Array(out.buffer, out.byteOffset, out.byteLength >> 2), chroma);
  if (alpha) {
    for (let y = rect.y0; y < rect.y1; y++)
      for (let x = rect.x0; x < rect.x1; x++, o += 4) out[o + 3] = alpha.data[y * frame.width + x] >> (format.bits - 8);
  }
}

/** Y′CbCr rows as packed little-endian RGBA, α 255: tables for luma, chroma brought to full width once a row. */
function yuvRows(frame: Frame, colour: Colour, rect: Rect, out: Uint32Array, chroma: "nearest" | "linear"): void {
  const { format } = frame;
  const { kr, kb } = LUMA[colour.matrix];
  const { black, lumaSpan, neutral, chromaSpan } = codeRange(colour.range, format.bits);
  const kc = 255 / chromaSpan;
  const rCr = 2 * (1 - kr) * kc;
  const bCb = 2 * (1 - kb) * kc;
  const gCr = (-kr / (1 - kr - kb)) * rCr;
  const gCb = (-kb / (1 - kr - kb)) * bCb;
  const luma = Float64Array.from({ length: maxCode(format) + 1 }, (_, v) => ((v - black) * 255) / lumaSpan + 0.5);
  const [Y, U, V] = frame.planes;
  const at = sitedAt(colour.siting);
  const linear = chroma === "linear" && (format.subX || format.subY);
  const w = rect.x1 - rect.x0;
  const cb = new Float64Array(w);
  const cr = new Float64Array(w);
  const rowU = new Float64Array(U.width);
  const rowV = new Float64Array(U.width);
  const left = new Int32Array(w);
  const right = new Int32Array(w);
  const share = new Float64Array(w);
  for (let x = 0; x < w; x++) {
    const fx = format.subX ? (rect.x0 + x) / 2 - (at.x === "midway" ? 0.25 : 0) : rect.x0 + x;
    left[x] = Math.max(0, Math.floor(fx));
    right[x] = Math.min(U.width - 1, Math.floor(fx) + 1);
    share[x] = fx - Math.floor(fx);
  }
  let o = 0;
  for (let y = rect.y0; y < rect.y1; y++) {
    if (linear) {
      const fy = format.subY ? y / 2 - (at.y === "midway" ? 0.25 : 0) : y;
      const yf = Math.floor(fy);
      const ty = fy - yf;
      const a = Math.max(0, yf) * U.width;
      const b = Math.min(U.height - 1, yf + 1) * U.width;
      for (let x = 0; x < U.width; x++) {
        rowU[x] = U.data[a + x] * (1 - ty) + U.data[b + x] * ty - neutral;
        rowV[x] = V.data[a + x] * (1 - ty) + V.data[b + x] * ty - neutral;
      }
      for (let x = 0; x < w; x++) {
        const t = share[x];
        cb[x] = rowU[left[x]] * (1 - t) + rowU[right[x]] * t;
        cr[x] = rowV[left[x]] * (1 - t) + rowV[right[x]] * t;
      }
    } else if (y === rect.y0 || !format.subY || !(y & 1)) {
      const row = (y >> format.subY) * U.width;
      for (let x = 0; x < w; x++) {
        const i = row + ((rect.x0 + x) >> format.subX);
        cb[x] = U.data[i] - neutral;
        cr[x] = V.data[i] - neutral;
      }
    }
    let i = y * Y.width + rect.x0;
    for (let x = 0; x < w; x++, i++, o++) {
      const l = luma[Y.data[i]];
      let r = (l + rCr * cr[x]) | 0;
      let g = (l + gCr * cr[x] + gCb * cb[x]) | 0;
      let b = (l + bCb * cb[x]) | 0;
      if ((r | g | b) & -256) {
        r = r < 0 ? 0 : r > 255 ? 255 : r;
        g = g < 0 ? 0 : g > 255 ? 255 : g;
        b = b < 0 ? 0 : b > 255 ? 255 : b;
      }
      out[o] = 0xff000000 | (b << 16) | (g << 8) | r;
    }
  }
}
