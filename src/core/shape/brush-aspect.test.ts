import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Brush } from "../document/touch";
import { dabAlpha, strokeBounds, strokeMatte } from "./stroke";

const brush = (more: Partial<Brush>): Brush => ({ size: 24, hardness: 1, opacity: 1, flow: 1, spacing: 0.1, ...more });
const dab = { x: 60, y: 50, pressure: 1 };

describe("a brush on pixels that are not square", () => {
  it.each([0.5, 1, 12 / 11, 4 / 3, 2])("hard, it covers a circle's area less by the aspect of %d, and is as high as ever", (aspect) => {
    const d = dabAlpha(brush({ aspect }), dab);
    const w = d.x1 - d.x0;
    const area = d.data.reduce((a, v) => a + v, 0);
    expect(Math.abs(area / ((Math.PI * 144) / aspect) - 1)).toBeLessThan(0.005);
    const column = Array.from({ length: d.y1 - d.y0 }, (_, y) => d.data[y * w + 60 - d.x0]).filter((v) => v > 0.5).length;
    const row = Array.from({ length: w }, (_, x) => d.data[(50 - d.y0) * w + x]).filter((v) => v > 0.5).length;
    expect(column).toBe(24);
    expect(Math.abs(row - 24 / aspect)).toBeLessThanOrEqual(1);
  });
  it("soft, a sample's α is that of the round brush as far from its middle as on the screen", () => {
    const [wide, round] = [dabAlpha(brush({ aspect: 2, hardness: 0.3 }), dab), dabAlpha(brush({ hardness: 0.3 }), { ...dab, x: 60.5, y: 50 })];
    const at = (d: typeof wide, x: number, y: number) => (x < d.x0 || x >= d.x1 ? 0 : d.data[(y - d.y0) * (d.x1 - d.x0) + x - d.x0]);
    // pixel 60 + k of the squeezed one lies 2k + 1 from the middle, pixel 60 + 2k + 1 of the round one as far
    for (let k = 0; k < 6; k++) expect(at(wide, 60 + k, 44)).toBeCloseTo(at(round, 60 + 2 * k + 1, 44), 9);
  });
  it("lays nothing outside its bounds, whichever way pixels are stretched (property)", () => {
    const place = fc.double({ min: 20, max: 100, noNaN: true });
    fc.assert(
      fc.property(fc.double({ min: 0.3, max: 3, noNaN: true }), fc.array(fc.tuple(place, place), { minLength: 1, maxLength: 4 }), (aspect, path) => {
        const b = brush({ aspect, hardness: 0.5 });
        const bounds = strokeBounds(b, path);
        const all = strokeMatte(b, path, { x0: -100, y0: -100, x1: 300, y1: 300 });
        expect([all.x0 >= bounds.x0, all.x1 <= bounds.x1, all.y0 >= bounds.y0, all.y1 <= bounds.y1]).toEqual([true, true, true, true]);
        // and they are no larger than a pixel or two around what is laid
        const [first] = path;
        expect(bounds.x1 - bounds.x0).toBeLessThan(24 / aspect + 4 + Math.max(...path.map((p) => Math.abs(p[0] - first[0]))) * 2);
      }),
      { numRuns: 60 },
    );
  });
});
