import type { Point } from "../document/geometry";

/** The convex hull of some points, by monotone chains (Andrew 1979). */
export function convexHull(points: readonly Point[]): Point[] {
  const list = points.toSorted((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (of: Point[]) => {
    const out: Point[] = [];
    for (const p of of) {
      while (out.length > 1) {
        const [a, b] = out.slice(-2);
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0) break;
        out.pop();
      }
      out.push(p);
    }
    return out.slice(0, -1);
  };
  return [...half(list), ...half(list.toReversed())];
}
