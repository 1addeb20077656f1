import { type Frame, planeShift, type Rect } from "../pixels/frame";
import type { Bars } from "../survey/bars";

/** The bars of a take as rectangles, in pixels. */
export function barRects({ left, top, right, bottom, soft }: Bars, width: number, height: number): Rect[] {
  // the soft edge of a bar is picture already
  const hard = (v: number) => Math.max(0, v - soft);
  const all = [
    { x0: 0, y0: 0, x1: width, y1: hard(top) },
    { x0: 0, y0: height - hard(bottom), x1: width, y1: height },
    { x0: 0, y0: 0, x1: hard(left), y1: height },
    { x0: width - hard(right), y0: 0, x1: width, y1: height },
  ];
  return all.filter((r) => r.x1 > r.x0 && r.y1 > r.y0);
}

/** Where samples of a rectangle were changed: the bounds, in luma pixels, and by how much at most, 8-bit codes; null where none was. */
export function changedIn(live: Frame, mended: Frame, rects: readonly Rect[]): { box: Rect; most: number } | null {
  if (live === mended) return null;
  const unit = 2 ** (live.format.bits - 8);
  const box = { x0: live.width, y0: live.height, x1: 0, y1: 0 };
  let most = 0;
  live.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(live.format, p);
    const other = mended.planes[p].data;
    for (const r of rects)
      for (let y = r.y0 >> sy; y < r.y1 >> sy; y++)
        for (let x = r.x0 >> sx; x < r.x1 >> sx; x++) {
          const d = Math.abs(plane.data[y * plane.width + x] - other[y * plane.width + x]);
          if (!d) continue;
          most = Math.max(most, d / unit);
          [box.x0, box.y0] = [Math.min(box.x0, x << sx), Math.min(box.y0, y << sy)];
          [box.x1, box.y1] = [Math.max(box.x1, (x + 1) << sx), Math.max(box.y1, (y + 1) << sy)];
        }
  });
  return most > 0 ? { box, most } : null;
}
