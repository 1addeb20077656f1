import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import type { EvenLightLayer, Layer } from "../document/layer";
import { flickerOf, livelyGain, steadyGain } from "../evenlight/flicker";
import { type Gains, gainsText, readGains } from "../evenlight/gains";
import { createFrame, type Frame, type PixelFormat } from "../pixels/frame";
import { changesWhole, composeFrame } from "./compose";
import { patchWindow } from "./window";

const FRAMES = 120;
const normal = normals(3);
/** Light that grows by a fifth over the take, and flickers by some 4 % from frame to frame; a new scene, twice as bright, begins at 80. */
const gain = Array.from({ length: FRAMES }, (_, n) => (1 + (0.2 * n) / FRAMES) * (1 + 0.04 * Math.sin(1.9 * n) + 0.01 * normal()) * (n < 80 ? 1 : 2));
const gains: Gains = { gain, cuts: [80] };
const known = new Map([["h", gains]]);

const W = 64;
const H = 40;
/** A ramp of luma and of chroma in the light of a frame. */
function frame(n: number, format: PixelFormat = YUV444): Frame {
  const f = createFrame(W, H, format);
  f.planes.forEach(({ data, width }, p) => {
    for (let i = 0; i < data.length; i++)
      data[i] = p ? 128 + gain[n] * (((i % width) * 30) / width - 15) : 16 + gain[n] * (20 + ((i % width) * 60) / width);
  });
  return f;
}
const layer = (more: Partial<EvenLightLayer>): EvenLightLayer => ({
  id: `e-${more.way}`,
  kind: "evenlight",
  in: 0,
  out: FRAMES - 1,
  data: "h",
  ...more,
});
const composed = (layers: Layer[], n: number, below = frame(n)) =>
  composeFrame({
    recipe: recipeWith(layers, { shot: { take: "a", in: 0, out: FRAMES - 1 } }),
    n,
    below,
    pictures: { take: (_, k) => frame(k), plate: () => frame(50) },
    canvas: { width: W, height: H, scale: 1, siting: "left" },
    gains: known,
  });
/** Luma over black, of a whole frame. */
const light = (f: Frame) => Array.from(f.planes[0].data).reduce((s, v) => s + v - 16, 0) / f.planes[0].data.length;
/** Power of what differs from the mean of both neighbours, in logarithms: flicker, and hardly anything that is slow. */
function flickerPower(of: number[]): number {
  const log = of.map(Math.log);
  let s = 0;
  for (let n = 1; n < log.length - 1; n++) s += (log[n] - (log[n - 1] + log[n + 1]) / 2) ** 2 / (log.length - 2);
  return s;
}
const scenes = (of: (n: number) => number) => [Array.from({ length: 80 }, (_, n) => of(n)), Array.from({ length: 40 }, (_, n) => of(80 + n))];

