import { describe, expect, it } from "vitest";
import { noise, recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import type { PatchLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { shiftBy } from "../follow/homography";
import { normalBlur } from "../match/normal-blur";
import { bytesOf, copyFrame, type Frame, planeShift } from "../pixels/frame";
import { composeFrame } from "./compose";
import { FigureTally } from "./figures";

const [W, H, N] = [96, 80, 6];
const HASH = "c".repeat(64);
const REGION = [[30, 30], [50, 30], [50, 46], [30, 46]] as [number, number][]; // prettier-ignore
const mask = { shapes: [{ kind: "box", op: "add", center: [48, 40], size: [30, 24] }] } as PatchLayer["mask"];
const INSIDE = { x0: 36, y0: 32, x1: 60, y1: 48 };

/** A patch of a held frame over frames of noise. */
function composed(
  more: Partial<PatchLayer>,
  n: number,
  { format = YUV444, frames = undefined as Frame[] | undefined, tally = undefined as FigureTally | undefined } = {},
) {
  // prettier-ignore
  const list = frames ?? Array.from({ length: N }, (_, i) => noise(W, H, format, 40 + i));
  const l: PatchLayer = { id: "l", kind: "patch", in: 0, out: N - 1, source: { take: "a", hold: 0 }, mask, ...more };
  const track = { take: "a", at: 0, region: REGION, model: "shift", in: 0, out: N - 1, data: HASH } as const;
  const recipe = { ...recipeWith([l]), tracks: { t: track } } as unknown as Recipe;
  const matrices = Array.from({ length: N }, (_, f) => ({ f, matrix: shiftBy(6 * f, 0), quality: 1 }));
  const out = composeFrame({
    recipe,
    n,
    below: list[n],
    pictures: { take: (_, f) => list[f], plate: () => list[0] },
    canvas: { width: W, height: H, scale: 1, siting: "left", tracks: new Map([[HASH, matrices]]) },
    figures: tally && { layer: "l", tally },
  });
  return { out, list };
}
/** How many samples of a plane differ by more than a rounding from what they should be, well inside the mask. */
function wrong(out: Frame, p: number, wanted: (i: number) => number): number {
  const { sx, sy } = planeShift(out.format, p);
  const { data, width } = out.planes[p];
  let count = 0;
  for (let y = INSIDE.y0 >> sy; y < INSIDE.y1 >> sy; y++)
    for (let x = INSIDE.x0 >> sx; x < INSIDE.x1 >> sx; x++) if (Math.abs(data[y * width + x] - wanted(y * width + x)) > 0.5 + 1e-6) count++;
  return count;
}
const floats = (f: Frame, p: number) => Float64Array.from(f.planes[p].data);

describe("the sharpness of a patch", () => {
  it.each([YUV444, YUV420])("softer by 1.5 px: each plane blurred by as much of the picture, rounded once", (format) => {
    const { out, list } = composed({ sharpness: { amount: -1.5 } }, 3, { format });
    for (const p of [0, 1, 2]) {
      const { sx, sy } = planeShift(format, p);
      const plane = list[0].planes[p];
      const wanted = normalBlur(floats(list[0], p), plane.width, plane.height, 1.5 / (1 << sx), 1.5 / (1 << sy));
      expect(wrong(out, p, (i) => wanted[i])).toBe(0);
    }
  });
  it("of 0 leaves the patch as it is, sample for sample; what the mask leaves out stays", () => {
    const plain = composed({}, 3).out;
    expect(bytesOf(composed({ sharpness: { amount: 0, motion: 1 } }, 3).out)).toEqual(bytesOf(plain));
    const { out, list } = composed({ sharpness: { amount: -3 } }, 3);
    expect([...out.planes[0].data.subarray(0, 20 * W)]).toEqual([...list[3].planes[0].data.subarray(0, 20 * W)]);
  });
  it("smeared by half of 6 px a frame: the mean over 3 px along the track", () => {
    const list = Array.from({ length: N }, (_, i) => noise(W, H, YUV444, 60 + i));
    const { out } = composed({ tied: { to: "t" }, sharpness: { motion: 0.5 } }, 1, { frames: list });
    const own = floats(list[0], 0);
    // at frame 1 all lies 6 px to the right; read linearly in steps of half a sample
    const wanted = (i: number) => {
      const at = (x: number) => own[i - 6 + Math.floor(x)] * (1 - (x - Math.floor(x))) + own[i - 6 + Math.floor(x) + 1] * (x - Math.floor(x));
      return [-1.5, -1, -0.5, 0, 0.5, 1, 1.5].reduce((s, x, k) => s + (k % 6 ? 1 : 0.5) * at(x), 0) / 6;
    };
    expect(wrong(out, 0, wanted)).toBe(0);
  });
  it("is told as a figure, and is right again once it is set by that", () => {
    const frames = [0, 1].map((k) => scene(k === 1 ? 1.2 : 0));
    const told = (more: Partial<PatchLayer>) => {
      const tally = new FigureTally();
      composed(more, 1, { frames, tally });
      return tally.figures.sharpness!;
    };
    const off = told({});
    expect(Math.abs(off - 1.2)).toBeLessThan(0.15);
    expect(Math.abs(told({ sharpness: { amount: -off } }))).toBeLessThan(0.35);
  });
});

/** Tiles of many greys, blurred. */
function scene(sigma: number): Frame {
  const f = copyFrame(noise(W, H, YUV444, 5));
  const tiles = Float64Array.from({ length: W * H }, (_, i) => 40 + ((Math.floor((i % W) / 7) * 53 + Math.floor(i / W / 9) * 97) % 170));
  normalBlur(normalBlur(tiles, W, H, 0.6), W, H, sigma).forEach((v, i) => (f.planes[0].data[i] = Math.round(v)));
  return f;
}
