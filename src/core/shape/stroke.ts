import type { Brush } from "../document/touch";
import type { Point } from "../document/geometry";
import { intersect, type Rect } from "../pixels/frame";
import { boundaryOf } from "./boundary";
import { coverage } from "./coverage";
import type { Matte } from "./matte";
import { ellipsePolygon } from "./path";

interface Dab {
  x: number;
  y: number;
  pressure: number;
}

/**
 * The dabs of a stroke: one at its start, then one every spacing × size of arc length; pressure is interpolated.
 * A generator of state, so that a stroke in progress goes on where it stood.
 */
export class DabWalker {
  private last: Dab | null = null;
  private left = 0;
  private readonly step: number;
  private readonly aspect: number;
  constructor(brush: Brush) {
    this.step = brush.spacing * brush.size;
    this.aspect = brush.aspect ?? 1;
  }
  /** Goes on to the next point of the path and returns the dabs that fall due. */
  to(point: Point): Dab[] {
    const p: Dab = { x: point[0], y: point[1], pressure: point[2] ?? 1 };
    const a = this.last;
    this.last = p;
    if (!a) {
      this.left = this.step;
      return [p];
    }
    const length = Math.hypot(this.aspect * (p.x - a.x), p.y - a.y);
    const out: Dab[] = [];
    let at = this.left;
    for (; at <= length; at += this.step) {
      const t = at / length;
      out.push({ x: a.x + (p.x - a.x) * t, y: a.y + (p.y - a.y) * t, pressure: a.pressure + (p.pressure - a.pressure) * t });
    }
    this.left = at - length;
    return out;
  }
}

/**
 * α of one dab over its own rectangle: 1 up to hardness × r, then smoothstep to 0 at r = size / 2;
 * at hardness 1 the exact coverage of the disc. Of pixels that are wider than high it spans fewer columns than rows, so that it is round on
 * the screen.
 */
export function dabAlpha(brush: Brush, dab: Dab): Rect & { data: Float64Array } {
  const r = (brush.size / 2) * (brush.pressure?.size ? dab.pressure : 1);
  const aspect = brush.aspect ?? 1;
  const reach = r + 0.02; // a disc's polygon lies a hair outside the circle, so that its area is the circle's
  const across = r / aspect + 0.02;
  const rect = { x0: Math.floor(dab.x - across), y0: Math.floor(dab.y - reach), x1: Math.ceil(dab.x + across), y1: Math.ceil(dab.y + reach) };
  if (r <= 0) return { ...rect, x1: rect.x0, y1: rect.y0, data: new Float64Array(0) };
  if (brush.hardness >= 1) return { ...rect, data: coverage(boundaryOf(ellipsePolygon(dab.x, dab.y, r / aspect, r, 0)), rect) };
  const data = new Float64Array((rect.x1 - rect.x0) * (rect.y1 - rect.y0));
  const inner = brush.hardness * r;
  for (let y = rect.y0, i = 0; y < rect.y1; y++) {
    const dy = y + 0.5 - dab.y;
    for (let x = rect.x0; x < rect.x1; x++, i++) {
      const dx = aspect * (x + 0.5 - dab.x);
      const d2 = dx * dx + dy * dy; // a square root is far quicker than Math.hypot, and this runs for every pixel of every dab
      if (d2 >= r * r) continue;
      const d = Math.sqrt(d2);
      const t = d <= inner ? 1 : (r - d) / (r - inner);
      data[i] = t * t * (3 - 2 * t);
    }
  }
  return { ...rect, data };
}

/**
 * A stroke's α in the making: α = opacity · (1 − Π(1 − flow · dab)). Where the pen's pressure sets opacity, times the pressure there:
 * max(pressure · dab) / max(dab), so that dabs which overlap do not add up to full opacity, and full pressure is as no pen at all.
 */
