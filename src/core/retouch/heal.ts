import { ABSENT, FIXED, FREE, type Grid, spanMembrane } from "../blend/membrane";
import { maxCode, type PixelFormat, type Plane } from "../pixels/frame";
import type { MovedPlane } from "../pixels/resample";
import type { PlaneAlpha } from "../shape/chroma";

/** How wide the band along the rim is from which tone is taken; samples. */
const BAND = 2;
/** A rim sample whose difference is further from the others than this many of their spreads, and codes, is no matter of tone: the thing there is another one. */
const ODD = 6;
const ODD_CODES = 20;
/** The largest Laplacian left in a membrane, in 8-bit code values. */
const RESIDUAL = 0.1;

/**
 * The source with the tone of what surrounds the area (Pérez, Gangnet & Blake 2003; Georgiev 2004): source plus a membrane
 * over the area whose rim is the difference between picture and source, each rim sample the mean of the few around it so that
 * grain does not run in. Samples of the rim at which something else stands are passed over.
 * @param work the picture, as it was before
 * @param alpha where the area is: all samples with α > 0
 */
export function healedPlane(work: Plane, source: MovedPlane, alpha: PlaneAlpha, format: PixelFormat): MovedPlane {
  const one = 1 << (format.bits - 8);
  const top = maxCode(format);
  const pad = 2 * BAND + 1;
  const [x0, y0] = [alpha.x0 - pad, alpha.y0 - pad];
  const w = alpha.x1 - alpha.x0 + 2 * pad;
  const h = alpha.y1 - alpha.y0 + 2 * pad;
  const aw = alpha.x1 - alpha.x0;
  const grid: Grid = { width: w, height: h, kind: new Uint8Array(w * h) };
  const off = new Float64Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const [px, py] = [x0 + x, y0 + y];
      if (px < 0 || py < 0 || px >= work.width || py >= work.height) {
        grid.kind[i] = ABSENT;
        continue;
      }
      const inside = px >= alpha.x0 && py >= alpha.y0 && px < alpha.x1 && py < alpha.y1;
      if (inside && alpha.data[(py - alpha.y0) * aw + px - alpha.x0] > 0) grid.kind[i] = FREE;
    }
  const rim = rimOf(grid);
  for (const i of rim)
    off[i] = work.data[(y0 + Math.floor(i / w)) * work.width + x0 + (i % w)] / one - source.read(x0 + (i % w), y0 + Math.floor(i / w)) / one;
  passOver(grid, rim, off);
  const values = meanAlong(grid, rim, off);
  spanMembrane(grid, values, RESIDUAL);
  const read = (px: number, py: number) => {
    const [x, y] = [px - x0, py - y0];
    const s = source.read(px, py);
    if (x < 0 || y < 0 || x >= w || y >= h || grid.kind[y * w + x] !== FREE) return s;
    const v = Math.floor(s + values[y * w + x] * one + 0.5);
    return v < 0 ? 0 : v > top ? top : v;
  };
  return { ...source, whole: null, read };
}

/** The fixed cells within the band along the free ones. */
function rimOf({ width: w, height: h, kind }: Grid): number[] {
  const near = new Uint8Array(w * h);
  for (let y = BAND; y < h - BAND; y++)
    for (let x = BAND; x < w - BAND; x++) {
      const i = y * w + x;
      if (kind[i] !== FREE || (kind[i - 1] === FREE && kind[i + 1] === FREE && kind[i - w] === FREE && kind[i + w] === FREE)) continue;
      for (let j = -BAND; j <= BAND; j++) near.fill(1, i + j * w - BAND, i + j * w + BAND + 1);
    }
  const out: number[] = [];
  for (let i = 0; i < near.length; i++) if (near[i] && kind[i] === FIXED) out.push(i);
  return out;
}

/** Takes samples off the rim at which the difference is out of all proportion; never more than half of them. */
function passOver(grid: Grid, rim: number[], off: Float64Array): void {
  if (rim.length < 8) return;
  const sorted = rim.map((i) => off[i]).sort((a, b) => a - b);
  const middle = sorted[sorted.length >> 1];
  const spread = 1.4826 * sorted.map((v) => Math.abs(v - middle)).sort((a, b) => a - b)[sorted.length >> 1];
  const most = ODD * spread + ODD_CODES;
  for (const i of rim) if (Math.abs(off[i] - middle) > most) grid.kind[i] = ABSENT;
}

/** Each sample of the rim as the mean of those of the rim around it. */
function meanAlong({ width: w, kind }: Grid, rim: number[], off: Float64Array): Float64Array {
  const on = new Uint8Array(off.length);
  for (const i of rim) if (kind[i] === FIXED) on[i] = 1;
  const out = new Float64Array(off.length);
  for (const i of rim) {
    if (!on[i]) continue;
    let sum = 0;
    let n = 0;
    for (let j = -BAND; j <= BAND; j++)
      for (let k = i + j * w - BAND; k <= i + j * w + BAND; k++)
        if (on[k]) {
          sum += off[k];
          n++;
        }
    out[i] = sum / n;
  }
  return out;
}
