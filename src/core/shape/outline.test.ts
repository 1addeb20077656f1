import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fitLoop } from "./fit";
import { nearestOn, scaleTurn, segmentAt, segmentOf, smoothed, transformed, withArm, withoutPoint, withPoint } from "./outline";
import { flattenOutline } from "./path";

const number = fc.double({ min: -300, max: 900, noNaN: true });
const arm = fc.integer({ min: -80, max: 80 });
const point = fc.oneof(fc.tuple(number, number), fc.tuple(number, number, arm, arm, arm, arm));
const outline = fc.array(point, { minLength: 3, maxLength: 9 });

/** Points along the whole outline, `per` to a segment. */
const walk = (o: readonly (readonly number[])[], per = 16) =>
  o.flatMap((_, i) => Array.from({ length: per }, (_x, k) => segmentAt(segmentOf(o, i), k / per)));
/** The farthest that points of one outline lie from another. */
const apart = (a: number[][], b: number[][]) => Math.max(...walk(a).map(([x, y]) => nearestOn(b, x, y).distance));
const area = (o: readonly (readonly number[])[]) => {
  const p = flattenOutline(o);
  let s = 0;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) s += p[j] * p[i + 1] - p[i] * p[j + 1];
  return s / 2;
};

describe("points of an outline", () => {
  it("a point is put in without changing the shape, wherever it is put", () => {
    fc.assert(
      fc.property(outline, fc.nat(), fc.double({ min: 0.02, max: 0.98, noNaN: true }), (o, k, t) => {
        const i = k % o.length;
        const more = withPoint(o, i, t);
        expect(more).toHaveLength(o.length + 1);
        const [x, y] = segmentAt(segmentOf(o, i), t);
        expect(Math.hypot(more[i + 1][0] - x, more[i + 1][1] - y)).toBeLessThan(0.002);
        const [a, b] = [o[i], o[(i + 1) % o.length]];
        const straight = [a, b].every((p) => p.slice(2).every((v) => v === 0));
        for (let m = 0; m <= 10; m++) {
          const [bx, by] = segmentAt(segmentOf(more, i), m / 10);
          // a curve has the same places at the parameters that belong to each other
          const [ax, ay] = segmentAt(segmentOf(o, i), (m / 10) * t);
          if (!straight) expect(Math.hypot(ax - bx, ay - by)).toBeLessThan(0.02);
          else
            expect(Math.abs((b[0] - a[0]) * (by - a[1]) - (b[1] - a[1]) * (bx - a[0]))).toBeLessThan(
              0.02 * (1 + Math.hypot(b[0] - a[0], b[1] - a[1])),
            );
        }
      }),
      { numRuns: 200, seed: 11 },
    );
  });

  it("taken out again, a point that was put in leaves the outline where it was", () => {
    const o = [[100, 100, -40, 10, 40, -10], [300, 120, -30, -50, 30, 50], [220, 300, 50, 0, -50, 0]]; // prettier-ignore
    for (const t of [0.3, 0.5, 0.8]) expect(apart(withoutPoint(withPoint(o, 1, t), 2), o)).toBeLessThan(0.35);
    expect(() => withoutPoint(o, 0)).toThrow(/at least three points/);
  });

  it("a corner made smooth has arms in one line; an arm drawn together turns the other, alone it does not", () => {
    const square = [[0, 0], [90, 0], [90, 90], [0, 90]]; // prettier-ignore
    const [, p] = smoothed(square, 1);
    expect(p[2] * p[5] - p[3] * p[4]).toBeCloseTo(0, 6);
    expect(Math.hypot(p[2], p[3])).toBeCloseTo(30, 2);
    const both = withArm(smoothed(square, 1), 1, "out", 0, 12, false)[1];
    expect(both.slice(2)).toEqual([0, -30, 0, 12]);
    const alone = withArm(smoothed(square, 1), 1, "out", 0, 12, true)[1];
    expect(alone.slice(2, 4)).toEqual(p.slice(2, 4));
  });

  it("scaled and turned about a pivot, area grows by the product of both factors and the pivot stays", () => {
    fc.assert(
      fc.property(
        outline,
        number,
        number,
        fc.double({ min: 0.2, max: 4, noNaN: true }),
        fc.integer({ min: -180, max: 180 }),
        (o, px, py, k, turn) => {
          const m = scaleTurn(px, py, k, 1.5 * k, turn);
          expect(transformed([[px, py]], m)[0][0]).toBeCloseTo(px, 2);
          const [was, now] = [area(o), area(transformed(o, m))];
          expect(Math.abs(now - was * k * 1.5 * k)).toBeLessThan(1 + Math.abs(was) * 0.01 * k * k);
        },
      ),
      { numRuns: 80, seed: 5 },
    );
  });
});

describe("a loop drawn by hand", () => {
  const drawn = (at: (t: number) => [number, number], n: number, shake: number) =>
    Array.from({ length: n }, (_, i) => {
      const [x, y] = at((2 * Math.PI * i) / n);
      return [x + shake * Math.sin(i * 2.399), y + shake * Math.cos(i * 3.7)];
    });

  it("becomes a few curve points that lie on what was drawn", () => {
    const loop = drawn((t) => [400 + 160 * Math.cos(t), 300 + 90 * Math.sin(t) + 20 * Math.sin(3 * t)], 240, 0.6);
    const o = fitLoop(loop, 2);
    expect(o.length).toBeGreaterThanOrEqual(3);
    expect(o.length).toBeLessThanOrEqual(12);
    for (const [x, y] of loop) expect(nearestOn(o, x, y).distance).toBeLessThan(3);
  });

  it("keeps sharp corners sharp", () => {
    const side = (a: [number, number], b: [number, number]) =>
      Array.from({ length: 40 }, (_, i) => [a[0] + ((b[0] - a[0]) * i) / 40, a[1] + ((b[1] - a[1]) * i) / 40]);
    const box = [...side([100, 100], [300, 100]), ...side([300, 100], [300, 220]), ...side([300, 220], [100, 220]), ...side([100, 220], [100, 100])];
    const o = fitLoop(box, 1.5);
    expect(o.length).toBeLessThanOrEqual(6);
    for (const [x, y] of [
      [100, 100],
      [300, 100],
      [300, 220],
      [100, 220],
    ])
      // prettier-ignore
      expect(Math.min(...o.map((p) => Math.hypot(p[0] - x, p[1] - y)))).toBeLessThan(2.5);
  });

  it("is nothing where nothing was drawn, and an outline of three points where it is small and round", () => {
    expect(fitLoop([[1, 1], [1, 1]], 2)).toEqual([]); // prettier-ignore
    const o = fitLoop(
      drawn((t) => [50 + 6 * Math.cos(t), 50 + 6 * Math.sin(t)], 30, 0),
      2,
    );
    expect(o.length).toBeGreaterThanOrEqual(3);
    expect(Math.abs(area(o))).toBeGreaterThan(0.85 * Math.PI * 36);
  });
});
