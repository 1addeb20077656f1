import { describe, expect, it } from "vitest";
import { YUV420, YUV444, noise } from "../../../testkit/pictures";
import type { Brush, Touch } from "../document/touch";
import type { Outline } from "../document/geometry";
import { bytesOf, copyFrame, createFrame, type Frame, planeShift } from "../pixels/frame";
import { random } from "../random";
import { sourcePoint } from "./source";
import { applyTouch } from "./touch";

const hard: Brush = { size: 30, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 };
const box = (x0: number, y0: number, x1: number, y1: number): Outline => [
  [x0, y0],
  [x1, y0],
  [x1, y1],
  [x0, y1],
];

/** A picture given by a function of the take's position, for each plane. */
function drawn(w: number, h: number, format: Frame["format"], value: (x: number, y: number, p: number) => number): Frame {
  const f = createFrame(w, h, format);
  f.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(format, p);
    for (let y = 0; y < plane.height; y++) for (let x = 0; x < plane.width; x++) plane.data[y * plane.width + x] = value(x << sx, y << sy, p);
  });
  return f;
}
const slope = (x: number, y: number, p: number) => (p ? 120 + x / 20 : 60 + 0.4 * x + 0.2 * y);
const grainy = (seed: number, format = YUV420) => {
  const rnd = random(seed);
  return drawn(200, 150, format, (x, y, p) => Math.round(slope(x, y, p) + (p ? 0 : 6 * (rnd() - 0.5))));
};
const spoil = (f: Frame, x0: number, y0: number, x1: number, y1: number, value: number) => {
  const out = copyFrame(f);
  for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) out.planes[0].data[y * out.width + x] = value;
  return out;
};
const run = (f: Frame, t: Partial<Touch>, source?: Frame, original = f) => {
  const work = copyFrame(f);
  applyTouch(work, { id: "t", kind: "heal", ...t } as Touch, { original, source, siting: "left" });
  return work;
};
const at = (f: Frame, x: number, y: number) => f.planes[0].data[y * f.width + x];
const rms = (a: Frame, b: Frame, x0: number, y0: number, x1: number, y1: number) => {
  let s = 0;
  for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) s += (at(a, x, y) - at(b, x, y)) ** 2;
  return Math.sqrt(s / ((x1 - x0) * (y1 - y0)));
};

describe("where a touch reads", () => {
  it("is p + offset, scaled and turned about the touch's start (2-recipe)", () => {
    const t = { id: "t", kind: "clone", path: [[50, 40]], offset: [20, 10] } as Touch;
    expect(sourcePoint(t, 60, 44)).toEqual([80, 54]);
    expect(sourcePoint({ ...t, scale: 2 }, 60, 44)).toEqual([75, 52]);
    const [x, y] = sourcePoint({ ...t, angle: 90 }, 60, 40);
    expect([Math.round(x), Math.round(y)]).toEqual([70, 40]); // a source turned clockwise is read anticlockwise
    expect(sourcePoint({ ...t, mirror: true }, 60, 44)).toEqual([60, 54]);
  });

  it("is what the picture shows: a quarter turn, a mirror and a double size copy the samples they should", () => {
    const f = noise(120, 100, YUV444, 3);
    const t = { kind: "clone" as const, brush: hard, path: [[40.5, 40.5]] };
    const turned = run(f, { ...t, offset: [30, 20], angle: 90 });
    const mirrored = run(f, { ...t, offset: [30, 20], mirror: true });
    const doubled = run(f, { ...t, offset: [30, 20], scale: 2 });
    for (const [dx, dy] of [
      [3, 2],
      [-4, 3],
      [0, -5],
    ]) {
      expect(at(turned, 40 + dx, 40 + dy)).toBe(at(f, 70 + dy, 60 - dx));
      expect(at(mirrored, 40 + dx, 40 + dy)).toBe(at(f, 70 - dx, 60 + dy));
      expect(at(doubled, 40 + 2 * dx, 40 + 2 * dy)).toBe(at(f, 70 + dx, 60 + dy));
    }
  });
});

