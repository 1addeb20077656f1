/**
 * Y′CbCr ⇄ R′G′B′, no transfer conversion.
 * Sources: ITU-R BT.601-7 §2.5, BT.709-6 §3, BT.2020-2 table 4 (non-constant luminance).
 */
export type MatrixName = "bt601" | "bt709" | "bt2020";
export type RangeName = "limited" | "full";
export type SitingName = "left" | "center" | "topleft";

/** Colour primaries by ffmpeg's names, in the order of their numbers in ITU-T H.273 table 2. */
export const PRIMARIES = [
  "bt709",
  "bt470m",
  "bt470bg",
  "smpte170m",
  "smpte240m",
  "film",
  "bt2020",
  "smpte428",
  "smpte431",
  "smpte432",
  "ebu3213",
] as const;
export type PrimariesName = (typeof PRIMARIES)[number];

/** Transfer characteristics by ffmpeg's names, in the order of their numbers in ITU-T H.273 table 3. */
export const TRANSFERS = [
  "bt709",
  "bt470m",
  "bt470bg",
  "smpte170m",
  "smpte240m",
  "linear",
  "log100",
  "log316",
  "iec61966-2-4",
  "bt1361e",
  "iec61966-2-1",
  "bt2020-10",
  "bt2020-12",
  "smpte2084",
  "smpte428",
  "arib-std-b67",
] as const;
export type TransferName = (typeof TRANSFERS)[number];

/** Whether code values go by a logarithm or a curve like one (PQ and HLG of BT.2100): more light adds to them rather than to multiply them. */
export const addsLight = (transfer: TransferName): boolean => ["smpte2084", "arib-std-b67", "log100", "log316"].includes(transfer);

/** How a take's code values are to be read. */
export interface Colour {
  matrix: MatrixName;
  range: RangeName;
  /** Where chroma samples lie; `left` is co-sited horizontally and midway vertically. */
  siting: SitingName;
  primaries: PrimariesName;
  transfer: TransferName;
}

/** Luma weights of red and blue: the published Kr, Kb. */
export const LUMA: Record<MatrixName, { kr: number; kb: number }> = {
  bt601: { kr: 0.299, kb: 0.114 },
  bt709: { kr: 0.2126, kb: 0.0722 },
  bt2020: { kr: 0.2627, kb: 0.0593 },
};

/** Black, white and chroma span in code values at `bits`, limited or full range. */
export function codeRange(range: RangeName, bits: number) {
  const k = 1 << (bits - 8);
  const top = (1 << bits) - 1;
  return range === "limited"
    ? { black: 16 * k, lumaSpan: 219 * k, neutral: 128 * k, chromaSpan: 224 * k }
    : { black: 0, lumaSpan: top, neutral: 1 << (bits - 1), chromaSpan: top };
}

/** Code values to R′G′B′ in 0–1 (not clipped). */
export function ycbcrToRgb(y: number, cb: number, cr: number, colour: Pick<Colour, "matrix" | "range">, bits: number) {
  const { kr, kb } = LUMA[colour.matrix];
  const { black, lumaSpan, neutral, chromaSpan } = codeRange(colour.range, bits);
  const Y = (y - black) / lumaSpan;
  const Pb = (cb - neutral) / chromaSpan;
  const Pr = (cr - neutral) / chromaSpan;
  const r = Y + 2 * (1 - kr) * Pr;
  const b = Y + 2 * (1 - kb) * Pb;
  return [r, (Y - kr * r - kb * b) / (1 - kr - kb), b] as const;
}

/** R′G′B′ in 0–1 to code values, unrounded. */
export function rgbToYcbcr(r: number, g: number, b: number, colour: Pick<Colour, "matrix" | "range">, bits: number) {
  const { kr, kb } = LUMA[colour.matrix];
  const { black, lumaSpan, neutral, chromaSpan } = codeRange(colour.range, bits);
  const Y = kr * r + (1 - kr - kb) * g + kb * b;
  return [black + lumaSpan * Y, neutral + (chromaSpan * (b - Y)) / (2 * (1 - kb)), neutral + (chromaSpan * (r - Y)) / (2 * (1 - kr))] as const;
}

/** What an untagged picture is taken for: 709 from 720 lines up, 601 below, limited, left. */
export function assumedColour(height: number): Colour {
  const hd = height >= 720;
  return { matrix: hd ? "bt709" : "bt601", range: "limited", siting: "left", primaries: hd ? "bt709" : "smpte170m", transfer: "bt709" };
}
