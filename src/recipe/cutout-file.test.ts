import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Cutouts } from "../core/cutout/cutout-data";
import type { CutoutShape, Mask } from "../core/document/mask";
import { maskMatte } from "../core/shape/mask";
import { over } from "../core/shape/matte";
import { packCutout, readCutout } from "./cutout-file";

describe("a cut-out as it is kept", () => {
  it("comes back as it was (property)", () => {
    const frame = fc.tuple(fc.integer({ min: 0, max: 99 }), fc.integer({ min: 0, max: 50 }), fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 9 })); // prettier-ignore
    fc.assert(
      fc.property(fc.uniqueArray(frame, { maxLength: 8, selector: ([f]) => f }), (list) => {
        const frames = list.map(([f, x, w, h]) => ({
          f,
          rect: { x0: x, y0: x + 1, x1: x + w, y1: x + 1 + h },
          alpha: Uint8Array.from({ length: w * h }, (_, i) => (37 * i + f) % 256),
        }));
        const back = readCutout(packCutout(frames));
        expect([...back.keys()]).toEqual(frames.map(({ f }) => f));
        for (const { f, rect, alpha } of frames) {
          expect(back.get(f)!.rect).toEqual(rect);
          expect(back.get(f)!.alpha()).toEqual(alpha);
        }
      }),
    );
  });
  it("is refused in a sentence where it is damaged", () => {
    const good = packCutout([{ f: 3, rect: { x0: 0, y0: 0, x1: 8, y1: 8 }, alpha: new Uint8Array(64).fill(200) }]);
    for (const bad of [new Uint8Array(0), new Uint8Array(40), good.subarray(0, good.length - 2)])
      expect(() => readCutout(bad)).toThrow("The cut-out is damaged: cut the thing out again.");
  });
});

describe("a cut-out in a mask", () => {
  const alpha = new Uint8Array(100).fill(255);
  alpha[0] = 51;
  const cutouts: Cutouts = new Map([["h", readCutout(packCutout([{ f: 4, rect: { x0: 10, y0: 6, x1: 20, y1: 16 }, alpha }]))]]);
  const shape: CutoutShape = { kind: "cutout", op: "add", data: "h" };
  const at = (mask: Mask, n: number, scale = 1) => {
    const [w, h] = [40 * scale, 30 * scale];
    const v = over(maskMatte(mask, n, w, h, scale, undefined, cutouts), { x0: 0, y0: 0, x1: w, y1: h });
    return (x: number, y: number) => v[y * w + x];
  };
  it("is what was measured of the frame, and nothing on others", () => {
    const m = at({ shapes: [shape] }, 4);
    expect([m(10, 6), m(11, 6), m(19, 15), m(20, 15), m(9, 6)]).toEqual([0.2, 1, 1, 0, 0]);
    expect(at({ shapes: [shape] }, 5)(15, 10)).toBe(0);
  });
  it("is averaged where the canvas is smaller", () => {
    expect(at({ shapes: [shape] }, 4, 0.5)(5, 3)).toBeCloseTo(0.8, 12);
    expect(at({ shapes: [shape] }, 4, 0.5)(6, 4)).toBe(1);
  });
  it("is corrected by strokes of its own frame alone", () => {
    const brush = { size: 6, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 };
    const strokes = [
      { f: 4, brush, path: [[30, 20] as [number, number]] },
      { f: 4, brush, path: [[15, 11] as [number, number]], erase: true },
      { f: 5, brush, path: [[5, 25] as [number, number]] },
    ];
    const m = at({ shapes: [{ ...shape, strokes }] }, 4);
    expect([m(30, 20), m(15, 11), m(11, 7), m(5, 25)]).toEqual([1, 0, 1, 0]);
    expect(at({ shapes: [{ ...shape, strokes }] }, 5)(5, 25)).toBe(1);
  });
  it("is held out last: after feather, grow and invert of the mask, by its own edge", () => {
    const box = { kind: "box", op: "add", center: [15, 11], size: [24, 16] } as const;
    const held: CutoutShape = { ...shape, op: "cut" };
    for (const mask of [
      { shapes: [held, box], feather: 8, grow: 3 },
      { shapes: [box, held], invert: true },
    ] as Mask[]) {
      const [m, without] = [at(mask, 4), at({ ...mask, shapes: mask.shapes.filter((s) => s !== held) }, 4)];
      for (const [x, y] of [
        [3, 3],
        [15, 11],
        [10, 6],
        [9, 6],
        [26, 20],
        [35, 25],
      ])
        // prettier-ignore
        expect(m(x, y)).toBeCloseTo(without(x, y) * (x >= 10 && x < 20 && y >= 6 && y < 16 ? (x === 10 && y === 6 ? 0.8 : 0) : 1), 9);
    }
  });
  it("cannot be shown where what was cut out is not there", () => {
    expect(() => at({ shapes: [{ ...shape, data: "gone" }] }, 4)).toThrow(/cut the thing out again/);
  });
});
