import bezierEasing from "bezier-easing";
import fc from "fast-check";
import Timecode from "smpte-timecode";
import { describe, expect, it } from "vitest";
import { easeAt } from "./easing";
import { isKeyed, type Keyed, KeyShapeError, valueAt, withKey, withoutKey, withValue } from "./keyed";
import { fromTimecode, toTimecode } from "./timecode";

describe("easing", () => {
  it("agrees with the bezier-easing package on random curves and times", () => {
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    const any = fc.double({ min: -2, max: 3, noNaN: true });
    fc.assert(
      fc.property(unit, any, unit, any, unit, (x1, y1, x2, y2, t) => {
        // the package inverts x to about 1e-7 of the curve's parameter; where x is flat its y may be off by more
        const slack = 2e-3;
        expect(Math.abs(easeAt([x1, y1, x2, y2], t) - bezierEasing(x1, y1, x2, y2)(t))).toBeLessThan(slack);
      }),
      { numRuns: 400, seed: 7 },
    );
  });
  it("has the keyword curves of CSS Easing Functions Level 1 (values at ½ from memory of browsers' implementations)", () => {
    expect(easeAt([0.25, 0.1, 0.25, 1], 0.5)).toBeCloseTo(0.8024, 3); // ease
    expect(easeAt([0.42, 0, 1, 1], 0.5)).toBeCloseTo(0.3154, 3); // ease-in
    expect(easeAt([0, 0, 0.58, 1], 0.5)).toBeCloseTo(0.6846, 3); // ease-out
    expect(easeAt([0.42, 0, 0.58, 1], 0.5)).toBeCloseTo(0.5, 9); // ease-in-out is symmetric
    expect([0, 0.3, 0.999, 1].map((t) => easeAt("step", t))).toEqual([0, 0, 0, 1]);
  });
});

describe("keyed values", () => {
  const k: Keyed<number> = {
    keys: [
      { f: 10, v: 0 },
      { f: 20, v: 1, ease: "step" },
      { f: 30, v: 5 },
    ],
  };
  it("holds before the first and after the last key, and leaves each key by its ease", () => {
    expect([0, 10, 15, 20, 29, 30, 99].map((n) => valueAt(k, n))).toEqual([0, 0, 0.5, 1, 1, 5, 5]);
  });
  it("mixes outlines point by point, and a corner with a curve point", () => {
    const o: Keyed<readonly number[][]> = {
      keys: [
        {
          f: 0,
          v: [
            [0, 0],
            [4, 0],
          ],
        },
        {
          f: 4,
          v: [
            [8, 4],
            [4, 0, 1, 2, 3, 4],
          ],
        },
      ],
    };
    expect(valueAt(o, 1)).toEqual([
      [2, 1],
      [4, 0, 0.25, 0.5, 0.75, 1],
    ]);
  });
  it("names both frames when outlines have different numbers of points", () => {
    const o: Keyed<readonly number[][]> = {
      keys: [
        {
          f: 3,
          v: [
            [0, 0],
            [1, 1],
          ],
        },
        { f: 9, v: [[0, 0]] },
      ],
    };
    expect(() => valueAt(o, 5)).toThrow(KeyShapeError);
    expect(() => valueAt(o, 5)).toThrow(/2 points at frame 3 and 1 at frame 9/);
  });
  it("a list is not taken for keys, and setting, adding and removing keys keeps their order", () => {
    expect(isKeyed([1, 2] as unknown as Keyed<number>)).toBe(false);
    expect(withValue(k, 15, 7)).toMatchObject({ keys: [{ f: 10 }, { f: 15, v: 7 }, { f: 20 }, { f: 30 }] });
    expect(withValue(3, 15, 7)).toBe(7);
    expect(withKey(0.5, 4)).toEqual({ keys: [{ f: 4, v: 0.5 }] });
    expect(withoutKey({ keys: [{ f: 4, v: 0.5 }] }, 4)).toBe(0.5);
  });
});

describe("timecode", () => {
  it("has the published drop-frame cases of SMPTE ST 12-1 (common practice; numbers from memory)", () => {
    const r = [30000, 1001] as const;
    expect(toTimecode(1799, r, true)).toBe("00:00:59;29");
    expect(toTimecode(1800, r, true)).toBe("00:01:00;02"); // ;00 and ;01 are left out
    expect(toTimecode(17982, r, true)).toBe("00:10:00;00"); // but not in every tenth minute
    expect(toTimecode(107892, r, true)).toBe("01:00:00;00");
    expect(fromTimecode("00:01:00;02", r)).toBe(1800);
    expect(() => fromTimecode("00:01:00;00", r)).toThrow(/leaves out/);
    expect(toTimecode(24 * 3600 * 10 + 24 * 260, [24, 1])).toBe("10:04:20:00");
    expect(() => fromTimecode("10:04", [24, 1])).toThrow(/not a timecode/);
  });
  it("agrees with the smpte-timecode package on random frames, and reads back what it wrote", () => {
    for (const [rate, name, drop] of [
      [[24, 1], 24, false],
      [[25, 1], 25, false],
      [[30000, 1001], 29.97, true],
      [[60000, 1001], 59.94, true],
      [[30, 1], 30, false],
    ] as const) {
      fc.assert(
        fc.property(fc.integer({ min: 0, max: 2_000_000 }), (n) => {
          const text = toTimecode(n, rate, drop);
          expect(text).toBe(new Timecode(n, name, drop).toString());
          expect(fromTimecode(text, rate)).toBe(n);
        }),
        { numRuns: 200, seed: 3 },
      );
    }
  });
});
