import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { axisOf, within, zoomed } from "./axis";

describe("the time axis", () => {
  it("zooming keeps the frame under the pointer where it is, within the shot", () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 95, noNaN: true }), fc.double({ min: 0.1, max: 0.9, noNaN: true }), (at, factor) => {
        const span = zoomed({ from: 0, to: 95 }, factor, at, 0, 95);
        if (!span) return;
        expect(span.from).toBeGreaterThanOrEqual(-1e-9);
        expect(span.to).toBeLessThanOrEqual(95 + 1e-9);
        const [a, b] = [axisOf(0, 95, 1000, 0, 95).x(at), axisOf(span.from, span.to, 1000, 0, 95).x(at)];
        // except where the shot's end holds it back
        if (span.from > 0.01 && span.to < 94.99) expect(b).toBeCloseTo(a, 4);
      }),
    );
    expect(within({ from: -3, to: 10 }, 0, 95)).toEqual({ from: 0, to: 13 });
  });
});
