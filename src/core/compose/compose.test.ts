import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ffmpeg } from "../../../testkit/ffmpeg";
import { noise, recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import type { PatchLayer } from "../document/layer";
import { bytesOf, copyFrame, createFrame, type Frame, frameFromBytes } from "../pixels/frame";
import { catmullRom } from "../pixels/resample";
import { PX, SCALE } from "../ranges";
import { valueAt } from "../time/keyed";
import { assertRuns, composeFrame, neededPictures } from "./compose";
import { changesInTime } from "../time/keyed";
import type { Canvas } from "./canvas";
import { layerOpacity } from "./patch";
import { borrowedFrame } from "./source-ref";
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
  return composeFrame({ recipe: r, n, below: list[n], pictures: { take: (_, f) => list[f], plate: () => list[0] }, canvas: canvas(list[n]) });
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
  it("gives the same whichever way it is thought: a patch on top, or a hole in the footage over the picture", () => {
    const list = frames();
    const mask = { shapes: layerShapes(), feather: 9 };
    const on = run(layer({ mask }), 5, list);
    // the footage with a hole, laid over the plate
    const hole = recipeWith([layer({ source: { take: "a", slip: 0 }, mask: { ...mask, invert: true } })]);
    const through = composeFrame({
      recipe: hole,
      n: 5,
      below: list[0],
      pictures: { take: () => list[5], plate: () => list[0] },
      canvas: canvas(list[5]),
    });
    const [a, b] = [bytesOf(on), bytesOf(through)];
    for (let i = 0; i < a.length; i++) expect(Math.abs(a[i] - b[i])).toBeLessThanOrEqual(1);
  });
  it("takes the same frame from beside, with or without a slip of nothing", () => {
    const list = frames();
    const place = { x: 9.5, y: -4, scale: 1.1, angle: 12 };
    const mask = { shapes: layerShapes(), feather: 5 };
    const [a, b] = [{ take: "a" }, { take: "a", slip: 0 }].map((source) => bytesOf(run(layer({ source, place, mask }), 4, list)));
    expect(a).toEqual(b);
    expect(a).not.toEqual(bytesOf(list[4]));
    expect(neededPictures(recipeWith([layer({ source: { take: "a" } })]), 4)).toEqual([{ take: "a", frame: 4 }]);
  });
  it("a quick picture's soft mattes are nearly the exact ones, and its hard ones are", () => {
    const list = frames();
    const at = (feather: number, quick: boolean) => {
      const r = recipeWith([layer({ mask: { shapes: layerShapes(), feather } })]);
      return composeFrame({
        recipe: r,
        n: 5,
        below: list[5],
        pictures: { take: (_, f) => list[f], plate: () => list[0] },
        canvas: { ...canvas(list[5]), quick },
      }).planes[0].data;
    };
    expect(at(0, true)).toEqual(at(0, false));
    const [a, b] = [at(12, false), at(12, true)];
    let [sum, most] = [0, 0];
    // the plate differs from the frame by about 85 on average: an error of α of 0.02 is 2 code values
    for (let i = 0; i < a.length; i++) [sum, most] = [sum + Math.abs(a[i] - b[i]), Math.max(most, Math.abs(a[i] - b[i]))];
    expect(most).toBeLessThan(16);
    expect(sum / a.length).toBeLessThan(0.6);
  });
  it("a mask painted for some frames is worked out anew for each, also where mattes are kept; one that stays is not", () => {
    const brush = { size: 16, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 };
    const strokes = [{ brush, path: [[30, 22]], frames: [4, 5] as [number, number] }];
    const r = recipeWith([layer({ mask: { shapes: [{ kind: "painted", op: "add", strokes }] } })]);
    const list = frames();
    const cache = new WeakMap();
    const differs = [3, 4, 5, 6].map((n) => {
      const out = composeFrame({
        recipe: r,
        n,
        below: list[n],
        pictures: { take: (_, f) => list[f], plate: () => list[0] },
        canvas: canvas(list[n]),
        cache,
      });
      return bytesOf(out).some((v, i) => v !== bytesOf(list[n])[i]);
    });
    expect(differs).toEqual([false, true, true, false]);
    const one = { keys: [{ f: 3, v: 9 }] };
    expect([changesInTime({ shapes: [], feather: one }), changesInTime({ shapes: [{ strokes }] })]).toEqual([false, true]);
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
  it("borrows a stretch: round and round, to and fro, or slowed to fill the layer", () => {
    const run = (repeat: "loop" | "bounce" | "slow", length: number) =>
      Array.from({ length }, (_, k) => borrowedFrame({ from: 4, to: 7, repeat }, k, length));
    expect(run("loop", 9)).toEqual([4, 5, 6, 7, 4, 5, 6, 7, 4]);
    expect(run("bounce", 9)).toEqual([4, 5, 6, 7, 6, 5, 4, 5, 6]);
    expect(run("slow", 8)).toEqual([4, 4, 5, 5, 6, 6, 7, 7]);
    expect(run("slow", 3)).toEqual([4, 5, 6]); // never faster than it ran
    expect(borrowedFrame({ from: 5, to: 5, repeat: "bounce" }, 3, 9)).toBe(5);
    const l = layer({ in: 2, out: 8, source: { take: "a", from: 0, to: 2, repeat: "bounce" } });
    expect(neededPictures(recipeWith([l]), 6)).toEqual([{ take: "a", frame: 0 }]);
  });
  it("joins a loop: its ends overlap, and each pass but the first comes in over the end of the one before", () => {
    const list = frames(YUV420);
    const all = { shapes: [{ kind: "box" as const, op: "add" as const, center: [32, 24], size: [64, 48] }] };
    const l = layer({ in: 0, out: 9, source: { take: "a", from: 1, to: 5, repeat: "loop", join: 2 }, mask: all });
    // five frames overlapping by two: a pass takes three; steps 3 and 4 dissolve frames 4 and 5 into 1 and 2, by thirds
    const plain = [1, 2, 3];
    for (const n of [0, 1, 2]) expect(bytesOf(run(l, n, list))).toEqual(bytesOf(list[plain[n]]));
    for (const [n, over, under, share] of [
      [3, 1, 4, 1 / 3],
      [4, 2, 5, 2 / 3],
      [6, 1, 4, 1 / 3],
      [7, 2, 5, 2 / 3],
    ]) {
      const a = Math.round(65535 * share);
      const [x, y] = [list[over].planes[0].data, list[under].planes[0].data];
      expect([...run(l, n, list).planes[0].data]).toEqual(Array.from(x, (v, i) => Math.floor((v * a + y[i] * (65535 - a) + 32767) / 65535)));
    }
    for (const n of [5, 8]) expect(bytesOf(run(l, n, list))).toEqual(bytesOf(list[3]));
    expect(neededPictures(recipeWith([l]), 4)).toEqual([
      { take: "a", frame: 2 },
      { take: "a", frame: 5 },
    ]);
  });
  it("uses a source's own alpha, or ignores it when asked", () => {
    const list = frames({ ...YUV444, alpha: true });
    list[0].planes[3].data.fill(0);
    const all = { shapes: [{ kind: "box" as const, op: "add" as const, center: [32, 24], size: [64, 48] }] };
    expect(bytesOf(run(layer({ source: { take: "a", hold: 0 }, mask: all }), 4, list))).toEqual(bytesOf(list[4]));
    const out = run(layer({ source: { take: "a", hold: 0, alpha: "ignore" }, mask: all }), 4, list);
    expect(out.planes[0].data).toEqual(list[0].planes[0].data);
    expect(out.planes[3].data).toEqual(list[4].planes[3].data); // the footage keeps its own
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
    const alone = patchAlone(recipeWith([l]), l, 4, list[0], list[4].format, canvas(list[4]));
    expect([9, 10, 11].map((x) => alone.alpha[20 * W + x])).toEqual([0, 0.75, 1]);
    expect(run(l, 4, list).planes[0].data[20 * W + 5]).toBe(list[4].planes[0].data[20 * W + 5]);
  });
  it("turns and scales the source about its pivot, each plane at its own sites", () => {
    const list = frames(YUV444);
    const whole = { shapes: [{ kind: "box" as const, op: "add" as const, center: [32, 24], size: [64, 48] }] };
    const at = (place: PatchLayer["place"], x: number, y: number, p = 0) => run(layer({ place, mask: whole }), 4, list).planes[p].data[y * W + x];
    const src = (x: number, y: number, p = 0) => list[0].planes[p].data[y * W + x];
    // half a turn about the centre, and a quarter about a point: sample onto sample
    expect(at({ angle: 180 }, 10, 7)).toBe(src(53, 40));
    expect(at({ angle: 90, pivot: [20, 20] }, 25, 12, 1)).toBe(src(12, 14, 1)); // clockwise: what lay left of the pivot lies above it
    // twice as large about a pixel's centre keeps that pixel; beside it stands the mean that the kernel gives half way
    expect(at({ scale: 2, pivot: [30.5, 20.5] }, 30, 20)).toBe(src(30, 20));
    const half = catmullRom(0.5).reduce((s, k, i) => s + k * src(29 + i, 20), 0);
    expect(at({ scale: 2, pivot: [30.5, 20.5] }, 31, 20)).toBe(Math.min(255, Math.max(0, Math.floor(half + 0.5))));
    // a plain colour stays what it is, however it lies, and outside the source the footage shows
    const flat = frames();
    flat[0].planes.forEach((p, i) => p.data.fill(90 + i));
    const out = run(layer({ place: { scale: 0.37, angle: 23, x: 2.3 }, mask: whole }), 4, flat);
    expect([out.planes[0].data[24 * W + 34], out.planes[1].data[12 * 32 + 17], out.planes[2].data[12 * 32 + 17]]).toEqual([90, 91, 92]);
    expect(out.planes[0].data[1 * W + 1]).toBe(flat[4].planes[0].data[1 * W + 1]);
    // at scale 1 and angle 0 it is the plain shift, also on 4:2:0 chroma
    const two = frames();
    const a = run(layer({ place: { x: 1.3, y: -2.6, angle: 360 }, mask: whole }), 4, two);
    const b = run(layer({ place: { x: 1.3, y: -2.6 }, mask: whole }), 4, two);
    a.planes.forEach((p, i) => p.data.forEach((v, k) => expect(Math.abs(v - b.planes[i].data[k])).toBeLessThanOrEqual(1)));
  });
  it("covers what the turned source covers: its area, to the pixel's part", () => {
    const list = frames(YUV444);
    const l = layer({ place: { scale: 0.5, angle: 30 }, mask: { shapes: [{ kind: "box", op: "add", center: [32, 24], size: [64, 48] }] } });
    const alone = patchAlone(recipeWith([l]), l, 4, list[0], list[4].format, canvas(list[4]));
    expect(alone.alpha.reduce((x, y) => x + y, 0)).toBeCloseTo(32 * 24, 6);
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
    const same = composeFrame({
      recipe: r,
      n: 5,
      below: list[5],
      pictures: { take: (_, f) => list[f], plate: () => list[0] },
      canvas: canvas(list[5]),
      inPlace: true,
    });
    expect(same).toBe(list[5]);
  });
  it("answers by name what cannot run yet", () => {
    const say = (l: unknown) => () => assertRuns(recipeWith([l as PatchLayer]));
    expect(say({ id: "x", kind: "paint", on: false, in: 0, out: 3 })).not.toThrow();
    expect(say({ ...layer(), seam: { vary: 1 } })).toThrow("A seam that varies is not supported yet.");
    // nor does the preview leave it out in silence
    const list = frames();
    expect(() => run([{ ...layer(), seam: { vary: 1 } } as PatchLayer], 5, list)).toThrow("is not supported yet.");
    const cut = { ...layer(), mask: { shapes: [{ kind: "cutout", op: "add", data: "x" }] } };
    expect(() => run([cut as PatchLayer], 5, list)).toThrow("A cut-out's matte is not there (any more): cut the thing out again.");
    const grained = recipeWith([{ ...layer(), grain: { profile: "g" } } as PatchLayer], { profiles: { g: { data: "0" } } });
    const pictures = { take: (_: string, f: number) => list[f], plate: () => list[0] };
    expect(() => composeFrame({ recipe: grained, n: 5, below: list[5], pictures, canvas: canvas(list[5]) })).toThrow(
      "The grain that a patch is to have is not there (any more): measure the grain again.",
    );
  });
});

function layerShapes() {
  return [{ kind: "ellipse" as const, op: "add" as const, center: [30.2, 22.7], radii: [14, 10], angle: 20 }];
}

describe("eases that overshoot", () => {
  it("keep every keyed value within its field's range: opacity never wraps, a scale never reaches 0 (property)", () => {
    const wild = fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true })); // prettier-ignore
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(wild, unit, unit, fc.integer({ min: 0, max: 30 }), (ease, a, b, n) => {
        const keys = (v0: number, v1: number) => ({
          keys: [
            { f: 0, v: v0, ease: ease as [number, number, number, number] },
            { f: 30, v: v1 },
          ],
        });
        const layer = { id: "l", kind: "patch" as const, in: 0, out: 30, source: { take: "a" }, mask: { shapes: [] }, opacity: keys(a, b) };
        const opacity = layerOpacity(layer, n);
        expect(opacity >= 0 && opacity <= 1).toBe(true);
        const scale = valueAt(keys(0.01 + a, 0.01 + b), n, SCALE);
        expect(scale >= 0.01 && scale <= 100).toBe(true);
        const radii = valueAt(
          {
            keys: [
              { f: 0, v: [a, 5], ease: ease as [number, number, number, number] },
              { f: 30, v: [b, 1] },
            ],
          },
          n,
          PX,
        );
        expect(radii.every((v) => v >= 0 && v <= 10_000)).toBe(true);
      }),
      { numRuns: 2000 },
    );
  });
  it("235 over 16 under an overshooting opacity stays 235", () => {
    const flat = (v: number) => {
      const f = createFrame(16, 16, YUV420);
      f.planes[0].data.fill(v);
      f.planes[1].data.fill(128);
      f.planes[2].data.fill(128);
      return f;
    };
    const box = { kind: "box" as const, op: "add" as const, center: [8, 8], size: [30, 30] };
    const opacity = {
      keys: [
        { f: 0, v: 0.8, ease: [0.3, 3, 0.6, 3] as [number, number, number, number] },
        { f: 10, v: 1 },
      ],
    };
    const recipe = recipeWith([{ id: "l", kind: "patch", in: 0, out: 10, source: { take: "a", hold: 1 }, mask: { shapes: [box] }, opacity }]);
    for (let n = 1; n < 10; n++) {
      const out = composeFrame({ recipe, n, below: flat(16), pictures: { take: () => flat(235), plate: () => flat(235) }, canvas: canvas(flat(16)) });
      expect(Math.min(...out.planes[0].data)).toBeGreaterThan(180);
    }
  });
});
