import { codeRange, LUMA, type Colour, type SitingName } from "./colour";
import { type Frame, type Plane, type Rect, maxCode } from "./frame";
import { BAND, YuvRows } from "../simd/yuv-rows";
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

/**
 * Chroma of one row after another, about neutral and times 16: repeated, or interpolated at its true siting. Along both axes all
 * weights are quarters, so whole numbers hold it exactly.
 */
class ChromaRows {
  /** Of the chroma columns of one row, times 4; one more before the first and one behind the last, which repeat them. */
  readonly u: Int32Array;
  readonly v: Int32Array;
  /** Quarters of the column before, of itself and of the one behind: for the first pixel of a column, and for the second. */
  readonly across: readonly [before: number, own: number, ownNext: number, behind: number];
  private readonly linear: boolean;
  private readonly midway: boolean;

  constructor(
    private readonly frame: Frame,
    private readonly neutral: number,
    siting: SitingName,
    chroma: "nearest" | "linear",
  ) {
    const at = sitedAt(siting);
    this.linear = chroma === "linear";
    this.midway = at.y === "midway";
    this.u = new Int32Array(frame.planes[1].width + 2);
    this.v = new Int32Array(frame.planes[1].width + 2);
    this.across = !this.linear || !frame.format.subX ? [0, 4, 4, 0] : at.x === "midway" ? [1, 3, 3, 1] : [0, 4, 2, 2];
  }

  /** The rows of chroma between which row `y` lies, and how many quarters of the second count. */
  at(y: number): { above: number; below: number; share: number } {
    const { subY } = this.frame.format;
    const fy = !subY ? y : !this.linear ? y >> 1 : y / 2 - (this.midway ? 0.25 : 0);
    const above = Math.floor(fy);
    return { above: Math.max(0, above), below: Math.min(this.frame.planes[1].height - 1, above + 1), share: 4 * (fy - above) };
  }

  /** Makes `u` and `v` those of row `y`. */
  to(y: number): void {
    const [, U, V] = this.frame.planes;
    const { above, below, share } = this.at(y);
    between(U.data, above * U.width, below * U.width, share, this.neutral, this.u);
    between(V.data, above * U.width, below * U.width, share, this.neutral, this.v);
  }
}

/** Four times the mix of two rows, `share` quarters of the second, about neutral. */
function between(data: Plane["data"], a: number, b: number, share: number, neutral: number, out: Int32Array): void {
  const n = out.length - 2;
  const black = 4 * neutral;
  if (share === 0) for (let x = 0; x < n; x++) out[x + 1] = 4 * data[a + x] - black;
  else for (let x = 0; x < n; x++) out[x + 1] = data[a + x] * (4 - share) + data[b + x] * share - black;
  out[0] = out[1];
  out[n + 1] = out[n];
}

/** What a Y′CbCr code contributes to R′G′B′ of 0 … `top`: black and gain of luma, gains of Cb and Cr on each. */
function gains(colour: Colour, bits: number, top: number) {
  const { kr, kb } = LUMA[colour.matrix];
  const { black, lumaSpan, neutral, chromaSpan } = codeRange(colour.range, bits);
  const rCr = (2 * (1 - kr) * top) / chromaSpan;
  const bCb = (2 * (1 - kb) * top) / chromaSpan;
  return { black, luma: top / lumaSpan, neutral, rCr, bCb, gCr: (-kr / (1 - kr - kb)) * rCr, gCb: (-kb / (1 - kr - kb)) * bCb };
}

/** What the chroma columns of a row add to R′, G′ and B′, in fixed point; for each column a quarter of what it adds by itself. */
class ChromaSums {
  readonly r: Int32Array;
  readonly g: Int32Array;
  readonly b: Int32Array;
  private readonly gain: Int32Array;

  constructor(
    private readonly rows: ChromaRows,
    k: ReturnType<typeof gains>,
  ) {
    const n = rows.u.length;
    [this.r, this.g, this.b] = [new Int32Array(n), new Int32Array(n), new Int32Array(n)];
    this.gain = Int32Array.from(chromaGains(k));
  }

