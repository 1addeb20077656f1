import type { CutoutShape } from "../document/mask";
import type { Cutouts } from "../cutout/cutout-data";
import { intersect, isEmpty, type Rect } from "../pixels/frame";
import { UserError } from "../user-error";
import { emptyMatte, join, type Matte } from "./matte";
import { strokeMatte } from "./stroke";

/**
 * α of a cut-out at frame `n` within `field`: what was measured of that frame, and over it the strokes of that frame, in their order;
 * means of take pixels where the canvas is smaller.
 * @throws UserError where what was measured is not there
 */
export function cutoutMatte(shape: CutoutShape, n: number, field: Rect, scale: number, cutouts?: Cutouts): Matte {
  const data = cutouts?.get(shape.data);
  if (!data) throw new UserError("missing", "A cut-out's matte is not there (any more): cut the thing out again.");
  const frame = data.get(n);
  let m = frame ? scaled(frame.rect, frame.alpha(), scale, field) : emptyMatte();
  for (const s of shape.strokes ?? []) {
    if (s.f !== n) continue;
    const path = s.path.map((p): typeof p => [p[0] * scale, p[1] * scale, ...p.slice(2)]);
    m = join(m, strokeMatte({ ...s.brush, size: s.brush.size * scale }, path, field), s.erase ? "cut" : "over");
  }
  return m;
}

/** 8-bit α over a rectangle of take pixels as a matte of the canvas. */
function scaled(rect: Rect, alpha: Uint8Array, scale: number, field: Rect): Matte {
  const out = intersect(field, {
    x0: Math.floor(rect.x0 * scale),
    y0: Math.floor(rect.y0 * scale),
    x1: Math.ceil(rect.x1 * scale),
    y1: Math.ceil(rect.y1 * scale),
  });
  if (isEmpty(out)) return emptyMatte();
  const [w, wide] = [out.x1 - out.x0, rect.x1 - rect.x0];
  const data = new Float64Array(w * (out.y1 - out.y0));
  if (scale === 1) {
    for (let y = out.y0, o = 0; y < out.y1; y++)
      for (let i = (y - rect.y0) * wide + out.x0 - rect.x0, end = i + w; i < end; i++) data[o++] = alpha[i] / 255;
    return { ...out, data, outside: 0 };
  }
  // the take pixels that a pixel of the canvas covers; what lies beyond the rectangle is 0
  const spans = (from: number, to: number) =>
    Array.from({ length: to - from }, (_, i): [number, number] => {
      const a = Math.floor((from + i) / scale + 1e-9);
      return [a, Math.max(a + 1, Math.round((from + i + 1) / scale))];
    });
  const columns = spans(out.x0, out.x1);
  spans(out.y0, out.y1).forEach(([ya, yb], j) => {
    columns.forEach(([xa, xb], i) => {
      let sum = 0;
      for (let y = Math.max(ya, rect.y0); y < Math.min(yb, rect.y1); y++)
        for (let x = Math.max(xa, rect.x0); x < Math.min(xb, rect.x1); x++) sum += alpha[(y - rect.y0) * wide + x - rect.x0];
      data[j * w + i] = sum / (255 * (xb - xa) * (yb - ya));
    });
  });
  return { ...out, data, outside: 0 };
}
