import { type Homography, near } from "./homography";
import type { Plane } from "../pixels/frame";
import { catmullRom, type ResampledPlane, resampler, type Sited, toCode } from "../pixels/resample";

/**
 * `plane` as a plane map lays it: the picture's point p reads source point `back`(p), each plane at its own sited positions (Catmull–Rom,
 * Keys 1981), the kernel widened where it shrinks; edges clamped, the result rounded and clipped to 0 … top.
 * @param back from points of the laid picture to those of the source, both in its pixels, the middle of the first at ½
 * @param about where it is laid: there it is measured how much it shrinks
 */
export function warpedPlane(plane: Plane, at: Sited, back: Homography, about: readonly [number, number], top: number): ResampledPlane {
  const { width, height, data } = plane;
  const wide = shrinks(back, about);
  const widened = resampler(plane, wide);
  const clampX = (x: number) => (x < 0 ? 0 : x >= width ? width - 1 : x);
  const clampY = (y: number) => (y < 0 ? 0 : y >= height ? height - 1 : y);
  const [h0, h1, h2, h3, h4, h5, h6, h7, h8] = back;
  const value = (px: number, py: number) => {
    const [x, y] = [px * (1 << at.sx) + at.x0, py * (1 << at.sy) + at.y0];
    // what lies beyond the horizon has nothing to show: the mask does not reach there
    const w = Math.max(1e-9, h6 * x + h7 * y + h8);
    const ix = ((h0 * x + h1 * y + h2) / w - at.x0) / (1 << at.sx);
    const iy = ((h3 * x + h4 * y + h5) / w - at.y0) / (1 << at.sy);
    if (wide > 1) return widened(ix, iy);
    const [bx, by] = [Math.floor(ix), Math.floor(iy)];
    const [u, v] = [catmullRom(ix - bx), catmullRom(iy - by)];
    let sum = 0;
    for (let j = 0; j < 4; j++) {
      const row = clampY(by + j - 1) * width;
      sum += v[j] * (u[0] * data[row + clampX(bx - 1)] + u[1] * data[row + clampX(bx)] + u[2] * data[row + clampX(bx + 1)] + u[3] * data[row + clampX(bx + 2)]); // prettier-ignore
    }
    return sum;
  };
  return { ...plane, whole: null, value, read: (x, y) => toCode(value(x, y), top) };
}

/** By how much a map takes neighbours apart around a point, at most, and 1 at least: the larger singular value of its derivative. */
function shrinks(m: Homography, about: readonly [number, number]): number {
  const there = near(m, about);
  if (!there) return 1;
  const [a, b, c, d] = there.by;
  const s = a * a + b * b + c * c + d * d;
  const most = Math.sqrt((s + Math.sqrt(Math.max(0, s * s - 4 * (a * d - b * c) ** 2))) / 2);
  // a hair of enlargement is measurement, not shrinking
  return most < 1.02 ? 1 : Math.min(16, most);
}
