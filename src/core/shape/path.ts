import type { Outline } from "../document/geometry";

/** A closed polygon: x, y, x, y … */
export type Polygon = Float64Array;

/**
 * How far a flattened curve may lie from the true one, in pixels. The plan allows 0.05; at 0.004 the missing
 * slivers stay below a quarter of an 8-bit step along the edge.
 */
const TOLERANCE = 0.004;

/** Flattens a closed outline of corner points [x, y] and curve points [x, y, inDx, inDy, outDx, outDy]. */
export function flattenOutline(points: Outline, scale = 1): Polygon {
  const out: number[] = [];
  for (let i = 0; i < points.length; i++) {
    const a = points[i];
    const b = points[(i + 1) % points.length];
    const [x0, y0, x3, y3] = [a[0] * scale, a[1] * scale, b[0] * scale, b[1] * scale];
    out.push(x0, y0);
    const ox = (a[4] ?? 0) * scale;
    const oy = (a[5] ?? 0) * scale;
    const ix = (b[2] ?? 0) * scale;
    const iy = (b[3] ?? 0) * scale;
    if (!ox && !oy && !ix && !iy) continue;
    const [x1, y1, x2, y2] = [x0 + ox, y0 + oy, x3 + ix, y3 + iy];
    // Segments needed from the bound on the second difference (de Casteljau; Wang's formula, from memory).
    const dd = Math.max(Math.hypot(x0 - 2 * x1 + x2, y0 - 2 * y1 + y2), Math.hypot(x1 - 2 * x2 + x3, y1 - 2 * y2 + y3));
    const n = Math.min(2000, Math.max(1, Math.ceil(Math.sqrt((6 * dd) / (8 * TOLERANCE)))));
    for (let k = 1; k < n; k++) {
      const t = k / n;
      const u = 1 - t;
      const [c0, c1, c2, c3] = [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t];
      out.push(c0 * x0 + c1 * x1 + c2 * x2 + c3 * x3, c0 * y0 + c1 * y1 + c2 * y2 + c3 * y3);
    }
  }
  return Float64Array.from(out);
}

/** An ellipse about (cx, cy), turned clockwise by `angle` degrees. The polygon is scaled so that its area is the ellipse's. */
export function ellipsePolygon(cx: number, cy: number, rx: number, ry: number, angle: number): Polygon {
  const r = Math.max(Math.abs(rx), Math.abs(ry), 1e-6);
  const n = Math.min(4000, Math.max(16, Math.ceil(Math.PI / Math.acos(Math.max(0.5, 1 - TOLERANCE / r)))));
  const k = Math.sqrt((2 * Math.PI) / (n * Math.sin((2 * Math.PI) / n)));
  return turned(
    Float64Array.from({ length: 2 * n }, (_, i) => {
      const t = (2 * Math.PI * (i >> 1)) / n;
      return i & 1 ? k * Math.abs(ry) * Math.sin(t) : k * Math.abs(rx) * Math.cos(t);
    }),
    cx,
    cy,
    angle,
  );
}

/** A box about (cx, cy); `round` 0–1 is the corner's radius as a share of half the shorter side. */
export function boxPolygon(cx: number, cy: number, w: number, h: number, angle: number, round: number): Polygon {
  const hx = Math.abs(w) / 2;
  const hy = Math.abs(h) / 2;
  const r = Math.min(1, Math.max(0, round)) * Math.min(hx, hy);
  if (r < 1e-9) return turned(Float64Array.of(-hx, -hy, hx, -hy, hx, hy, -hx, hy), cx, cy, angle);
  const n = Math.min(1000, Math.max(4, Math.ceil(Math.PI / 2 / (2 * Math.acos(Math.max(0.5, 1 - TOLERANCE / r))))));
  const out: number[] = [];
  const corners = [
    [hx - r, -hy + r, -90],
    [hx - r, hy - r, 0],
    [-hx + r, hy - r, 90],
    [-hx + r, -hy + r, 180],
  ];
  for (const [x, y, from] of corners)
    for (let i = 0; i <= n; i++) {
      const t = ((from + (90 * i) / n) * Math.PI) / 180;
      out.push(x + r * Math.cos(t), y + r * Math.sin(t));
    }
  return turned(Float64Array.from(out), cx, cy, angle);
}

function turned(p: Polygon, cx: number, cy: number, degrees: number): Polygon {
  const c = Math.cos((degrees * Math.PI) / 180);
  const s = Math.sin((degrees * Math.PI) / 180);
  for (let i = 0; i < p.length; i += 2) {
    const [x, y] = [p[i], p[i + 1]];
    p[i] = cx + c * x - s * y;
    p[i + 1] = cy + s * x + c * y;
  }
  return p;
}