describe("light that is made steady", () => {
  it("keeps less than 3 % of the flicker's power, its slow change, and the step at a cut", () => {
    const before = scenes((n) => gain[n]);
    const after = scenes((n) => gain[n] * steadyGain(gains, n, 1));
    for (const k of [0, 1]) expect(flickerPower(after[k]) / flickerPower(before[k])).toBeLessThan(0.03);
    // of the light without flicker it is everywhere within a hundredth, also in the first and last frames of a scene
    after.flat().forEach((v, n) => expect(Math.abs(v / ((1 + (0.2 * n) / FRAMES) * (n < 80 ? 1 : 2)) - 1)).toBeLessThan(0.02));
  });

  it("is so in the picture, its black and its neutral where they were; half of it at half, none where the layer ends", () => {
    const off = Array.from({ length: 40 }, (_, k) => light(composed([layer({ way: "steady" })], 20 + k)));
    const own = Array.from({ length: 40 }, (_, k) => light(frame(20 + k)));
    expect(flickerPower(off) / flickerPower(own)).toBeLessThan(0.03);
    const half = Array.from({ length: 40 }, (_, k) => light(composed([layer({ way: "steady", amount: 0.5 })], 20 + k)));
    expect(flickerPower(half) / flickerPower(own)).toBeGreaterThan(0.2);
    expect(flickerPower(half) / flickerPower(own)).toBeLessThan(0.3);
    const black = createFrame(W, H, YUV420);
    black.planes.forEach(({ data }, p) => data.fill(p ? 128 : 16));
    expect(composed([layer({ way: "steady" })], 31, black)).toEqual(black);
    const there = frame(31);
    expect(composed([layer({ way: "steady", out: 30 })], 31, there)).toBe(there);
  });

  it("holds for held pictures in their own frame's light, so that they no longer stand out", () => {
    const patch: Layer = { id: "p", kind: "patch", in: 0, out: FRAMES - 1, source: { take: "a", hold: 50 }, mask: { shapes: [{ kind: "box", op: "add", center: [32, 20], size: [20, 20], angle: 0 }] } }; // prettier-ignore
    const matched: Layer = { ...patch, seam: { strength: 0 } };
    for (const p of [patch, matched])
      for (const n of [40, 47, 55, 61]) {
        const out = composed([layer({ way: "steady" }), p], n);
        const alone = composed([layer({ way: "steady" })], n);
        // what is left is the slow change between both frames: at most a hundredth and a half of some 70 codes
        const worst = Math.max(...out.planes[0].data.map((v, i) => Math.abs(v - alone.planes[0].data[i])));
        expect(worst).toBeLessThan(4);
      }
  });
});

describe("light that is made lively", () => {
  it("behind as much steadying leaves the footage as it is, sample for sample, and brings a held picture to each frame's light", () => {
    const patch: Layer = { id: "p", kind: "patch", in: 0, out: FRAMES - 1, source: { take: "a", hold: 50 }, mask: { shapes: [{ kind: "box", op: "add", center: [32, 20], size: [20, 20], angle: 0 }] } }; // prettier-ignore
    for (const n of [47, 53, 58]) {
      const out = composed([layer({ way: "steady" }), patch, layer({ way: "lively" })], n);
      const own = frame(n);
      let [outside, inside] = [0, 0];
      out.planes[0].data.forEach((v, i) => {
        const [x, y] = [i % W, Math.floor(i / W)];
        const d = Math.abs(v - own.planes[0].data[i]);
        if (x >= 22 && x < 42 && y >= 10 && y < 30) inside = Math.max(inside, d);
        else outside = Math.max(outside, d);
      });
      expect(outside).toBe(0);
      expect(inside).toBeLessThan(3);
    }
  });

  it("by chance flickers as much, in another order, the same for the same seed", () => {
    const power = (seed?: number) => flickerPower(Array.from({ length: 80 }, (_, n) => livelyGain(gains, n, 1, seed)));
    expect(power(7) / power()).toBeGreaterThan(0.5);
    expect(power(7) / power()).toBeLessThan(2);
    expect(livelyGain(gains, 5, 1, 7)).toBe(livelyGain(gains, 5, 1, 7));
    expect(livelyGain(gains, 5, 1, 7)).not.toBe(livelyGain(gains, 5, 1));
  });
});

describe("an evenlight layer", () => {
  it("is said to change all of a frame; without what was measured it is refused in a sentence", () => {
    const recipe = recipeWith([layer({ way: "steady", out: 30 })], { shot: { take: "a", in: 0, out: FRAMES - 1 } });
    expect([changesWhole(recipe, 30), changesWhole(recipe, 31)]).toEqual([true, false]);
    expect(patchWindow(recipe, 0, 10, W, H)).toEqual({ x0: 0, y0: 0, x1: W, y1: H });
    expect(() => composed([layer({ way: "steady", data: "other" })], 3)).toThrow("measure it again");
    expect(readGains(gainsText(gains))).toEqual(gains);
    for (const bad of ["", "[]", '{"gain":[]}', '{"gain":[1,-1],"cuts":[]}', '{"gain":[1,1],"cuts":[2]}'])
      expect(() => readGains(bad)).toThrow("measure it again");
    expect(flickerOf({ gain: [1, 1, 1], cuts: [] })).toEqual(new Float64Array(3));
  });
});
