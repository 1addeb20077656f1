import { describe, expect, it } from "vitest";
import { ffmpeg } from "../../../tests/support/ffmpeg";
import { noise, recipeWith, YUV420, YUV444 } from "../../../tests/support/pictures";
import type { PatchLayer } from "../document";
import { bytesOf, copyFrame, type Frame, frameFromBytes } from "../pixels/frame";
import { catmullRom } from "../pixels/resample";
import { assertRuns, composeFrame, neededPictures } from "./compose";
import { type Canvas, layerOpacity } from "./patch";
import { patchAlone, togetherMatte } from "./views";

const W = 64;
const H = 48;
const canvas = (f: Frame): Canvas => ({ width: f.width, height: f.height, scale: 1, siting: "left" });
const layer = (more: Partial<PatchLayer> = {}): PatchLayer => ({
  id: "l",
  kind: "patch",
  in: 2,
  out: 8,
  source: { plate: "p" },
  mask: { shapes: [{ kind: "ellipse", op: "add", center: [30, 22], radii: [14, 10] }] },
  ...more,
});
const frames = (format = YUV420) => Array.from({ length: 10 }, (_, i) => noise(W, H, format, 100 + i));
const run = (l: PatchLayer | PatchLayer[], n: number, list = frames()) => {
  const r = recipeWith([l].flat());
  return composeFrame(r, n, list[n], { take: (_, f) => list[f], plate: () => list[0] }, canvas(list[n]));
};

