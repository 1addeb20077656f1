import { PX } from "../ranges";
import type { Mask } from "../document/mask";
import type { Cutouts } from "../cutout/cutout-data";
import type { PixelFormat } from "../pixels/frame";
import type { PlaneAlpha } from "../shape/chroma";
import { maskMatte } from "../shape/mask";
import type { MaskPictures } from "../shape/picture";
import type { Matte } from "../shape/matte";
import { valueAt } from "../time/keyed";

interface Size {
  width: number;
  height: number;
  scale: number;
  masks?: MaskPictures;
  cutouts?: Cutouts;
}

/** The least feather, in pixels of the picture, at which half the resolution is not seen in a moving picture. */
const SOFT = 4;

/**
 * α of a mask for the planes of a quick picture, luma then chroma: worked out at half the size and drawn up, where its edge is soft enough;
 * null where it is not. The edge of a mask of one shape is taken from its outline, not from the contour of its coverage.
 */
export function quickAlphas(mask: Mask, n: number, c: Size, format: PixelFormat): [PlaneAlpha, PlaneAlpha] | null {
  if (format.model !== "yuv" || !format.subX || !format.subY) return null;
  const shapes = mask.shapes.filter((s) => s.on !== false);
  const softest = Math.max(valueAt(mask.feather ?? 0, n, PX), ...shapes.map((s) => valueAt(s.feather ?? 0, n, PX)));
  const hard = valueAt(mask.feather ?? 0, n, PX) === 0 && shapes.some((s) => valueAt(s.feather ?? 0, n, PX) * c.scale < SOFT);
  if (softest * c.scale < SOFT || hard) return null;
  const half: Size = { width: Math.ceil(c.width / 2), height: Math.ceil(c.height / 2), scale: c.scale / 2 };
  const m = maskMatte(byOutline(mask), n, half.width, half.height, half.scale, c.masks, c.cutouts);
  return [doubled(m, c.width, c.height), m];
}

/** A mask of one drawn shape with its edge given to the shape: nearly the same α, for about half the work. */
function byOutline(mask: Mask): Mask {
  const [s, ...more] = mask.shapes.filter((x) => x.on !== false);
  if (!s || more.length || s.op !== "add" || s.feather !== undefined || s.grow !== undefined) return mask;
  if (s.kind === "picture" || s.kind === "painted" || s.kind === "cutout") return mask;
  return { shapes: [{ ...s, feather: mask.feather, grow: mask.grow }], invert: mask.invert };
}

/** A matte drawn up to twice its size, straight lines between the centres of its pixels, within a picture. */
function doubled(m: Matte, width: number, height: number): PlaneAlpha {
  const w = m.x1 - m.x0;
  const h = m.y1 - m.y0;
  const rect = { x0: 2 * m.x0, y0: 2 * m.y0, x1: Math.min(width, 2 * m.x1), y1: Math.min(height, 2 * m.y1) };
  if (!w || !h) return { ...rect, x1: rect.x0, y1: rect.y0, data: new Float64Array(0) };
  const row = rect.x1 - rect.x0;
  const data = new Float64Array(row * (rect.y1 - rect.y0));
  // a pixel's centre lies a quarter before or behind that of the half-size pixel it is part of
  const line = new Float64Array(w);
  for (let y = 0; y < rect.y1 - rect.y0; y++) {
    const own = (y >> 1) * w;
    const other = Math.min(h - 1, Math.max(0, (y >> 1) + (y & 1 ? 1 : -1))) * w;
    for (let x = 0; x < w; x++) line[x] = 0.75 * m.data[own + x] + 0.25 * m.data[other + x];
    const at = y * row;
    for (let x = 0; x < row; x++) {
      const i = x >> 1;
      const j = x & 1 ? (i + 1 < w ? i + 1 : i) : i > 0 ? i - 1 : 0;
      data[at + x] = 0.75 * line[i] + 0.25 * line[j];
    }
  }
  return { ...rect, data };
}
