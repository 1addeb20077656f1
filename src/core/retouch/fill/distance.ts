import { boxOf, intersect, type Rect, wholeOf } from "../../pixels/frame";

/** The rectangle of the pixels that are 1, with `pad` more on each side where there is room. */
export function boxAround(flags: Uint8Array, width: number, height: number, pad: number): Rect {
  const { x0, y0, x1, y1 } = boxOf(flags, width, height, 1);
  return intersect(wholeOf({ width, height }), { x0: x0 - pad, y0: y0 - pad, x1: x1 + pad, y1: y1 + pad });
}

/**
 * For each pixel within `box` how far the nearest pixel of `flags` that is `of` lies, 0 at such pixels, by the chamfer 3–4 measure
 * (Borgefors 1986); pixels.
 */
export function distanceTo(
  flags: Uint8Array,
  width: number,
  height: number,
  of: 0 | 1,
  box: Rect = { x0: 0, y0: 0, x1: width, y1: height },
): Float32Array {
  const far = 3 * (width + height);
  const d = new Float32Array(width * height);
  for (let i = 0; i < d.length; i++) d[i] = flags[i] === of ? 0 : far;
  const pass = (y0: number, y1: number, x0: number, x1: number, s: number) => {
    for (let y = y0; y !== y1; y += s)
      for (let x = x0; x !== x1; x += s) {
        const i = y * width + x;
        let v = d[i];
        const [px, nx] = [x - s, x + s];
        const row = i - s * width;
        const rows = y - s >= 0 && y - s < height;
        if (px >= 0 && px < width) v = Math.min(v, d[i - s] + 3);
        if (rows) {
          v = Math.min(v, d[row] + 3);
          if (px >= 0 && px < width) v = Math.min(v, d[row - s] + 4);
          if (nx >= 0 && nx < width) v = Math.min(v, d[row + s] + 4);
        }
        d[i] = v;
      }
  };
  pass(box.y0, box.y1, box.x0, box.x1, 1);
  pass(box.y1 - 1, box.y0 - 1, box.x1 - 1, box.x0 - 1, -1);
  for (let i = 0; i < d.length; i++) d[i] /= 3;
  return d;
}
