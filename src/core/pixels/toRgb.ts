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

/** Chroma of one row after another, about neutral, at the rectangle's full width: repeated, or interpolated at its true siting. */
class ChromaRows {
  readonly cb: Float64Array;
  readonly cr: Float64Array;
  private readonly left: Int32Array;
  private readonly right: Int32Array;
  private readonly share: Float64Array;
  private readonly rowU: Float64Array;
  private readonly rowV: Float64Array;
  private readonly linear: boolean;

  constructor(
    private readonly frame: Frame,
    private readonly rect: Rect,
    private readonly neutral: number,
    private readonly at: ReturnType<typeof sitedAt>,
    chroma: "nearest" | "linear",
  ) {
    const w = rect.x1 - rect.x0;
    const { subX, subY } = frame.format;
    const width = frame.planes[1].width;
    this.linear = chroma === "linear" && (subX > 0 || subY > 0);
    this.cb = new Float64Array(w);
    this.cr = new Float64Array(w);
    this.left = new Int32Array(w);
    this.right = new Int32Array(w);
    this.share = new Float64Array(w);
    this.rowU = new Float64Array(width);
    this.rowV = new Float64Array(width);
    for (let x = 0; x < w; x++) {
      const fx = subX ? (rect.x0 + x) / 2 - (at.x === "midway" ? 0.25 : 0) : rect.x0 + x;
      this.left[x] = Math.max(0, Math.floor(fx));
      this.right[x] = Math.min(width - 1, Math.floor(fx) + 1);
      this.share[x] = fx - Math.floor(fx);
    }
  }

  /** Makes `cb` and `cr` those of row `y`; rows are asked for in order. */
  to(y: number): void {
    const { cb, cr, rowU, rowV, left, right, share, neutral } = this;
    const [, U, V] = this.frame.planes;
    const { subX, subY } = this.frame.format;
    const w = cb.length;
    if (this.linear) {
      const fy = subY ? y / 2 - (this.at.y === "midway" ? 0.25 : 0) : y;
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
    } else if (y === this.rect.y0 || !subY || !(y & 1)) {
      const row = (y >> subY) * U.width;
      for (let x = 0; x < w; x++) {
        const i = row + ((this.rect.x0 + x) >> subX);
        cb[x] = U.data[i] - neutral;
        cr[x] = V.data[i] - neutral;
      }
    }
  }
}

/** What a Y′CbCr code contributes to R′G′B′ of 0 … `top`: black and gain of luma, gains of Cb and Cr on each. */
function gains(colour: Colour, bits: number, top: number) {
  const { kr, kb } = LUMA[colour.matrix];
  const { black, lumaSpan, neutral, chromaSpan } = codeRange(colour.range, bits);
  const rCr = (2 * (1 - kr) * top) / chromaSpan;
  const bCb = (2 * (1 - kb) * top) / chromaSpan;
  return { black, luma: top / lumaSpan, neutral, rCr, bCb, gCr: (-kr / (1 - kr - kb)) * rCr, gCb: (-kb / (1 - kr - kb)) * bCb };
}

/** Y′CbCr rows as packed little-endian RGBA, α 255: a table for luma, chroma brought to full width once a row. */
function yuvRows(frame: Frame, colour: Colour, rect: Rect, out: Uint32Array, chroma: "nearest" | "linear"): void {
  const { format } = frame;
  const k = gains(colour, format.bits, 255);
  const { rCr, gCr, gCb, bCb } = k;
  const luma = Float64Array.from({ length: maxCode(format) + 1 }, (_, v) => (v - k.black) * k.luma + 0.5);
  const [Y] = frame.planes;
  const rows = new ChromaRows(frame, rect, k.neutral, sitedAt(colour.siting), chroma);
  const { cb, cr } = rows;
  const w = rect.x1 - rect.x0;
  let o = 0;
  for (let y = rect.y0; y < rect.y1; y++) {
    rows.to(y);
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

/**
 * A whole frame as 16-bit R′G′B′ (0–65535), interleaved, chroma interpolated at its siting; `width · height · 3` values.
 * For stills that keep more than 8 bits. The frame's alpha is left out.
 */
export function toRgb16(frame: Frame, colour: Colour): Uint16Array {
  const { width, height, format } = frame;
  const out = new Uint16Array(width * height * 3);
  const clip = (v: number) => (v <= 0 ? 0 : v >= 65535 ? 65535 : Math.round(v));
  if (format.model !== "yuv") {
    const { black, lumaSpan } = codeRange(format.model === "rgb" ? "full" : colour.range, format.bits);
    const order = format.model === "gray" ? [0, 0, 0] : [2, 0, 1];
    for (let i = 0; i < width * height; i++)
      for (let c = 0; c < 3; c++) out[3 * i + c] = clip(((frame.planes[order[c]].data[i] - black) * 65535) / lumaSpan);
    return out;
  }
  const k = gains(colour, format.bits, 65535);
  const rows = new ChromaRows(frame, { x0: 0, y0: 0, x1: width, y1: height }, k.neutral, sitedAt(colour.siting), "linear");
  for (let y = 0, i = 0; y < height; y++) {
    rows.to(y);
    for (let x = 0; x < width; x++, i++) {
      const l = (frame.planes[0].data[i] - k.black) * k.luma;
      out[3 * i] = clip(l + k.rCr * rows.cr[x]);
      out[3 * i + 1] = clip(l + k.gCr * rows.cr[x] + k.gCb * rows.cb[x]);
      out[3 * i + 2] = clip(l + k.bCb * rows.cb[x]);
    }
  }
  return out;
}