  /** Makes them those of row `y`. */
  to(y: number): void {
    const { rows, r, g, b, gain } = this;
    rows.to(y);
    const { u, v } = rows;
    const [rCr, gCr, gCb, bCb] = [gain[0], gain[1], gain[2], gain[3]];
    for (let c = 0; c < r.length; c++) {
      r[c] = Math.imul(rCr, v[c]);
      g[c] = Math.imul(gCr, v[c]) + Math.imul(gCb, u[c]);
      b[c] = Math.imul(bCb, u[c]);
    }
  }
}

/** What chroma about neutral, times 16, adds to R′, G′ and B′, in fixed point: Cr to red, Cr and Cb to green, Cb to blue. */
const chromaGains = (k: ReturnType<typeof gains>) =>
  [k.rCr, k.gCr, k.gCb, k.bCb].map((v) => Math.round((v * ONE) / 16)) as [number, number, number, number];

/** 1 in fixed point: 20 bits behind. */
const ONE = 2 ** 20;

/** Y′CbCr rows as packed little-endian RGBA, α 255, in fixed point; by vectors where that is possible, to the same samples. */
function yuvRows(frame: Frame, colour: Colour, rect: Rect, out: Uint32Array, chroma: "nearest" | "linear", vectors = true): void {
  const { format } = frame;
  const k = gains(colour, format.bits, 255);
  const [Y, U, V] = frame.planes;
  const rows = new ChromaRows(frame, k.neutral, colour.siting, chroma);
  const w = rect.x1 - rect.x0;
  if (w <= 0) return;
  // whole chroma columns are packed, and of their pixels those of the rectangle taken
  const first = rect.x0 >> format.subX;
  const columns = (((rect.x1 - 1) >> format.subX) + 1 - first) | 0;
  const skip = rect.x0 - (first << format.subX);
  const gain = [Math.round(k.luma * ONE), Math.round((0.5 - k.black * k.luma) * ONE)] as const;
  const fast = vectors && format.subX && Y.data instanceof Uint8Array ? YuvRows.open(Y.width, U.width) : null;
  if (fast) {
    const bytes = new Uint8Array(out.buffer, out.byteOffset, out.byteLength);
    const planes = [Y.data, U.data, V.data] as [Uint8Array, Uint8Array, Uint8Array];
    const wanted = { black: 4 * k.neutral, chroma: chromaGains(k), luma: gain, across: rows.across };
    for (let y = rect.y0; y < rect.y1; y += BAND) {
      const end = Math.min(rect.y1, y + BAND);
      const made = fast.convert(planes, y, end, (n) => rows.at(n), wanted);
      const line = 8 * U.width;
      if (4 * w === line) bytes.set(made, 4 * (y - rect.y0) * w);
      else for (let n = y; n < end; n++) bytes.set(made.subarray((n - y) * line + 4 * rect.x0, (n - y) * line + 4 * rect.x1), 4 * (n - rect.y0) * w);
    }
    return;
  }
  // a table holds what large codes would lose in fixed point
  const luma = Int32Array.from({ length: maxCode(format) + 1 }, (_, v) =>
    format.bits === 8 ? Math.imul(v, gain[0]) + gain[1] : Math.round(((v - k.black) * k.luma + 0.5) * ONE),
  );
  const sums = new ChromaSums(rows, k);
  const line = new Int32Array(columns << format.subX);
  const bytes = new Uint32Array(line.buffer);
  // chroma of one column alone is the common case, of moving pictures always
  const pack = !format.subX ? packSingles : rows.across[0] === 0 && rows.across[3] === 0 ? packDoubles : packPairs;
  for (let y = rect.y0; y < rect.y1; y++) {
    sums.to(y);
    pack(Y.data, y * Y.width + rect.x0 - skip, luma, sums, rows.across, first + 1, line);
    out.set(bytes.subarray(skip, skip + w), (y - rect.y0) * w);
  }
}

