import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { keptPoints } from "../../../core/shape/simplify";
import { leaks, thinned } from "../seen";

const square = (step: number): number[][] => {
  const out: number[][] = [];
  for (let t = 0; t < 400; t += step) {
    const [side, at] = [Math.floor(t / 100), t % 100];
    out.push([[at, 0], [100, at], [100 - at, 100], [0, 100 - at]][side]); // prettier-ignore
  }
  return out;
};

describe("a free-hand loop", () => {
  it("is thinned to its corners, and closes by itself", () => {
    const points = thinned(square(2));
    expect(points.length).toBeLessThan(7);
    for (const corner of [
      [0, 0],
      [100, 0],
      [100, 100],
      [0, 100],
    ])
      // prettier-ignore
      expect(points.some(([x, y]) => Math.hypot(x - corner[0], y - corner[1]) < 3)).toBe(true);
    expect(thinned([[0, 0], [1, 1]])).toEqual([]); // prettier-ignore
  });

  it("stays within the limit everywhere", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 300 })), { minLength: 3, maxLength: 40 }), (ring) => {
        const off = (a: number, b: number, i: number) => {
          const [ax, ay, bx, by] = [...ring[a], ...ring[b]];
          const length = Math.hypot(bx - ax, by - ay);
          return length
            ? Math.abs((bx - ax) * (ay - ring[i][1]) - (ax - ring[i][0]) * (by - ay)) / length
            : Math.hypot(ring[i][0] - ax, ring[i][1] - ay);
        };
        const kept = keptPoints(ring.length, 3, off);
        expect([kept[0], kept.at(-1)]).toEqual([0, ring.length - 1]);
        for (let k = 1; k < kept.length; k++)
          for (let i = kept[k - 1] + 1; i < kept[k]; i++) expect(off(kept[k - 1], kept[k], i)).toBeLessThanOrEqual(3);
      }),
    );
  });
});

describe("leaks", () => {
  const seen = { at: 20, outline: [[0, 0], [1, 0], [0, 1]], measured: { in: 10, out: 30, worst: 20 } }; // prettier-ignore
  const layer = (a: number, b: number, on = true) => ({ in: a, out: b, on });

  it("are the frames in which a thing is seen and nothing covers it", () => {
    expect(leaks({ seen, layers: [] }, 0, 50)).toEqual([[10, 30]]);
    expect(leaks({ seen, layers: [layer(12, 20), layer(22, 28)] }, 0, 50)).toEqual([[10, 11], [21, 21], [29, 30]]); // prettier-ignore
    expect(leaks({ seen, layers: [layer(0, 50)] }, 0, 50)).toEqual([]);
    expect(leaks({ seen, layers: [layer(0, 50, false)] }, 0, 50)).toEqual([[10, 30]]);
    expect(leaks({ seen, on: false, layers: [layer(0, 50)] }, 0, 50)).toEqual([[10, 30]]);
  });

  it("go by what was set by hand, stay within the shot, and are not known of what was never looked for", () => {
    expect(leaks({ seen: { ...seen, out: 33 }, layers: [layer(10, 30)] }, 0, 50)).toEqual([[31, 33]]);
    expect(leaks({ seen, layers: [] }, 15, 25)).toEqual([[15, 25]]);
    expect(leaks({ layers: [] }, 0, 50)).toEqual([]);
  });
});
