import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { random } from "../random";
import { boundaryOf, winding } from "./boundary";

/**
 * The winding number by the angle an outline sweeps as seen from a point (definition of the winding number; Sunday 2001 names it the
 * oldest way): nothing of it is shared with the code that is tested.
 */
function swept(poly: Float64Array, x: number, y: number): number {
  let sum = 0;
  for (let i = 0, n = poly.length; i < n; i += 2) {
    const [ax, ay, bx, by] = [poly[i] - x, poly[i + 1] - y, poly[(i + 2) % n] - x, poly[(i + 3) % n] - y];
    sum += Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
  }
  return Math.round(sum / (2 * Math.PI));
}
const distance = (poly: Float64Array, x: number, y: number) => {
  let least = Infinity;
  for (let i = 0, n = poly.length; i < n; i += 2) {
    const [ax, ay, bx, by] = [poly[i], poly[i + 1], poly[(i + 2) % n], poly[(i + 3) % n]];
    const l2 = (bx - ax) ** 2 + (by - ay) ** 2;
    const t = l2 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / l2)) : 0;
    least = Math.min(least, Math.hypot(ax + t * (bx - ax) - x, ay + t * (by - ay) - y));
  }
  return least;
};

/** Inside is where the outline winds at all; the boundary found has to wind there once, and nowhere else. */
function check(poly: Float64Array, size: number, seed: number, points = 40): void {
  const edges = boundaryOf(poly);
  const rnd = random(seed);
  for (let i = 0; i < points; i++) {
    const [x, y] = [rnd() * size, rnd() * size];
    if (distance(poly, x, y) < 1e-3) continue;
    expect(Math.abs(winding(edges, x, y))).toBe(swept(poly, x, y) === 0 ? 0 : 1);
  }
}

describe("the boundary of an outline that crosses itself", () => {
  it("winds once where the outline winds at all, wherever its points lie", () => {
    // sixty-fourths: finer than any hand, coarser than what is told apart here
    const point = fc.tuple(fc.nat(6400), fc.nat(6400));
    fc.assert(
      fc.property(fc.array(point, { minLength: 3, maxLength: 40 }), fc.nat(), (points, seed) =>
        check(Float64Array.from(points.flat(), (v) => v / 64), 100, seed),
      ), // prettier-ignore
      { numRuns: 300 },
    );
  });

  it("also on a coarse grid, where edges touch, meet and run over each other", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(6), fc.nat(6)), { minLength: 3, maxLength: 24 }), fc.nat(), (points, seed) =>
        check(Float64Array.from(points.flat()), 6, seed),
      ),
      { numRuns: 600 },
    );
  });

  it("of a star of 1500 points, each edge crossed by nearly all others", () => {
    const n = 1500;
    const star = new Float64Array(2 * n);
    for (let i = 0; i < n; i++) {
      const a = (2 * Math.PI * i * (n / 2 - 7)) / n;
      star[2 * i] = 50 + 45 * Math.cos(a) * (1 + 0.08 * Math.sin(1.7 * i));
      star[2 * i + 1] = 50 + 45 * Math.sin(a) * (1 + 0.08 * Math.cos(3.1 * i));
    }
    check(star, 100, 3, 200);
  });
});
