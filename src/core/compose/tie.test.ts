import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { noise, recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import type { PatchLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { type Homography, inverse, mapped, type Place, shiftBy } from "../follow/homography";
import type { TrackData } from "../follow/track-data";
import { bytesOf, type Frame } from "../pixels/frame";
import { maskMatte } from "../shape/mask";
import { composeFrame } from "./compose";
import { maskAt, type Tracks } from "./tie";
import { patchWindow } from "./window";

const [W, H, N] = [64, 48, 10];
const REGION: Place[] = [[20, 14], [40, 14], [40, 30], [20, 30]]; // prettier-ignore
const HASH = { t: "a".repeat(64), u: "b".repeat(64) };
const shape = { kind: "box", op: "add", center: [30, 22], size: [12, 10] } as const;

/** A patch that follows tracks which shift by so much a frame. */
function tied(more: Partial<PatchLayer>, maps: { t: (n: number) => Homography; u?: (n: number) => Homography }, format = YUV444) {
  const list = Array.from({ length: N }, (_, i) => noise(W, H, format, 70 + i));
  const l: PatchLayer = { id: "l", kind: "patch", in: 0, out: N - 1, source: { take: "a", hold: 2 }, mask: { shapes: [shape] }, ...more };
  const track = (data: string) => ({ take: "a", at: 2, region: REGION, model: "shift", in: 0, out: N - 1, data }) as const;
  const recipe = { ...recipeWith([l]), tracks: { t: track(HASH.t), u: track(HASH.u) } } as Recipe;
  const data = (of: (n: number) => Homography): TrackData => Array.from({ length: N }, (_, f) => ({ f, matrix: of(f), quality: 1 }));
  const tracks: Tracks = new Map([[HASH.t, data(maps.t)], [HASH.u, data(maps.u ?? maps.t)]]); // prettier-ignore
  const compose = (r: Recipe, n: number, known: Tracks | undefined = tracks): Frame =>
    composeFrame({
      recipe: r,
      n,
      below: list[n],
      pictures: { take: (_, f) => list[f], plate: () => list[0] },
      canvas: { width: W, height: H, scale: 1, siting: "left", tracks: known },
    });
  return { recipe, l, list, tracks, at: (n: number) => compose(recipe, n), compose };
}

const by = (n: number): Place => [2 * (n - 2), -2 * (n - 2)];
const shifts = (n: number) => shiftBy(...by(n));

describe("a patch that follows a track", () => {
  it.each([YUV444, YUV420])("goes by whole pixels as one that is placed by hand, sample for sample", (format) => {
    const { recipe, l, at, compose } = tied({ tied: { mask: "t", to: "t" } }, { t: shifts }, format);
    for (const n of [0, 2, 5]) {
      const [x, y] = by(n);
      const moved = { ...shape, center: [shape.center[0] + x, shape.center[1] + y] as [number, number] };
      const { tied: _, ...free } = l;
      const byHand = {
        ...recipe,
        intruders: recipe.intruders.map((i) => ({ ...i, layers: [{ ...free, place: { x, y }, mask: { shapes: [moved] } }] })),
      };
      expect(bytesOf(at(n))).toEqual(bytesOf(compose(byHand as Recipe, n)));
    }
  });
  it("shows at its own frame what it shows untied, and elsewhere what it showed there, carried along", () => {
    const { list, at } = tied({ tied: { mask: "t", to: "t", from: "t" } }, { t: shifts });
    const n = 6;
    const [x, y] = by(n);
    const out = at(n);
    expect(out.planes[0].data[(22 + y) * W + 30 + x]).toBe(list[2].planes[0].data[22 * W + 30]);
  });
  it("reads a moving source along its own track", () => {
    // the good place goes the other way; what it showed at frame 2 beside the bad one is found in each frame
    const { list, at } = tied({ source: { take: "a" }, place: { x: 8 }, tied: { mask: "t", to: "t", from: "u" } }, { t: shifts, u: (n) => shiftBy(-by(n)[0], 0) }); // prettier-ignore
    const [n, [x, y]] = [4, by(4)];
    // T_to · Place · T_from⁻¹: the source's (22 − x, 22) comes to (22 + 8 + x, 22 + y)
    expect(at(n).planes[0].data[(22 + y) * W + 30 + x]).toBe(list[n].planes[0].data[22 * W + 22 - x]);
  });
  it("carries every kind of outline where the plane map does, and leaves alone what is still (property)", () => {
    fc.assert(
      fc.property(fc.double({ min: -0.3, max: 0.3, noNaN: true }), fc.double({ min: -2e-3, max: 2e-3, noNaN: true }), (a, g) => {
        const map: Homography = [1 + a, a, 3, -a, 1, 2, g, 0, 1];
        const shapes: PatchLayer["mask"] = { shapes: [shape, { ...shape, still: true }, { kind: "path", op: "cut", points: [[5, 5], [9, 5], [9, 9]] }] }; // prettier-ignore
        const { recipe, l, tracks } = tied({ mask: shapes, tied: { mask: "t" } }, { t: () => map });
        const [box, still, path] = maskAt(recipe, l, 3, tracks).shapes;
        expect(still).toEqual({ ...shape, still: true });
        expect(box).toMatchObject({ kind: "path", op: "add", points: expect.arrayContaining([mapped(map, [24, 17])]) as unknown });
        expect(path).toMatchObject({ op: "cut", points: ([[5, 5], [9, 5], [9, 9]] as Place[]).map((p) => mapped(map, p)) }); // prettier-ignore
      }),
      { numRuns: 30 },
    );
  });
  describe("with a picture as mask", () => {
    const picture = { kind: "picture", op: "add", asset: "p".repeat(64), use: "alpha" } as const;
    const values = (f: (x: number, y: number) => number) => ({ width: W, height: H, data: Float64Array.from({ length: W * H }, (_, i) => f(i % W, Math.floor(i / W))) }); // prettier-ignore
    const matteAt = (map: Homography, f: (x: number, y: number) => number, scale = 1) => {
      const { recipe, l, tracks } = tied({ mask: { shapes: [picture] }, tied: { mask: "t" } }, { t: () => map });
      const m = maskMatte(maskAt(recipe, l, 3, tracks), 3, W * scale, H * scale, scale, () => values(f));
      return (x: number, y: number) => m.data[(y - m.y0) * (m.x1 - m.x0) + x - m.x0];
    };
    const dots = (x: number, y: number) => Number((x * 7 + y * 13) % 5 === 0);

    it("takes it along by whole pixels, and between them by the mean of both", () => {
      const whole = matteAt(shiftBy(3, -2), dots);
      const half = matteAt(shiftBy(0.5, 0), dots);
      for (const [x, y] of [[20, 20], [21, 20], [33, 7], [40, 31]]) {
        expect(whole(x, y)).toBeCloseTo(dots(x - 3, y + 2), 9);
        expect(half(x, y)).toBeCloseTo((dots(x, y) + dots(x - 1, y)) / 2, 9);
      } // prettier-ignore
      // beyond its border it goes on as at it
      expect(matteAt(shiftBy(30, 0), (x) => x / W)(4, 9)).toBe(0);
      expect(matteAt(shiftBy(-30, 0), (x) => x / W)(60, 9)).toBeCloseTo((W - 1) / W, 9);
    });

    it("lays a slope as the plane map says, on a smaller canvas too (property)", () => {
      const slope = (x: number, y: number) => 0.2 + 0.006 * (x + 0.5) + 0.004 * (y + 0.5);
      fc.assert(
        fc.property(fc.double({ min: -0.2, max: 0.2, noNaN: true }), fc.double({ min: -1e-3, max: 1e-3, noNaN: true }), (a, g) => {
          const map: Homography = [1 + a, a / 2, 2, -a / 2, 1, -1, g, g / 2, 1];
          for (const scale of [1, 0.5]) {
            const at = matteAt(map, slope, scale);
            for (const [x, y] of [[20, 16], [28, 24], [36, 20]]) {
              const [u, v] = mapped(inverse(map)!, [x, y])!;
              const [i, j] = [x * scale, y * scale];
              const mean = (at(i, j) + at(i - 1, j) + at(i, j - 1) + at(i - 1, j - 1)) / 4;
              expect(Math.abs(mean - (0.2 + 0.006 * u + 0.004 * v))).toBeLessThan(1e-3);
            } // prettier-ignore
          }
        }),
        { numRuns: 20 },
      );
    });

    it("leaves it where it is when it is still", () => {
      const { recipe, l, tracks } = tied({ mask: { shapes: [{ ...picture, still: true }] }, tied: { mask: "t" } }, { t: shifts });
      expect(maskAt(recipe, l, 6, tracks).shapes).toEqual([{ ...picture, still: true }]);
    });
  });
  it("has a window that goes along, and only what it holds is changed", () => {
    const { recipe, at, list, tracks } = tied({ tied: { mask: "t", to: "t" } }, { t: shifts });
    const r = patchWindow(recipe, 0, 6, W, H, tracks);
    for (const n of [0, 3, 6]) {
      const out = at(n);
      for (let y = 0; y < H; y++)
        for (let x = 0; x < W; x++)
          if (x < r.x0 || x >= r.x1 || y < r.y0 || y >= r.y1) expect(out.planes[0].data[y * W + x]).toBe(list[n].planes[0].data[y * W + x]);
    }
    expect(r.x1 - r.x0).toBeLessThan(W);
    expect(r.x0).toBeLessThanOrEqual(20);
    expect(r.x1).toBeGreaterThanOrEqual(44);
  });
  it("says what is missing, and at which frame a shape would turn its back", () => {
    const { recipe, compose } = tied({ tied: { mask: "t" } }, { t: (n) => [1, 0, 0, 0, 1, 0, n === 4 ? -0.04 : 0, 0, 1] });
    expect(() => compose(recipe, 3, new Map())).toThrow(/The track “t” that a patch follows is not there/);
    expect(() => compose(recipe, 4)).toThrow(/At frame 4 a mask's shape/);
    const brought = tied({ source: { plate: "p" }, tied: { to: "t", from: "u" } }, { t: shifts });
    const plates = { p: { from: { path: "a.png" }, touches: [] } };
    expect(() => brought.compose({ ...brought.recipe, plates } as Recipe, 4)).toThrow(/is of no frame of a take: let the patch alone/);
  });
});