export class StrokeAlpha {
  private readonly clear: Float64Array;
  /** Where pressure counts: the largest dab, and the largest of pressure times dab. */
  private readonly most: { dab: Float64Array; pressed: Float64Array } | null;
  private readonly walker: DabWalker;
  constructor(
    private readonly brush: Brush,
    private readonly bounds: Rect,
  ) {
    this.clear = new Float64Array((bounds.x1 - bounds.x0) * (bounds.y1 - bounds.y0)).fill(1);
    const size = this.clear.length;
    this.most = brush.pressure?.opacity ? { dab: new Float64Array(size), pressed: new Float64Array(size) } : null;
    this.walker = new DabWalker(brush);
  }
  /** Adds path points; returns the rectangle that changed. */
  add(points: readonly Point[]): Rect {
    const b = this.bounds;
    const w = b.x1 - b.x0;
    const dirty = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
    for (const p of points)
      for (const dab of this.walker.to(p)) {
        const d = dabAlpha(this.brush, dab);
        const k = this.brush.flow;
        const dw = d.x1 - d.x0;
        const [xa, xb] = [Math.max(b.x0, d.x0), Math.min(b.x1, d.x1)];
        const [ya, yb] = [Math.max(b.y0, d.y0), Math.min(b.y1, d.y1)];
        if (xb <= xa || yb <= ya) continue;
        for (let y = ya; y < yb; y++) {
          let o = (y - b.y0) * w + xa - b.x0;
          let i = (y - d.y0) * dw + xa - d.x0;
          if (this.most) this.press(o, d.data, i, xb - xa, dab.pressure);
          for (let x = xa; x < xb; x++) this.clear[o++] *= 1 - k * d.data[i++];
        }
        dirty.x0 = Math.min(dirty.x0, xa);
        dirty.y0 = Math.min(dirty.y0, ya);
        dirty.x1 = Math.max(dirty.x1, xb);
        dirty.y1 = Math.max(dirty.y1, yb);
      }
    return dirty.x1 > dirty.x0 ? dirty : { x0: 0, y0: 0, x1: 0, y1: 0 };
  }
  private press(to: number, dab: Float64Array, from: number, count: number, pressure: number): void {
    const { dab: most, pressed } = this.most!;
    for (let k = 0; k < count; k++) {
      const v = dab[from + k];
      if (v > most[to + k]) most[to + k] = v;
      if (pressure * v > pressed[to + k]) pressed[to + k] = pressure * v;
    }
  }
  /** α over a rectangle within the bounds. */
  matte(rect: Rect): Matte {
    const w = rect.x1 - rect.x0;
    const bw = this.bounds.x1 - this.bounds.x0;
    const data = new Float64Array(Math.max(0, w * (rect.y1 - rect.y0)));
    for (let y = rect.y0; y < rect.y1; y++)
      for (let x = rect.x0; x < rect.x1; x++) {
        const i = (y - this.bounds.y0) * bw + x - this.bounds.x0;
        const pressure = this.most?.dab[i] ? this.most.pressed[i] / this.most.dab[i] : 1;
        data[(y - rect.y0) * w + x - rect.x0] = this.brush.opacity * pressure * (1 - this.clear[i]);
      }
    return { ...rect, data, outside: 0 };
  }
}

/** Whole pixels outside which a stroke lays nothing. */
export function strokeBounds(brush: Brush, path: readonly Point[]): Rect {
  const r = brush.size / 2 + 1;
  const across = brush.size / 2 / (brush.aspect ?? 1) + 1;
  const all = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (const [x, y] of path) {
    all.x0 = Math.min(all.x0, Math.floor(x - across));
    all.y0 = Math.min(all.y0, Math.floor(y - r));
    all.x1 = Math.max(all.x1, Math.ceil(x + across));
    all.y1 = Math.max(all.y1, Math.ceil(y + r));
  }
  return all;
}

/** The whole stroke's α within `field`. */
export function strokeMatte(brush: Brush, path: readonly Point[], field: Rect): Matte {
  const bounds = intersect(field, strokeBounds(brush, path));
  const stroke = new StrokeAlpha(brush, bounds);
  stroke.add(path);
  return stroke.matte(bounds);
}
