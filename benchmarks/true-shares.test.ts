import { describe, expect, it } from "vitest";
import { shareAsCoded } from "./true-shares";

describe("what a film's codes show of a pixel that is covered in part", () => {
  it("nothing and all stay what they are, and more covered is more (property)", () => {
    for (const [thing, ground] of [
      [0.1, 0.7],
      [0.9, 0.2],
      [0.05, 0.06],
      [1, 0],
    ] as const) {
      // prettier-ignore
      expect(shareAsCoded(0, thing, ground)).toBeCloseTo(0, 12);
      expect(shareAsCoded(1, thing, ground)).toBeCloseTo(1, 12);
      for (let k = 0; k < 20; k++) expect(shareAsCoded((k + 1) / 20, thing, ground)).toBeGreaterThan(shareAsCoded(k / 20, thing, ground));
    }
  });

  it("half of black before white is 0.705 of white's code by BT.709's curve (item 1.2: 1.099 · 0.5^0.45 − 0.099), and the other way round", () => {
    expect(shareAsCoded(0.5, 0, 1)).toBeCloseTo(1 - 0.7055, 3);
    expect(shareAsCoded(0.5, 1, 0)).toBeCloseTo(0.7055, 3);
  });
});
