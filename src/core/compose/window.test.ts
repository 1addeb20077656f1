import { describe, expect, it } from "vitest";
import { noise, recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import type { PatchLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { bytesOf, copyFrame, type PixelFormat } from "../pixels/frame";
import { random } from "../random";
import { composeFrame } from "./compose";
import { changedWindow, copyRows, putWindow, takeWindow } from "./window";

const W = 96;
const H = 64;
const layer = (id: string, x: number, y: number): PatchLayer => ({
  id,
  kind: "patch",
  in: 0,
  out: 9,
  source: { plate: "p" },
  mask: { shapes: [{ kind: "ellipse", op: "add", center: [x, y], radii: [11, 7] }], feather: 6 },
});
const recipe = () => recipeWith([layer("a", 30, 20), layer("b", 60, 40)]);
const YUV422: PixelFormat = { ...YUV420, subY: 0 };
/** An edit keeps every object it does not change, as the application's do. */
const withLayers = (r: Recipe, change: (l: PatchLayer[]) => PatchLayer[]): Recipe => ({
  ...r,
  intruders: [{ ...r.intruders[0], layers: change(r.intruders[0].layers as PatchLayer[]) }],
});

describe("the window in which two states of a recipe differ", () => {
  it.each([YUV420, YUV422, YUV444])("holds every sample that a changed mask changes, whatever the change", (format) => {
    const below = noise(W, H, format, 1);
    const plate = noise(W, H, format, 2);
    const canvas = { width: W, height: H, scale: 1, siting: "left" } as const;
    const compose = (r: Recipe) => composeFrame({ recipe: r, n: 4, below, pictures: { take: () => below, plate: () => plate }, canvas });
    const next = random(7);
    let before = recipe();
    let scratch = copyFrame(compose(before));
    for (let i = 0; i < 60; i++) {
      const what = Math.floor(next() * 5);
      const which = Math.floor(next() * 2);
      const after = withLayers(before, (layers) =>
        layers.map((l, k) => {
          if (k !== which) return l;
          if (what === 0) return { ...l, on: next() < 0.5 };
          if (what === 1) return { ...l, opacity: next() };
          if (what === 2) return { ...l, mask: { ...l.mask, feather: 20 * next() } };
          if (what === 3) return { ...l, mask: { ...l.mask, grow: 12 * next() - 6 } };
          return {
            ...l,
            mask: { shapes: [{ kind: "box", op: "add", center: [W * next(), H * next()], size: [30 * next() + 1, 20], angle: 90 * next() }] },
          };
        }),
      );
      const rect = changedWindow(before, after, 4, W, H)!;
      const want = compose(after);
      // what was shown, with only the window taken from the new picture, is the new picture
      const part = new Uint8Array(W * H * 3);
      takeWindow(want, rect, part);
      putWindow(scratch, rect, part);
      expect(Buffer.compare(bytesOf(scratch), bytesOf(want))).toBe(0);
      scratch = copyFrame(scratch);
      before = after;
    }
  });
  it("is empty where nothing has changed, and anywhere where more than single patches differ", () => {
    const r = recipe();
    expect(changedWindow(r, r, 4, W, H)).toEqual({ x0: 0, y0: 0, x1: 0, y1: 0 });
    expect(
      changedWindow(
        r,
        withLayers(r, (l) => l.slice(1)),
        4,
        W,
        H,
      ),
    ).toBeNull();
    expect(
      changedWindow(
        r,
        withLayers(r, (l) => l.toReversed()),
        4,
        W,
        H,
      ),
    ).toBeNull();
    expect(changedWindow(r, { ...r, plates: { p: { ...r.plates.p, name: "other" } } }, 4, W, H)).toBeNull();
  });
});

it("copies the rows a rectangle touches, and no others", () => {
  const from = noise(W, H, YUV420, 3);
  const to = noise(W, H, YUV420, 4);
  const before = copyFrame(to);
  copyRows(from, to, { x0: 10, y0: 21, x1: 20, y1: 33 });
  for (const [p, first, end] of [
    [0, 21, 33],
    [1, 10, 17],
    [2, 10, 17],
  ])
    for (let y = 0; y < to.planes[p].height; y++) {
      const line = (f: typeof to) => f.planes[p].data.subarray(y * to.planes[p].width, (y + 1) * to.planes[p].width);
      expect(Buffer.compare(line(to) as Uint8Array, line(y >= first && y < end ? from : before) as Uint8Array)).toBe(0);
    }
});