describe("heal", () => {
  it("takes texture from its source and tone from the rim: a mark on a slope is gone to the grain", () => {
    const clean = grainy(1);
    const marked = spoil(clean, 95, 70, 105, 80, 200);
    const healed = run(marked, { brush: { ...hard, hardness: 0.6 }, path: [[100, 75]], offset: [-50, 20] });
    // two pictures with grain of their own differ by √2 of it: 6/√12 · √2 = 2.4
    expect(rms(healed, clean, 95, 70, 105, 80)).toBeLessThan(3.2);
    const cloned = run(marked, { kind: "clone", brush: hard, path: [[100, 75]], offset: [-50, 20] });
    expect(rms(cloned, clean, 95, 70, 105, 80)).toBeGreaterThan(10); // the slope is 16 codes away there
  });

  it("finds texture by itself, away from the mark, and says so where there is none", () => {
    const clean = grainy(2);
    const marked = spoil(clean, 96, 70, 104, 80, 200);
    const healed = run(marked, { brush: { ...hard, size: 22 }, path: [[100, 75]] });
    expect(rms(healed, clean, 96, 70, 104, 80)).toBeLessThan(3.2);
    expect(rms(marked, clean, 96, 70, 104, 80)).toBeGreaterThan(50);
    const small = drawn(40, 30, YUV420, slope);
    expect(() => run(small, { brush: { ...hard, size: 36 }, path: [[20, 15]] })).toThrow(/finds no texture near it/);
  });

  it("lines an edge up with itself when it looks for texture", () => {
    const edge = drawn(240, 120, YUV420, (_x, y, p) => (p ? 128 : y < 60 ? 60 : 150));
    const marked = spoil(edge, 116, 52, 124, 66, 230);
    const healed = run(marked, { brush: { ...hard, size: 26 }, path: [[120, 59]] });
    expect(rms(healed, edge, 108, 50, 132, 70)).toBeLessThan(0.5);
  });

  it("takes tone from the rim, not from another thing that touches it", () => {
    const clean = drawn(200, 150, YUV420, (_x, _y, p) => (p ? 128 : 90));
    const marked = spoil(spoil(clean, 90, 60, 110, 90, 20), 110, 40, 150, 110, 235); // a dark rig before a white letter
    const source = drawn(200, 150, YUV420, (_x, _y, p) => (p ? 128 : 80));
    const path = [
      [98, 65],
      [98, 85],
    ];
    const healed = run(marked, { brush: { ...hard, size: 24 }, path, source: { take: "a", frame: 1 } }, source);
    expect(rms(healed, clean, 92, 62, 106, 88)).toBeLessThan(1.5);
  });

  it("leaves every sample beyond the brush as it was", () => {
    const f = noise(160, 120, YUV420, 5);
    const healed = run(f, { brush: { ...hard, size: 20 }, path: [[80, 60]], offset: [40, 0] });
    for (let y = 0; y < 120; y++)
      for (let x = 0; x < 160; x++) if ((x + 0.5 - 80) ** 2 + (y + 0.5 - 60) ** 2 > 121) expect(at(healed, x, y)).toBe(at(f, x, y));
  });
});

describe("graft and flat", () => {
  it("a graft puts an outline's good texture in its place, blended in", () => {
    const clean = grainy(3);
    const marked = spoil(clean, 60, 40, 90, 70, 220);
    const done = run(marked, { kind: "graft", outline: box(55, 35, 95, 75), feather: 4, offset: [60, 30] });
    expect(rms(done, clean, 60, 40, 90, 70)).toBeLessThan(3.2);
  });

  it("a flat is the slope of what is around, in every plane, or one colour where that is asked for", () => {
    const clean = drawn(200, 150, YUV420, slope);
    const marked = spoil(clean, 60, 40, 120, 90, 30);
    const done = run(marked, { kind: "flat", outline: box(56, 36, 124, 94) });
    expect(rms(done, clean, 60, 40, 120, 90)).toBeLessThan(0.8);
    const one = run(marked, { kind: "flat", outline: box(56, 36, 124, 94), plain: true });
    expect(new Set([at(one, 70, 50), at(one, 110, 80)]).size).toBe(1);
    expect(() => run(drawn(20, 20, YUV420, slope), { kind: "flat", outline: box(0, 0, 20, 20) })).toThrow(/no colour to take/);
  });
});

describe("light", () => {
  it("an uncover takes on the light of the picture it is laid on, where that is asked for", () => {
    const now = drawn(200, 150, YUV420, (x, y, p) => (p ? 128 : 40 + ((x * 7 + y * 3) % 90)));
    const dark = drawn(200, 150, YUV420, (x, y, p) => (p ? 128 : 16 + 0.9 * (at(now, x, y) - 16)));
    const marked = spoil(now, 60, 40, 90, 70, 220);
    const t = { kind: "uncover" as const, brush: { ...hard, size: 60 }, path: [[75, 55]], source: { take: "a", frame: 1 } };
    expect(rms(run(marked, { ...t, light: true }, dark), now, 60, 40, 90, 70)).toBeLessThan(1);
    expect(rms(run(marked, t, dark), now, 60, 40, 90, 70)).toBeGreaterThan(5);
  });
});

describe("every kind of touch", () => {
  const f = noise(120, 100, YUV420, 9);
  const kinds: Partial<Touch>[] = [
    { kind: "clone", offset: [30, 10] },
    { kind: "uncover", source: { take: "a", frame: 1 } },
    { kind: "heal", offset: [30, 10] },
    { kind: "graft", outline: box(40, 40, 60, 60), brush: undefined, path: undefined, offset: [20, 10] },
    { kind: "fill" },
    { kind: "flat" },
    { kind: "restore" },
  ];
  it.each(kinds.map((k) => [k.kind!, k]))("%s stays inside its fence, bit for bit", (_, k) => {
    const t = { brush: { ...hard, size: 24 }, path: [[50, 50]], ...k, fence: [box(0, 0, 50, 100)] };
    const done = run(f, t, noise(120, 100, YUV420, 10), noise(120, 100, YUV420, 11));
    for (let y = 0; y < 100; y++) for (let x = 50; x < 120; x++) expect(at(done, x, y)).toBe(at(f, x, y));
    expect(bytesOf(done)).not.toEqual(bytesOf(f));
  });
});
