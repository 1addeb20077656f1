import type { PlainColour } from "../document/plate";
import { colourPlanes, createFrame, type Frame, maxCode, type PixelFormat, planeShift, type Rect, wholeOf } from "../pixels/frame";

/** A picture of one plain or sloping colour. The fraction that rounding takes is spread by a fixed pattern, so that a slope has no steps. */
export function plainFrame(c: PlainColour, width: number, height: number, format: PixelFormat): Frame {
  const out = createFrame(width, height, { ...format, alpha: false });
  out.planes.forEach((plane, p) => {
    const read = plainPlane(c, p, format);
    for (let y = 0, i = 0; y < plane.height; y++) for (let x = 0; x < plane.width; x++, i++) plane.data[i] = read(x, y);
  });
  return out;
}

/** The samples of plane `p` of such a picture. */
export function plainPlane(c: PlainColour, p: number, format: PixelFormat): (x: number, y: number) => number {
  const top = maxCode(format);
  const one = 1 << (format.bits - 8);
  const { sx, sy } = planeShift(format, p);
  const [v, dx, dy] = c.planes[Math.min(p, c.planes.length - 1)];
  const slopes = dx !== 0 || dy !== 0;
  return (x, y) => {
    const px = (x + 0.5) * (1 << sx) - c.x;
    const py = (y + 0.5) * (1 << sy) - c.y;
    // an ordered pattern whose values are spread evenly (interleaved gradient noise; Jimenez 2014)
    const t = slopes ? fraction(52.9829189 * fraction(0.06711056 * x + 0.00583715 * y)) : 0.5;
    return Math.min(top, Math.max(0, Math.floor((v + dx * px + dy * py) * one + t)));
  };
}

const fraction = (v: number) => v - Math.floor(v);

/**
 * The plain or sloping colour of the places that `taken` names: a plane through each channel's values by least squares, outliers
 * losing their weight (Huber 1964). Only places within `within` are asked about. A slope that changes less than two codes over the area counts as none.
 */
export function colourOf(frame: Frame, taken: (x: number, y: number) => boolean, within: Rect = wholeOf(frame)): PlainColour | null {
  const one = 1 << (frame.format.bits - 8);
  const points: [number, number][] = [];
  for (let y = within.y0; y < within.y1; y++) for (let x = within.x0; x < within.x1; x++) if (taken(x + 0.5, y + 0.5)) points.push([x, y]);
  if (points.length < 6) return null;
  const step = Math.max(1, Math.floor(points.length / 4000));
  const some = points.filter((_, i) => i % step === 0);
  const cx = some.reduce((s, q) => s + q[0] + 0.5, 0) / some.length;
  const cy = some.reduce((s, q) => s + q[1] + 0.5, 0) / some.length;
  const reach = Math.max(...some.map(([x, y]) => Math.hypot(x - cx, y - cy)));
  const planes = Array.from({ length: colourPlanes(frame.format) }, (_, p): [number, number, number] => {
    const { sx, sy } = planeShift(frame.format, p);
    const plane = frame.planes[p];
    const values = some.map(([x, y]) => plane.data[Math.min(plane.height - 1, y >> sy) * plane.width + Math.min(plane.width - 1, x >> sx)] / one);
    const fit = planeThrough(some, values, cx, cy);
    const flat = Math.hypot(fit[1], fit[2]) * reach < 1;
    return flat ? [fit[0], 0, 0] : fit;
  });
  return { x: cx, y: cy, planes };
}

function planeThrough(points: [number, number][], values: number[], cx: number, cy: number): [number, number, number] {
  let fit: [number, number, number] = [0, 0, 0];
  for (let round = 0; round < 8; round++) {
    const off = points.map(([x, y], i) => values[i] - fit[0] - fit[1] * (x + 0.5 - cx) - fit[2] * (y + 0.5 - cy));
    const size = off.map(Math.abs).sort((a, b) => a - b);
    const k = round === 0 ? Infinity : Math.max(0.5, 1.345 * 1.4826 * size[size.length >> 1]);
    let [sw, sx, sy, sv, sxx, sxy, syy, sxv, syv] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    points.forEach(([px, py], i) => {
      const w = Math.abs(off[i]) <= k ? 1 : k / Math.abs(off[i]);
      const x = px + 0.5 - cx;
      const y = py + 0.5 - cy;
      sw += w;
      sx += w * x;
      sy += w * y;
      sv += w * values[i];
      sxx += w * x * x;
      sxy += w * x * y;
      syy += w * y * y;
      sxv += w * x * values[i];
      syv += w * y * values[i];
    });
    fit = solve3([sw, sx, sy, sx, sxx, sxy, sy, sxy, syy], [sv, sxv, syv]) ?? [sv / sw, 0, 0];
  }
  return fit;
}

/** Cramer's rule; null when the points lie on a line. */
function solve3(m: number[], v: number[]): [number, number, number] | null {
  const det = (a: number[]) => a[0] * (a[4] * a[8] - a[5] * a[7]) - a[1] * (a[3] * a[8] - a[5] * a[6]) + a[2] * (a[3] * a[7] - a[4] * a[6]);
  const d = det(m);
  if (Math.abs(d) < 1e-9 * Math.abs(m[0] * m[4] * m[8])) return null;
  const column = (k: number) => det(m.map((x, i) => (i % 3 === k ? v[Math.floor(i / 3)] : x)));
  return [column(0) / d, column(1) / d, column(2) / d];
}
