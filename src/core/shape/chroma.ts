import { intersect, type PixelFormat, planeShift, type Rect } from "../pixels/frame";
import type { SitingName } from "../pixels/colour";
import { footprints, overFootprint } from "../pixels/siting";
import type { Matte } from "./matte";

/** α over a rectangle of one plane. */
export interface PlaneAlpha extends Rect {
  data: Float64Array;
}

/**
 * α of plane `p`: the matte itself at full size, or averaged over each chroma sample's footprint at its siting.
 * The picture's borders replicate.
 */
export function planeAlpha(m: Matte, format: PixelFormat, p: number, siting: SitingName, width: number, height: number): PlaneAlpha {
  const { sx, sy } = planeShift(format, p);
  if (!sx && !sy) return m;
  const cw = (width + sx) >> sx;
  const ch = (height + sy) >> sy;
  const x0 = Math.max(0, (m.x0 >> sx) - 1);
  const y0 = Math.max(0, (m.y0 >> sy) - 1);
  const x1 = Math.max(x0, Math.min(cw, (m.x1 >> sx) + 2));
  const y1 = Math.max(y0, Math.min(ch, (m.y1 >> sy) + 2));
  const mw = m.x1 - m.x0;
  const read = (x: number, y: number) => (x < m.x0 || y < m.y0 || x >= m.x1 || y >= m.y1 ? m.outside : m.data[(y - m.y0) * mw + x - m.x0]);
  const w = x1 - x0;
  const data = new Float64Array(w * (y1 - y0));
  const mean = overFootprint(siting, { sx, sy }, width, height, read);
  const { fx, fy } = footprints(siting, { sx, sy });
  const [nx, ny] = [fx.weights.length, fy.weights.length];
  const weights = Float64Array.from(fy.weights.flatMap((b) => fx.weights.map((a) => a * b)));
  const full = m.data;
  // the same sum, read directly where the whole footprint lies within the matte
  const [xa, xb] = [Math.max(0, m.x0), Math.min(width, m.x1) - nx];
  for (let y = y0, o = 0; y < y1; y++) {
    const top = (y << sy) + fy.first;
    const rows = top >= Math.max(0, m.y0) && top + ny <= Math.min(height, m.y1);
    for (let x = x0; x < x1; x++, o++) {
      const left = (x << sx) + fx.first;
      if (!rows || left < xa || left > xb) {
        data[o] = mean(x, y);
        continue;
      }
      let sum = 0;
      for (let j = 0, k = 0, row = (top - m.y0) * mw + left - m.x0; j < ny; j++, row += mw)
        for (let at = row, end = row + nx; at < end; at++) sum += weights[k++] * full[at];
      data[o] = sum;
    }
  }
  return { x0, y0, x1, y1, data };
}

/** The part of a plane's α that lies in `rect`. */
export function clipAlpha(a: PlaneAlpha, rect: Rect): PlaneAlpha {
  const r = intersect(a, rect);
  const w = r.x1 - r.x0;
  const data = new Float64Array(w * (r.y1 - r.y0));
  for (let y = r.y0; y < r.y1; y++) {
    const from = (y - a.y0) * (a.x1 - a.x0) + r.x0 - a.x0;
    data.set(a.data.subarray(from, from + w), (y - r.y0) * w);
  }
  return { ...r, data };
}
