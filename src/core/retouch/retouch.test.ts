import { describe, expect, it } from "vitest";
import { noise, recipeWith, YUV420 } from "../../../testkit/pictures";
import type { Brush, Touch } from "../document/touch";
import { bytesOf } from "../pixels/frame";
import { DabWalker, dabAlpha, strokeMatte } from "../shape/stroke";
import { evaluatePlate, type FileRef, platePictures } from "./plate";

const brush: Brush = { size: 20, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 };
const FIELD = { x0: 0, y0: 0, x1: 80, y1: 60 };
const clone = (more: Partial<Touch> = {}): Touch => ({ id: "t", kind: "clone", brush, path: [[30, 30]], offset: [12, 6], ...more });
const list = [0, 1, 2].map((i) => noise(80, 60, YUV420, 40 + i));
const take = (r: FileRef) => list["take" in r ? r.frame : 0];
const plate = (touches: Touch[]) =>
  evaluatePlate(
    recipeWith([], { plates: { p: { from: { take: "a", frame: 0 }, touches }, q: { from: { take: "a", frame: 2 }, touches: [] } } }),
    "p",
    take,
    "left",
  );

describe("brush", () => {
  it("lays a dab at the start and one every spacing × size of arc length, across corners", () => {
    const w = new DabWalker({ ...brush, size: 10, spacing: 0.5 });
    const at = [
      [0, 0],
      [12, 0],
      [12, 9],
    ]
      .flatMap((p) => w.to(p))
      .map((d) => [d.x, d.y]);
    expect(at).toEqual([
      [0, 0],
      [5, 0],
      [10, 0],
      [12, 3],
      [12, 8],
    ]);
  });
  it("is the exact disc at hardness 1, and below it one up to hardness × r, then smoothstep", () => {
    const disc = dabAlpha(brush, { x: 30.3, y: 30.1, pressure: 1 });
    expect(disc.data.reduce((a, b) => a + b, 0)).toBeCloseTo(Math.PI * 100, 6);
    const soft = dabAlpha({ ...brush, hardness: 0.4 }, { x: 30.5, y: 30.5, pressure: 1 });
    const w = soft.x1 - soft.x0;
    const v = (dx: number) => soft.data[(30 - soft.y0) * w + 30 + dx - soft.x0];
    expect(v(4)).toBe(1);
    expect(v(7)).toBeCloseTo(0.5, 12);
    expect(v(10) || 0).toBe(0);
  });
  it("builds up within a stroke as 1 − Π(1 − flow · dab), then opacity", () => {
    const b = { ...brush, flow: 0.3, opacity: 0.5, spacing: 0.25 };
    const m = strokeMatte(
      b,
      [
        [30, 30],
        [35, 30],
      ],
      FIELD,
    ); // two dabs, 5 px apart
    expect(m.data[(30 - m.y0) * (m.x1 - m.x0) + 32 - m.x0]).toBeCloseTo(0.5 * (1 - 0.7 * 0.7), 9);
  });
  it("takes pressure on size and opacity where asked", () => {
    expect(dabAlpha({ ...brush, pressure: { size: true } }, { x: 30, y: 30, pressure: 0.5 }).data.reduce((a, b) => a + b, 0)).toBeCloseTo(
      Math.PI * 25,
      6,
    );
    const m = strokeMatte({ ...brush, pressure: { opacity: true } }, [[30, 30, 0.25]], FIELD);
    expect(m.data[(30 - m.y0) * (m.x1 - m.x0) + 30 - m.x0]).toBeCloseTo(0.25, 9);
  });
  it("dabs that overlap under a light pen stay light, whatever their spacing", () => {
    const at = (m: { x0: number; y0: number; x1: number; data: Float64Array }, x: number, y: number) => m.data[(y - m.y0) * (m.x1 - m.x0) + x - m.x0];
    for (const spacing of [0.02, 0.1, 0.5])
      for (const hardness of [1, 0.3]) {
        const b = { ...brush, spacing, hardness };
        const path = [[20, 30], [60, 30]]; // prettier-ignore
        const plain = strokeMatte(b, path, FIELD);
        const pressed = (p: number) => strokeMatte({ ...b, pressure: { opacity: true } }, path.map((q) => [...q, p]), FIELD); // prettier-ignore
        expect(pressed(1).data).toEqual(plain.data);
        for (const p of [0.1, 0.4]) pressed(p).data.forEach((v, i) => expect(Math.abs(v - p * plain.data[i])).toBeLessThan(1e-9));
        // from light to full along the way: what is there at each end, rising between
        const rising = strokeMatte({ ...b, pressure: { opacity: true } }, [[20, 30, 0.2], [60, 30, 1]], FIELD); // prettier-ignore
        const along = [20, 30, 40, 50, 60].map((x) => at(rising, x, 30));
        expect(along[0]).toBeLessThan(0.5);
        expect(along[4]).toBeGreaterThan(0.9);
        along.slice(1).forEach((v, i) => expect(v).toBeGreaterThan(along[i]));
      }
  });
  it("keeps its spacing however small the brush is", () => {
    // against dabs laid one by one, spacing × size apart: 1 − Π(1 − dab)
    const b = { ...brush, size: 2, hardness: 0, spacing: 0.05 };
    const m = strokeMatte(b, [[30, 30], [32.05, 30]], FIELD); // prettier-ignore
    const clear = new Float64Array(80 * 60).fill(1);
    for (let k = 0; k <= 20; k++) {
      const d = dabAlpha(b, { x: 30 + 0.1 * k, y: 30, pressure: 1 });
      for (let i = 0; i < d.data.length; i++) clear[(d.y0 + Math.floor(i / (d.x1 - d.x0))) * 80 + d.x0 + (i % (d.x1 - d.x0))] *= 1 - d.data[i];
    }
    m.data.forEach((v, i) => expect(v).toBeCloseTo(1 - clear[(m.y0 + Math.floor(i / (m.x1 - m.x0))) * 80 + m.x0 + (i % (m.x1 - m.x0))], 6));
  });
});