describe("composeFrame", () => {
  it("returns the frame itself where no patch shows", () => {
    const list = frames();
    expect(run(layer(), 1, list)).toBe(list[1]);
    expect(run(layer({ on: false }), 5, list)).toBe(list[5]);
    expect(run(layer({ opacity: 0 }), 5, list)).toBe(list[5]);
  });
  it("leaves samples with α = 0 as they are and copies under α = 1, on every plane", () => {
    const list = frames();
    const out = run(layer({ mask: { shapes: [{ kind: "box", op: "add", center: [32, 24], size: [20, 16] }] } }), 4, list);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const inside = x >= 22 && x < 42 && y >= 16 && y < 32;
        expect(out.planes[0].data[y * W + x]).toBe((inside ? list[0] : list[4]).planes[0].data[y * W + x]);
      }
    // chroma: fully covered footprints are the plate's, untouched ones the frame's
    expect(out.planes[1].data[12 * 32 + 15]).toBe(list[0].planes[1].data[12 * 32 + 15]);
    expect(out.planes[2].data[3 * 32 + 3]).toBe(list[4].planes[2].data[3 * 32 + 3]);
  });
  it("changes nothing when a take is laid on itself with slip 0, feathered, half opaque", () => {
    for (const bits of [8, 10, 16]) {
      const list = frames({ ...YUV420, bits });
      const out = run(layer({ source: { take: "a", slip: 0 }, opacity: 0.37, mask: { shapes: layerShapes(), feather: 9 } }), 5, list);
      expect(bytesOf(out)).toEqual(bytesOf(list[5]));
    }
  });
  it("does the normative sum to the sample, with exact integers", () => {
    const list = frames(YUV444);
    const l = layer({ opacity: 0.61, mask: { shapes: layerShapes(), feather: 7.5 } });
    const out = run(l, 5, list);
    const m = togetherMatte(recipeWith([{ ...l, opacity: 1 }]), [{ ...l, opacity: 1 }], 5, canvas(list[5]));
    for (let i = 0; i < W * H; i++)
      for (let p = 0; p < 3; p++) {
        const a = BigInt(Math.round(65535 * m[i] * 0.61));
        const want = (BigInt(list[0].planes[p].data[i]) * a + BigInt(list[5].planes[p].data[i]) * (65535n - a) + 32767n) / 65535n;
        expect(BigInt(out.planes[p].data[i])).toBe(want);
      }
  });
  it("agrees with ffmpeg's overlay within one code value", () => {
    const list = frames(YUV444);
    const l = layer({ mask: { shapes: layerShapes(), feather: 12 } });
    const out = run(l, 5, list);
    const m = togetherMatte(recipeWith([l]), [l], 5, canvas(list[5]));
    const alpha = Uint8Array.from(m, (v) => Math.round(v * 255));
    const top = Buffer.concat([bytesOf(list[0]), alpha]);
    const file = `/tmp/umber-overlay-${process.pid}.raw`;
    ffmpeg(["-y", "-f", "rawvideo", "-pix_fmt", "yuva444p", "-s", `${W}x${H}`, "-i", "pipe:0", "-f", "rawvideo", file], top);
    const got = ffmpeg(
      [
        "-f",
        "rawvideo",
        "-pix_fmt",
        "yuv444p",
        "-s",
        `${W}x${H}`,
        "-i",
        "pipe:0",
        "-f",
        "rawvideo",
        "-pix_fmt",
        "yuva444p",
        "-s",
        `${W}x${H}`,
        "-i",
        file,
        "-filter_complex",
        "[0][1]overlay=format=yuv444",
        "-pix_fmt",
        "yuv444p",
        "-f",
        "rawvideo",
        "pipe:1",
      ],
      bytesOf(list[5]),
    );
    const theirs = frameFromBytes(got, W, H, YUV444);
    for (let p = 0; p < 3; p++)
      for (let i = 0; i < W * H; i++) {
        // its α has 8 bits: half a step of that on the samples' difference, and one for its rounding
        const slack = 1 + Math.abs(list[0].planes[p].data[i] - list[5].planes[p].data[i]) / 510;
        expect(Math.abs(theirs.planes[p].data[i] - out.planes[p].data[i])).toBeLessThanOrEqual(slack);
      }
  });
  it("reads hold and slip as numbers of the take: source frame = floor(n + slip + ½)", () => {
    const refs = (l: PatchLayer, n: number) => neededPictures(recipeWith([l]), n);
    expect(refs(layer({ source: { take: "a", hold: 7 } }), 4)).toEqual([{ take: "a", frame: 7 }]);
    expect(refs(layer({ source: { take: "a", slip: -1.5 } }), 4)).toEqual([{ take: "a", frame: 3 }]);
    expect(
      refs(
        layer({
          source: {
            take: "a",
            slip: {
              keys: [
                { f: 2, v: 0 },
                { f: 6, v: 4 },
              ],
            },
          },
        }),
        4,
      ),
    ).toEqual([{ take: "a", frame: 6 }]);
  });
  it("copies on a shift by whole samples of a plane and interpolates the others", () => {
    const list = frames();
    const l = layer({ place: { x: 3, y: 0 }, mask: { shapes: [{ kind: "box", op: "add", center: [32, 24], size: [24, 20] }] } });
    const out = run(l, 4, list);
    expect(out.planes[0].data[24 * W + 30]).toBe(list[0].planes[0].data[24 * W + 27]);
    const w = catmullRom(0.5); // 3 luma samples are 1½ chroma samples
    const c = list[0].planes[1].data;
    const want = w.reduce((s, k, i) => s + k * c[12 * 32 + 16 - 2 + i - 1], 0);
    expect(out.planes[1].data[12 * 32 + 16]).toBe(Math.min(255, Math.max(0, Math.floor(want + 0.5))));
  });
  it("outside the moved source shows the footage, by exact coverage", () => {
    const list = frames(YUV444);
    const l = layer({ place: { x: 10.25, y: 0 }, mask: { shapes: [{ kind: "box", op: "add", center: [32, 24], size: [64, 48] }] } });
    const alone = patchAlone(recipeWith([l]), l, 4, list[0], list[4], canvas(list[4]));
    expect([9, 10, 11].map((x) => alone.alpha[20 * W + x])).toEqual([0, 0.75, 1]);
    expect(run(l, 4, list).planes[0].data[20 * W + 5]).toBe(list[4].planes[0].data[20 * W + 5]);
  });
  it("fades by the normative steps and lays layers and intruders bottom first", () => {
    const l = layer({ in: 10, out: 19, fadeIn: 3, fadeOut: 1, opacity: 0.8 });
    expect([9, 10, 11, 12, 13, 18, 19, 20].map((n) => Number(layerOpacity(l, n).toFixed(6)))).toEqual([0, 0.2, 0.4, 0.6, 0.8, 0.8, 0.4, 0]);
    const list = frames();
    const under = layer({ id: "u" });
    const upper = layer({ id: "v", source: { take: "a", hold: 1 } });
    expect(run([under, upper], 5, list).planes[0].data[22 * W + 30]).toBe(list[1].planes[0].data[22 * W + 30]);
    expect(run([upper, under], 5, list).planes[0].data[22 * W + 30]).toBe(list[0].planes[0].data[22 * W + 30]);
  });
  it("changes a copy, or the frame itself where it may", () => {
    const list = frames();
    const before = copyFrame(list[5]);
    run(layer(), 5, list);
    expect(bytesOf(list[5])).toEqual(bytesOf(before));
    const r = recipeWith([layer()]);
    const same = composeFrame(r, 5, list[5], { take: (_, f) => list[f], plate: () => list[0] }, canvas(list[5]), undefined, true);
    expect(same).toBe(list[5]);
  });
  it("answers by name what cannot run yet", () => {
    const say = (l: unknown) => () => assertRuns(recipeWith([l as PatchLayer]));
    expect(say(layer({ place: { scale: 1.2 } }))).toThrow("place.scale is not supported yet.");
    expect(say(layer({ source: { take: "a", from: 2, to: 5, repeat: "loop" } }))).toThrow("A borrowed stretch as source is not supported yet.");
    expect(say({ id: "x", kind: "reframe", in: 0, out: 3 })).toThrow("The layer kind “reframe” is not supported yet.");
    expect(say(layer({ mask: { shapes: [{ kind: "painted", op: "add", strokes: [] }] } }))).toThrow("A painted mask is not supported yet.");
    expect(say(layer({ on: false, place: { scale: 1.2 } }))).not.toThrow();
  });
});

function layerShapes() {
  return [{ kind: "ellipse" as const, op: "add" as const, center: [30.2, 22.7], radii: [14, 10], angle: 20 }];
}
