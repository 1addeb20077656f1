import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { sharing } from "./sharing";

describe("sharing", () => {
  it("gives what is the same, in the objects that were there, and nothing else", () => {
    fc.assert(
      fc.property(fc.jsonValue(), fc.jsonValue(), (a, b) => {
        expect(sharing(a, structuredClone(b))).toEqual(b);
        const again = sharing(a, structuredClone(a));
        if (typeof a === "object" && a !== null) expect(again).toBe(a);
      }),
      { numRuns: 300, seed: 6 },
    );
    const before = { layers: [{ mask: { points: [[1, 2]] } }, { mask: { points: [[3, 4]] } }], name: "x" };
    const next = structuredClone(before);
    next.layers[1].mask.points[0][1] = 5;
    const kept = sharing(before, next);
    expect(kept.layers[0]).toBe(before.layers[0]);
    expect(kept.layers[1]).not.toBe(before.layers[1]);
    expect(kept).toEqual(next);
  });
});