/** The same sample by sample: what the vectors are held to. */
export const yuvRowsOneByOne = (frame: Frame, colour: Colour, rect: Rect, out: Uint32Array, chroma: "nearest" | "linear"): void =>
  yuvRows(frame, colour, rect, out, chroma, false);

type Across = ChromaRows["across"];

/** A row whose chroma columns are two pixels wide, from column `c` of the sums on. */
function packPairs(data: Plane["data"], from: number, luma: Int32Array, { r, g, b }: ChromaSums, across: Across, c: number, out: Int32Array): void {
  const [before, own, ownNext, behind] = across;
  for (let x = 0, n = out.length, i = from; x < n; x += 2, c++, i += 2) {
    const [rc, gc, bc] = [r[c], g[c], b[c]];
    out[x] = packed(
      luma[data[i]],
      (Math.imul(before, r[c - 1]) + Math.imul(own, rc)) | 0,
      (Math.imul(before, g[c - 1]) + Math.imul(own, gc)) | 0,
      (Math.imul(before, b[c - 1]) + Math.imul(own, bc)) | 0,
    );
    // the last column of an odd width has one pixel; what is read beyond it is not used
    out[x + 1] = packed(
      luma[data[i + 1]] | 0,
      (Math.imul(ownNext, rc) + Math.imul(behind, r[c + 1])) | 0,
      (Math.imul(ownNext, gc) + Math.imul(behind, g[c + 1])) | 0,
      (Math.imul(ownNext, bc) + Math.imul(behind, b[c + 1])) | 0,
    );
  }
}

/** The same where both pixels have the chroma of their own column. */
function packDoubles(data: Plane["data"], from: number, luma: Int32Array, { r, g, b }: ChromaSums, _: Across, c: number, out: Int32Array): void {
  for (let x = 0, n = out.length, i = from; x < n; x += 2, c++, i += 2) {
    const [rc, gc, bc] = [r[c] << 2, g[c] << 2, b[c] << 2];
    out[x] = packed(luma[data[i]], rc, gc, bc);
    out[x + 1] = packed(luma[data[i + 1]] | 0, rc, gc, bc);
  }
}

/** A row with chroma for every pixel. */
function packSingles(data: Plane["data"], from: number, luma: Int32Array, { r, g, b }: ChromaSums, _: Across, c: number, out: Int32Array): void {
  for (let x = 0, n = out.length; x < n; x++) out[x] = packed(luma[data[from + x]], r[c + x] << 2, g[c + x] << 2, b[c + x] << 2);
}

function packed(l: number, rAdd: number, gAdd: number, bAdd: number): number {
  let r = (l + rAdd) >> 20;
  let g = (l + gAdd) >> 20;
  let b = (l + bAdd) >> 20;
  if ((r | g | b) & -256) {
    r = r < 0 ? 0 : r > 255 ? 255 : r;
    g = g < 0 ? 0 : g > 255 ? 255 : g;
    b = b < 0 ? 0 : b > 255 ? 255 : b;
  }
  return 0xff000000 | (b << 16) | (g << 8) | r;
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
  const rows = new ChromaRows(frame, k.neutral, colour.siting, "linear");
  const [before, own, ownNext, behind] = rows.across;
  const chromaAt = (row: Int32Array, x: number) => {
    const c = (x >> format.subX) + 1;
    return (format.subX && x & 1 ? ownNext * row[c] + behind * row[c + 1] : before * row[c - 1] + own * row[c]) / 16;
  };
  for (let y = 0, i = 0; y < height; y++) {
    rows.to(y);
    for (let x = 0; x < width; x++, i++) {
      const l = (frame.planes[0].data[i] - k.black) * k.luma;
      const [cb, cr] = [chromaAt(rows.u, x), chromaAt(rows.v, x)];
      out[3 * i] = clip(l + k.rCr * cr);
      out[3 * i + 1] = clip(l + k.gCr * cr + k.gCb * cb);
      out[3 * i + 2] = clip(l + k.bCb * cb);
    }
  }
  return out;
}
