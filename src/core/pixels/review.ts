import { createFrame, type Frame, isChroma, maxCode, planeShift } from "./frame";

/** Digits of 3 × 5 squares, row by row from above, the left column first. */
const DIGITS = ["111101101101111", "010110010010111", "111001111100111", "111001111001111", "101101111001001", "111100111001111", "111100111101111", "111001001001001", "111101111101111", "111101111001111"]; // prettier-ignore
const [WIDE, HIGH] = [3, 5];
/** Parts of the picture's height that a digit's square is high. */
const SQUARE = 1 / 120;

/** Writes a whole number, light on dark, from (x, y) in luma pixels; squares of `size` pixels, even ones so that chroma goes along. */
function writeNumber(frame: Frame, value: number, x: number, y: number, size: number, codes: { light: number; dark: number; neutral: number }): void {
  const digits = String(value);
  const [w, h] = [(digits.length * (WIDE + 1) + 1) * size, (HIGH + 2) * size];
  const lightAt = (u: number, v: number) => {
    const [i, j] = [Math.floor(u / size) - 1, Math.floor(v / size) - 1];
    const digit = digits[Math.floor(i / (WIDE + 1))];
    const column = i % (WIDE + 1);
    return i >= 0 && j >= 0 && j < HIGH && column < WIDE && digit !== undefined && DIGITS[Number(digit)][j * WIDE + column] === "1";
  };
  for (const [p, plane] of frame.planes.entries()) {
    const { sx, sy } = planeShift(frame.format, p);
    const chroma = isChroma(frame.format, p);
    for (let v = y >> sy; v < Math.min(plane.height, (y + h) >> sy); v++)
      for (let u = x >> sx; u < Math.min(plane.width, (x + w) >> sx); u++)
        plane.data[v * plane.width + u] = chroma ? codes.neutral : lightAt((u << sx) - x, (v << sy) - y) ? codes.light : codes.dark;
  }
}

/** The width of a review of takes this wide: both halves of whole chroma samples. */
export const reviewWidth = (width: number): number => 2 * (width + (width & 1));

/**
 * A frame before and after mending, side by side, with its number burnt into both: to be looked at by others.
 * @param full whether codes run from 0
 */
export function reviewed(before: Frame, after: Frame, n: number, full: boolean): Frame {
  const out = createFrame(reviewWidth(before.width), before.height, { ...before.format, alpha: false });
  const half = out.width / 2;
  for (const [p, plane] of out.planes.entries()) {
    const { sx } = planeShift(out.format, p);
    for (const [k, side] of [before, after].entries()) {
      const { data, width, height } = side.planes[p];
      for (let y = 0; y < height; y++) {
        const at = y * plane.width + ((k * half) >> sx);
        plane.data.set(data.subarray(y * width, (y + 1) * width), at);
        // of an odd width the last column stands twice
        if (width < half >> sx) plane.data[at + width] = data[(y + 1) * width - 1];
      }
    }
  }
  const top = maxCode(out.format);
  const limited = out.format.model === "yuv" && !full;
  const code = (v: number) => v * 2 ** (out.format.bits - 8);
  const codes = { light: limited ? code(235) : top, dark: limited ? code(16) : 0, neutral: code(128) };
  const size = Math.max(2, 2 * Math.round((before.height * SQUARE) / 2));
  const y = (before.height - (HIGH + 4) * size) & ~1;
  for (const k of [0, 1]) writeNumber(out, n, k * half + 2 * size, Math.max(0, y), size, codes);
  return out;
}
