import type { Recipe } from "../document";
import { type Frame, intersect, isEmpty, type PixelFormat, planeShift, type Rect, union } from "../pixels/frame";
import { maskBounds } from "../shape/mask";
import { activePatches } from "./compose";
import { hasKeys, maskOf } from "./patch";

/**
 * The rectangle outside which no frame from `from` to `to` differs from the take: all patches that show, each with the
 * reach of its edge and of its chroma footprint. Its sides lie on whole chroma samples. Empty when no patch shows.
 */
export function patchWindow(recipe: Recipe, from: number, to: number, width: number, height: number): Rect {
  const picture = { x0: 0, y0: 0, x1: width, y1: height };
  const still = new Set<object>();
  let all: Rect = { x0: 0, y0: 0, x1: 0, y1: 0 };
  for (let n = from; n <= to; n++)
    for (const l of activePatches(recipe, n)) {
      const mask = maskOf(recipe, l);
      if (still.has(mask)) continue;
      if (!hasKeys(mask) && !mask.shapes.some((s) => s.kind === "painted" && s.strokes.some((k) => k.frames))) still.add(mask);
      all = union(all, intersect(picture, maskBounds(mask, n, width, height)));
    }
  if (isEmpty(all)) return all;
  const even = { x0: (all.x0 - 4) & ~1, y0: (all.y0 - 4) & ~1, x1: (all.x1 + 5) & ~1, y1: (all.y1 + 5) & ~1 };
  return intersect(picture, even);
}

/** Copies the samples of rectangle `rect` of `frame`, planes in order, to or from `bytes`. Its sides lie on whole chroma samples. */
function exchange(frame: Frame, rect: Rect, bytes: Uint8Array, into: boolean): void {
  const wide = frame.format.bits > 8 ? 2 : 1;
  let at = 0;
  frame.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(frame.format, p);
    const data = new Uint8Array(plane.data.buffer, plane.data.byteOffset, plane.data.byteLength);
    const row = ((rect.x1 - rect.x0) >> sx) * wide;
    for (let y = rect.y0 >> sy; y < rect.y1 >> sy; y++, at += row) {
      const from = (y * plane.width + (rect.x0 >> sx)) * wide;
      if (into) data.set(bytes.subarray(at, at + row), from);
      else bytes.set(data.subarray(from, from + row), at);
    }
  });
}

/** Puts the samples of a window into a whole frame. */
export const putWindow = (frame: Frame, rect: Rect, bytes: Uint8Array) => exchange(frame, rect, bytes, true);

/** Takes the samples of a window out of a whole frame, into `bytes`. */
export const takeWindow = (frame: Frame, rect: Rect, bytes: Uint8Array) => exchange(frame, rect, bytes, false);

/** Whether a picture's window can be taken out sample by sample: no side lies within a chroma sample, no alpha. */
export const hasWindow = (width: number, height: number, f: PixelFormat) => !f.alpha && !(width & f.subX) && !(height & f.subY);
