import type { Plane } from "./frame";

/** Catmull–Rom weights (a = −½) for the four taps around a position whose fraction is t (Keys 1981). */
export function catmullRom(t: number): [number, number, number, number] {
  const t2 = t * t;
  const t3 = t2 * t;
  return [-0.5 * t + t2 - 0.5 * t3, 1 - 2.5 * t2 + 1.5 * t3, 0.5 * t + 2 * t2 - 1.5 * t3, -0.5 * t2 + 0.5 * t3];
}

/** A plane moved by some of its own samples. */
export interface MovedPlane extends Plane {
  /** Sample (x, y) of the moved picture. */
  read: (x: number, y: number) => number;

  /** For shifts by whole samples: sample (x, y) is the plane's own (x + whole.x, y + whole.y). */
  whole: { x: number; y: number } | null;
}

/** A moved plane that is also known between codes. */
export interface ResampledPlane extends MovedPlane {
  /** Sample (x, y) before it is rounded and clipped to a code. */
  value: (x: number, y: number) => number;
}

/** A value as a code: rounded, halves up, and clipped to 0 … top. */
export function toCode(value: number, top: number): number {
  const v = Math.floor(value + 0.5);
  return v < 0 ? 0 : v > top ? top : v;
}

/**
 * `plane` moved by (dx, dy) of its own samples. Whole shifts copy; others interpolate with Catmull–Rom, edges
 * clamped, the result rounded and clipped to 0 … top.
 */
export function movedPlane(plane: Plane, dx: number, dy: number, top: number): ResampledPlane {
  const { width, height, data } = plane;
  const clampX = (x: number) => (x < 0 ? 0 : x >= width ? width - 1 : x);
  const clampY = (y: number) => (y < 0 ? 0 : y >= height ? height - 1 : y);
  const ix = Math.floor(-dx);
  const iy = Math.floor(-dy);
  const fx = -dx - ix;
  const fy = -dy - iy;
  if (fx === 0 && fy === 0) {
    const read = (x: number, y: number) => data[clampY(y + iy) * width + clampX(x + ix)];
    return { ...plane, whole: { x: ix, y: iy }, read, value: read };
  }
  const wx = catmullRom(fx);
  const wy = catmullRom(fy);
  const value = (x: number, y: number) => {
    let sum = 0;
    for (let j = 0; j < 4; j++) {
      const row = clampY(y + iy + j - 1) * width;
      let line = 0;
      for (let i = 0; i < 4; i++) line += wx[i] * data[row + clampX(x + ix + i - 1)];
      sum += wy[j] * line;
    }
    return sum;
  };
  return { ...plane, whole: null, value, read: (x, y) => toCode(value(x, y), top) };
}

/** Reads `out.length` samples of a moved plane from (x, y) to the right. */
export function readRow({ data, width, height, whole, read }: MovedPlane, x: number, y: number, out: Float64Array): void {
  const n = out.length;
  // most sources are moved by whole samples and lie inside: read directly
  if (whole && y + whole.y >= 0 && y + whole.y < height && x + whole.x >= 0 && x + whole.x + n <= width) {
    const at = (y + whole.y) * width + x + whole.x;
    for (let i = 0; i < n; i++) out[i] = data[at + i];
  } else for (let i = 0; i < n; i++) out[i] = read(x + i, y);
}

/** How a source picture is laid: moved by (x, y), scaled and turned clockwise (degrees) about the pivot (cx, cy); pixels of the canvas. */
export interface Placing {
  x: number;
  y: number;
  scale: number;
  angle: number;
  cx: number;
  cy: number;
  /** Mirrored left to right, about the pivot. */
  mirror?: boolean;
}

/** Where a plane's samples lie: log2 of its subsampling, and the position of sample 0 in luma pixels. */
export interface Sited {
  sx: number;
  sy: number;
  x0: number;
  y0: number;
}

/** The Catmull–Rom kernel (a = −½) at distance t (Keys 1981). */
function kernel(t: number): number {
  const a = Math.abs(t);
  if (a >= 2) return 0;
  return a < 1 ? (1.5 * a - 2.5) * a * a + 1 : ((-0.5 * a + 2.5) * a - 4) * a + 2;
}

/** `plane` between its samples, in its own: Catmull–Rom, the kernel made `wide` times as wide, edges clamped. */
export function resampler({ width, height, data }: Plane, wide: number): (ix: number, iy: number) => number {
  const reach = Math.ceil(2 * wide);
  const wx = new Float64Array(2 * reach + 1);
  const wy = new Float64Array(2 * reach + 1);
  const weights = (out: Float64Array, pos: number, base: number) => {
    let sum = 0;
    for (let i = 0; i < out.length; i++) sum += out[i] = kernel((pos - base - (i - reach)) / wide);
    for (let i = 0; i < out.length; i++) out[i] /= sum;
  };
  return (ix, iy) => {
    const bx = Math.floor(ix);
    const by = Math.floor(iy);
    weights(wx, ix, bx);
    weights(wy, iy, by);
    let sum = 0;
    for (let j = 0; j < wy.length; j++) {
      if (wy[j] === 0) continue;
      const row = Math.min(height - 1, Math.max(0, by + j - reach)) * width;
      let line = 0;
      for (let i = 0; i < wx.length; i++) line += wx[i] * data[row + Math.min(width - 1, Math.max(0, bx + i - reach))];
      sum += wy[j] * line;
    }
    return sum;
  };
}

/**
 * `plane` scaled and turned: point p of the picture reads source point c + R(−angle)·(p − c − (x, y)) / scale, each plane
 * at its own sited positions; the kernel is widened by 1/scale when shrinking, edges clamped, the result rounded and clipped.
 */
export function placedPlane(plane: Plane, at: Sited, place: Placing, top: number): ResampledPlane {
  const { x, y, scale, angle, cx, cy } = place;
  const cos = Math.cos((angle * Math.PI) / 180);
  const sin = Math.sin((angle * Math.PI) / 180);
  const sampled = resampler(plane, Math.max(1, 1 / scale));
  const value = (px: number, py: number) => {
    const flat = px * (1 << at.sx) + at.x0 - cx - x;
    const dx = place.mirror ? -flat : flat;
    const dy = py * (1 << at.sy) + at.y0 - cy - y;
    const ix = ((cos * dx + sin * dy) / scale + cx - at.x0) / (1 << at.sx);
    const iy = ((cos * dy - sin * dx) / scale + cy - at.y0) / (1 << at.sy);
    return sampled(ix, iy);
  };
  return { ...plane, whole: null, value, read: (x, y) => toCode(value(x, y), top) };
}
