import type { PictureShape } from "../document/mask";
import { NotSupportedYet } from "../document/recipe";
import { type Homography, inverse, mapped } from "../follow/homography";
import type { Rect } from "../pixels/frame";
import type { Values } from "../pixels/still";
import type { Matte } from "./matte";

/** Values of the pictures that masks are made of. */
export type MaskPictures = (shape: PictureShape) => Values;

/** Where tracks have taken pictures, take pixels; beside the shapes, since no recipe says so. */
const taken = new WeakMap<PictureShape, Homography>();

/** The same picture where a map of take pixels has taken it. */
export function carriedPicture(shape: PictureShape, map: Homography): PictureShape {
  const carried = { ...shape };
  taken.set(carried, map);
  return carried;
}

/**
 * α of a picture over `field`: at (0, 0), one of its pixels a pixel of the take, replicated beyond its border; averaged where the canvas is
 * smaller. Where a track has taken it elsewhere it is read between its pixels, bilinearly; 0 where it would lie behind the horizon.
 */
export function pictureMatte(shape: PictureShape, field: Rect, scale: number, pictures?: MaskPictures): Matte {
  if (!pictures) throw new NotSupportedYet("A picture as mask on this screen");
  const v = pictures(shape);
  const map = taken.get(shape);
  return { ...field, data: map ? resampled(v, map, field, scale) : asItLies(v, field, scale), outside: 0 };
}

function asItLies(v: Values, field: Rect, scale: number): Float64Array {
  const w = field.x1 - field.x0;
  const data = new Float64Array(w * (field.y1 - field.y0));
  const columns = Array.from({ length: w }, (_, i) => span(field.x0 + i, scale, v.width));
  for (let y = field.y0, i = 0; y < field.y1; y++) {
    const rows = span(y, scale, v.height);
    for (const [xa, xb] of columns) {
      let sum = 0;
      for (let yy = rows[0]; yy < rows[1]; yy++) for (let xx = xa; xx < xb; xx++) sum += v.data[yy * v.width + xx];
      data[i++] = sum / ((rows[1] - rows[0]) * (xb - xa));
    }
  }
  return data;
}

/** The pixels of a picture of `length` that pixel `x` of the canvas covers, at least one, kept within the picture. */
function span(x: number, scale: number, length: number): [number, number] {
  const a = Math.min(length - 1, Math.max(0, Math.floor(x / scale + 1e-9)));
  return [a, Math.min(length, Math.max(a + 1, Math.round((x + 1) / scale)))];
}

/** @param map from the picture to the take */
function resampled(v: Values, map: Homography, field: Rect, scale: number): Float64Array {
  const back = inverse(map);
  const w = field.x1 - field.x0;
  const data = new Float64Array(w * (field.y1 - field.y0));
  if (!back) return data;
  // of a pixel of a smaller canvas as many points as it spans take pixels
  const side = Math.max(1, Math.ceil(1 / scale - 1e-9));
  for (let y = field.y0, i = 0; y < field.y1; y++)
    for (let x = field.x0; x < field.x1; x++, i++) {
      let sum = 0;
      for (let k = 0; k < side * side; k++) {
        const at = mapped(back, [(x + ((k % side) + 0.5) / side) / scale, (y + (Math.floor(k / side) + 0.5) / side) / scale]);
        if (at) sum += between(v, at[0] - 0.5, at[1] - 0.5);
      }
      data[i] = sum / (side * side);
    }
  return data;
}

/** The value of a picture between its pixels' middles; beyond its border as at it. */
function between({ width, height, data }: Values, x: number, y: number): number {
  const u = Math.min(width - 1, Math.max(0, x));
  const t = Math.min(height - 1, Math.max(0, y));
  const [i, j] = [Math.floor(u), Math.floor(t)];
  const right = i + 1 < width ? 1 : 0;
  const below = j + 1 < height ? width : 0;
  const at = j * width + i;
  const above = data[at] + (u - i) * (data[at + right] - data[at]);
  return above + (t - j) * (data[at + below] + (u - i) * (data[at + below + right] - data[at + below]) - above);
}