describe("touches", () => {
  it("clone copies samples from p + offset, and leaves the rest alone", () => {
    const out = plate([clone()]);
    expect(out.planes[0].data[30 * 80 + 30]).toBe(list[0].planes[0].data[36 * 80 + 42]);
    expect(out.planes[1].data[15 * 40 + 15]).toBe(list[0].planes[1].data[18 * 40 + 21]);
    expect(out.planes[0].data[5 * 80 + 5]).toBe(list[0].planes[0].data[5 * 80 + 5]);
  });
  it("a stroke reads the picture as it was before itself", () => {
    const out = plate([
      clone({
        path: [
          [20, 30],
          [50, 30],
        ],
        offset: [-10, 0],
      }),
    ]);
    for (let x = 25; x < 50; x++) expect(out.planes[0].data[30 * 80 + x]).toBe(list[0].planes[0].data[30 * 80 + x - 10]);
  });
  it("uncover shows another frame or plate, restore the original", () => {
    expect(plate([clone({ kind: "uncover", offset: undefined, source: { take: "a", frame: 1 } })]).planes[0].data[30 * 80 + 30]).toBe(
      list[1].planes[0].data[30 * 80 + 30],
    );
    expect(plate([clone({ kind: "uncover", offset: undefined, source: { plate: "q" } })]).planes[0].data[30 * 80 + 30]).toBe(
      list[2].planes[0].data[30 * 80 + 30],
    );
    const back = plate([clone(), clone({ id: "r", kind: "restore", brush: { ...brush, size: 30 } })]);
    expect(bytesOf(back)).toEqual(bytesOf(list[0]));
  });
  it("stays inside its fence, and out when switched off", () => {
    const out = plate([
      clone({
        fence: [
          [
            [0, 0],
            [30, 0],
            [30, 60],
            [0, 60],
          ],
        ],
      }),
    ]);
    expect(out.planes[0].data[30 * 80 + 25]).toBe(list[0].planes[0].data[36 * 80 + 37]);
    expect(out.planes[0].data[30 * 80 + 33]).toBe(list[0].planes[0].data[30 * 80 + 33]);
    expect(plate([clone({ on: false })])).toBe(list[0]);
  });
  it("names what it cannot do, and circles of plates", () => {
    expect(() => plate([clone({ frames: [1, 2] })])).toThrow(/A stretch of frames for a plate's touch .* is not supported yet/);
    const r = recipeWith([], {
      plates: {
        p: { from: { take: "a", frame: 0 }, touches: [clone({ kind: "uncover", source: { plate: "q" } })] },
        q: { from: { take: "a", frame: 1 }, touches: [clone({ kind: "uncover", source: { plate: "p" } })] },
      },
    });
    expect(() => platePictures(r, "p")).toThrow(/“p” → “q” → “p” need each other in a circle/);
  });
});
