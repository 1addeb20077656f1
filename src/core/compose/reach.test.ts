import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { noise, recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import type { PaintLayer, PatchLayer } from "../document/layer";
import type { Touch } from "../document/touch";
import { copyFrame, type Frame, type PixelFormat, planeShift, type Rect } from "../pixels/frame";
import { random } from "../random";
import { composeFrame } from "./compose";
import { layerReads, layerWrites } from "./reach";

const [W, H, N] = [96, 64, 4];
const brush = { size: 9, hardness: 0.6, opacity: 1, flow: 1, spacing: 0.1 };
const at = fc.tuple(fc.integer({ min: -10, max: W + 10 }), fc.integer({ min: -10, max: H + 10 })).map((p): number[] => p);

const patch: fc.Arbitrary<PatchLayer> = fc
  .record({
    center: at,
    size: fc.tuple(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 30 })),
    angle: fc.integer({ min: 0, max: 90 }),
    kind: fc.constantFrom("box", "ellipse"),
    feather: fc.constantFrom(0, 3, 14),
    grow: fc.constantFrom(-3, 0, 5),
    own: fc.constantFrom(undefined, 6),
    place: fc.constantFrom(undefined, { x: 3.3, y: -2 }, { scale: 1.2, angle: 7 }),
    opacity: fc.constantFrom(1, 0.4),
    light: fc.constantFrom(undefined, { by: "whole" as const }, { by: "rim" as const, strength: 0.7 }),
    seam: fc.constantFrom(undefined, { strength: 1 }, { strength: 0.6, reach: 12, over: 1, soft: 2 }, { fill: "rim" as const, detail: 6 }),
    grain: fc.constantFrom(undefined, { profile: "g" }),
  })
  .map(({ center, size, angle, kind, feather, grow, own, place, opacity, light, seam, grain }) => ({
    id: "l",
    kind: "patch" as const,
    in: 0,
    out: 9,
    source: { plate: "p" },
    place,
    opacity,
    ...(light && { light }),
    ...(seam && { seam }),
    ...(grain && { grain }),
    mask: {
      feather,
      grow,
      shapes: [
        kind === "box"
          ? { kind: "box" as const, op: "add" as const, center, size, angle, feather: own }
          : { kind: "ellipse" as const, op: "add" as const, center, radii: size, angle, feather: own },
      ],
    },
  }));

const touch: fc.Arbitrary<Touch> = fc
  .record({
    kind: fc.constantFrom("clone", "heal", "restore", "flat", "uncover", "graft"),
    from: at,
    to: at,
    offset: fc.tuple(fc.integer({ min: -30, max: 30 }), fc.integer({ min: -20, max: 20 })),
    light: fc.boolean(),
  })
  .map(({ kind, from, to, offset, light }): Touch => {
    const area =
      kind === "graft" ? { outline: [from, [from[0] + 14, from[1]], [from[0] + 6, from[1] + 12]], feather: 3 } : { brush, path: [from, to] };
    const source = kind === "uncover" ? { source: { take: "a", frame: 7 }, ...(light ? { light } : {}) } : {};
    return { id: "t", kind: kind as Touch["kind"], ...area, ...source, ...(kind === "restore" || kind === "flat" ? {} : { offset }) };
  });
const paint: fc.Arbitrary<PaintLayer> = touch.map((t) => ({ id: "q", kind: "paint", in: 0, out: 9, touches: [t] }));

const grains = new Map([["h", { planes: [{ sigma: [[0, 2]] as [number, number][], covariance: Array.from({ length: 81 }, (_, i) => Number(i === 40)) }], inTime: 0.2 }]]); // prettier-ignore

/** Whether a sample of a plane lies within a rectangle of luma samples. */
const inside = (f: Frame, p: number, i: number, r: Rect) => {
  const { sx, sy } = planeShift(f.format, p);
  const [x, y] = [(i % f.planes[p].width) << sx, Math.floor(i / f.planes[p].width) << sy];
  return x >= r.x0 && x < r.x1 && y >= r.y0 && y < r.y1;
};
/** The samples in which two frames differ within (or outside) a rectangle. */
function differences(a: Frame, b: Frame, r: Rect, within: boolean): number {
  let n = 0;
  a.planes.forEach((plane, p) => plane.data.forEach((v, i) => (n += v !== b.planes[p].data[i] && inside(a, p, i, r) === within ? 1 : 0)));
  return n;
}

describe("what a layer reads and writes", () => {
  const pictures = (format: PixelFormat) => ({ below: noise(W, H, format, 1), plate: noise(W, H, format, 2), other: noise(W, H, format, 3) });
  it.each([YUV420, YUV444])("no sample outside what it writes is changed, and none there hangs on what lies outside what it reads (property)", (format) => {
    const { below, plate, other } = pictures(format);
    let laid = 0;
    fc.assert(
      fc.property(fc.oneof(patch, paint), fc.integer({ min: 1, max: 1e6 }), (layer, seed) => {
        const recipe = recipeWith([layer], { profiles: { g: { data: "h" } } });
        const compose = (f: Frame) =>
          composeFrame({ recipe, n: N, below: f, pictures: { take: () => other, plate: () => plate }, canvas: { width: W, height: H, scale: 1, siting: "left" }, grains });
        const [writes, reads] = [layerWrites(recipe, layer, N, W, H), layerReads(recipe, layer, N, W, H)];
        const out = compose(below);
        expect(differences(out, below, writes, false)).toBe(0);
        laid += differences(out, below, writes, true) > 0 ? 1 : 0;
        // everything beyond what is read is another picture
        const strange = copyFrame(below);
        const rnd = random(seed);
        strange.planes.forEach((plane, p) => plane.data.forEach((_, i) => void (inside(below, p, i, reads) || (plane.data[i] = Math.floor(256 * rnd())))));
        expect(differences(compose(strange), out, writes, true)).toBe(0);
      }),
      { numRuns: 120 },
    );
    expect(laid).toBeGreaterThan(60);
  }); // prettier-ignore

  it("is nothing where it is switched off", () => {
    const off = { ...fc.sample(patch, 1)[0], on: false };
    expect([layerWrites(recipeWith([off]), off, N, W, H), layerReads(recipeWith([off]), off, N, W, H)]).toEqual(
      Array(2).fill({ x0: 0, y0: 0, x1: 0, y1: 0 }),
    );
  });
});
