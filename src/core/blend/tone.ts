import { boxOf, isEmpty } from "../pixels/frame";
import { ABSENT, FIXED, FREE, type Grid, spanMembrane } from "./membrane";

/** The largest Laplacian left in a field, in 8-bit code values. */
const RESIDUAL = 0.1;
/** Areas at least so wide and high are spanned on cells of two and of four samples: tone is smooth, and a rim of single samples is grain. */
const TWO = 72;
const FOUR = 160;
/** How far along the rim single samples are averaged. */
const BAND = 2;
/** A difference further from the others than this many of their spreads, and codes, is no matter of tone: another thing stands there. */
const ODD = 6;
const ODD_CODES = 20;

/** What a sample of the area's surroundings is. */
export const KNOWN = 0;
export const AREA = 1;
/** Beyond the picture, or of no account. */
export const NOTHING = 2;

/**
 * A field of tone over an area: a membrane (Pérez, Gangnet & Blake 2003; Georgiev 2004) whose rim is given by differences around
 * it, each the mean of a few so that grain does not run in; samples of the rim at which something else stands are passed over.
 * Large areas are spanned on coarser cells and read linearly between them.
 * @param width of the surroundings, in samples; the area must lie at least 10 samples inside them, or their border be NOTHING
 * @param kind what each sample is
 * @param difference at sample i of the surroundings; asked only near the area
 * @returns reads a row of the field, for all samples from the left; 0 away from the area
 */
export function toneField(width: number, height: number, kind: Uint8Array, difference: (i: number) => number): (y: number) => Float64Array {
  const box = boxOf(kind, width, height, AREA);
  const row = new Float64Array(width);
  if (isEmpty(box)) return () => row;
  const least = Math.min(box.x1 - box.x0, box.y1 - box.y0);
  const step = least >= FOUR ? 4 : least >= TWO ? 2 : 1;
  // one cell more on each side, so that the outermost are not free
  const cw = Math.ceil(width / step) + 2;
  const ch = Math.ceil(height / step) + 2;
  const grid: Grid = { width: cw, height: ch, kind: new Uint8Array(cw * ch).fill(ABSENT) };
  for (let y = 0; y < height; y++) {
    const row = (Math.floor(y / step) + 1) * cw + 1;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const o = row + Math.floor(x / step);
      if (kind[i] === AREA) grid.kind[o] = FREE;
      else if (kind[i] === KNOWN && grid.kind[o] === ABSENT) grid.kind[o] = FIXED;
    }
  }
  const rim = rimOf(grid, step === 1 ? BAND : 1);
  const off = new Float64Array(cw * ch);
  for (const o of rim) {
    let sum = 0;
    let n = 0;
    const [x0, y0] = [((o % cw) - 1) * step, (Math.floor(o / cw) - 1) * step];
    for (let y = y0; y < Math.min(height, y0 + step); y++)
      for (let x = x0; x < Math.min(width, x0 + step); x++)
        if (kind[y * width + x] === KNOWN) {
          sum += difference(y * width + x);
          n++;
        }
    off[o] = sum / n;
  }
  passOver(grid, rim, off);
  const values = meanAlong(grid, rim, off, step === 1 ? BAND : 1);
  spanMembrane(grid, values, RESIDUAL);
  if (step === 1) return (y) => values.subarray((y + 1) * cw + 1, (y + 1) * cw + 1 + width);
  const has = Float64Array.from(grid.kind, (k) => (k === FREE ? 1 : 0));
  for (const o of rim) if (grid.kind[o] === FIXED) has[o] = 1;
  const sum = new Float64Array(cw);
  const weight = new Float64Array(cw);
  return (y) => {
    const v = (y + 0.5) / step + 0.5;
    const top = Math.floor(v) * cw;
    const t = v - Math.floor(v);
    for (let c = 0; c < cw; c++) {
      const [upper, lower] = [(1 - t) * has[top + c], t * has[top + cw + c]];
      sum[c] = upper * values[top + c] + lower * values[top + cw + c];
      weight[c] = upper + lower;
    }
    for (let x = 0; x < width; x++) {
      const u = (x + 0.5) / step + 0.5;
      const c = Math.floor(u);
      const right = u - c;
      const all = (1 - right) * weight[c] + right * weight[c + 1];
      row[x] = all > 0 ? ((1 - right) * sum[c] + right * sum[c + 1]) / all : 0;
    }
    return row;
  };
}

/** The fixed cells within `band` of the free ones. */
function rimOf({ width: w, height: h, kind }: Grid, band: number): number[] {
  const near = new Uint8Array(w * h);
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      if (kind[i] !== FREE || (kind[i - 1] === FREE && kind[i + 1] === FREE && kind[i - w] === FREE && kind[i + w] === FREE)) continue;
      for (let j = Math.max(0, y - band); j <= Math.min(h - 1, y + band); j++)
        near.fill(1, j * w + Math.max(0, x - band), j * w + Math.min(w, x + band + 1));
    }
  const out: number[] = [];
  for (let i = 0; i < near.length; i++) if (near[i] && kind[i] === FIXED) out.push(i);
  return out;
}

/** Takes cells off the rim at which the difference is out of all proportion; never more than half of them. */
function passOver(grid: Grid, rim: number[], off: Float64Array): void {
  if (rim.length < 8) return;
  const sorted = Float64Array.from(rim, (i) => off[i]).sort();
  const middle = sorted[sorted.length >> 1];
  const spread = 1.4826 * sorted.map((v) => Math.abs(v - middle)).sort()[sorted.length >> 1];
  const most = ODD * spread + ODD_CODES;
  for (const i of rim) if (Math.abs(off[i] - middle) > most) grid.kind[i] = ABSENT;
}

/** Each cell of the rim as the mean of those of the rim around it. */
function meanAlong({ width: w, kind }: Grid, rim: number[], off: Float64Array, band: number): Float64Array {
  const on = new Uint8Array(off.length);
  for (const i of rim) if (kind[i] === FIXED) on[i] = 1;
  const out = new Float64Array(off.length);
  for (const i of rim) {
    if (!on[i]) continue;
    let sum = 0;
    let n = 0;
    for (let j = -band; j <= band; j++)
      for (let k = i + j * w - band; k <= i + j * w + band; k++)
        if (on[k]) {
          sum += off[k];
          n++;
        }
    out[i] = sum / n;
  }
  return out;
}
