import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { offStage, onStage, type Quarter, stageSize } from "./zoom";

describe("a take as it is shown", () => {
  const shape = fc.record({ quarter: fc.constantFrom<Quarter>(0, 90, 180, 270), aspect: fc.double({ min: 0.3, max: 3, noNaN: true }) });
  const place = fc.double({ min: -50, max: 900, noNaN: true });
  it("a point of the viewer is a point of its stage, and that one the same again, turned and stretched (property)", () => {
    fc.assert(
      fc.property(shape, place, place, (s, x, y) => {
        const size = { w: 800, h: 500 };
        const [u, v] = onStage(s, size, x, y);
        const [px, py] = offStage(s, size, u, v);
        expect(Math.hypot(px - x, py - y)).toBeLessThan(1e-6);
      }),
    );
  });
  it("of pixels twice as wide as high a step of one sample is two points wide, and one high", () => {
    const s = { quarter: 0, aspect: 2 } as const;
    const size = { w: 800, h: 500 };
    expect(stageSize(s, 800, 500)).toEqual({ w: 400, h: 500 });
    const [a, b] = [offStage(s, size, 100, 100), offStage(s, size, 110, 110)];
    expect([b[0] - a[0], b[1] - a[1]]).toEqual([20, 10]);
    const turned = { quarter: 90, aspect: 2 } as const;
    const [c, d] = [offStage(turned, size, 100, 100), offStage(turned, size, 110, 100)];
    expect([Math.round(d[0] - c[0]), Math.round(d[1] - c[1])]).toEqual([0, 20]);
  });
});
