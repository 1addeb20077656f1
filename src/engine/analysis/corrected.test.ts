import { describe, expect, it } from "vitest";
import type { CutoutData } from "../../core/cutout/cutout-data";
import { beyond, type Corrected, correctedAt } from "./corrected";

const [W, H] = [40, 30];
/** A block of 10 × 10 that goes to the right by a pixel a frame. */
const data: CutoutData = new Map(
  Array.from({ length: 9 }, (_, f) => [f, { rect: { x0: 5 + f, y0: 8, x1: 15 + f, y1: 18 }, alpha: () => new Uint8Array(100).fill(255) }]),
);
const brush = { size: 8, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 };
const corrected: Corrected = {
  data: "a".repeat(64),
  strokes: [
    { f: 4, brush, path: [[30, 13]] },
    { f: 4, brush, path: [[10, 13]], erase: true },
    { f: 6, brush, path: [[35, 25]] },
  ],
};

describe("a cut-out that was corrected", () => {
  it("is on that frame what was found and what was painted, less what was taken away; strokes of other frames do not count", () => {
    const at = correctedAt(4, corrected, data, { width: W, height: H });
    const is = (x: number, y: number) => at[y * W + x];
    expect([is(16, 13), is(18, 17), is(30, 13), is(10, 13), is(35, 25), is(2, 2)]).toEqual([1, 1, 1, 0, 0, 0]);
    // a disc of 8 px across lies over the block's left side by half of it, and one beside it
    const area = at.reduce((a, b) => a + b, 0);
    expect(Math.abs(area - 100)).toBeLessThan(100 - Math.PI * 16 + 12);
  });

  it("is kept on the frames that are not cut out anew", () => {
    expect(beyond(data, 3, 6).map(({ f }) => f)).toEqual([0, 1, 2, 7, 8]);
    expect(beyond(data, 3, 6)[3].rect.x0).toBe(12);
  });
});
