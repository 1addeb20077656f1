import { describe, expect, it } from "vitest";
import { coloursOf, cut, type Hole, HOLES, holePsnr, holeSsim, rimError } from "../../../../testkit/holes";
import { inpainted, openCv } from "../../../../testkit/opencv";
import { YUV420 } from "../../../../testkit/pictures";
import type { Touch } from "../../document/touch";
import { bytesOf, copyFrame, createFrame } from "../../pixels/frame";
import { random } from "../../random";
import { applyTouch, touchSteps } from "../touch";
import { fillHole } from "./fill";
import { linesAcross } from "./guides";
import { distanceTo } from "./distance";

describe("fill", () => {
  // two of the twelve that the bench fills: a texture, and lines across
  const some = ["boards of the wall", "gold lines"].map((n) => HOLES.find((h) => h.name === n) as Hole);
  it.each(some.map((h) => [h.name, h] as const))("%s: nearer to what was there than OpenCV's inpaint, both ways of it", async (_, hole) => {
    const cv = await openCv();
    const { truth, picture, width, height } = cut(hole);
    const spoiled = Float32Array.from(truth, (v, i) => (picture.hole[Math.floor(i / 3)] ? 0 : v));
    for (const _step of fillHole(picture, [], 1));
    const ours = coloursOf(picture);
    for (const how of [cv.INPAINT_TELEA, cv.INPAINT_NS]) {
      const theirs = inpainted(cv, spoiled, picture.hole, width, height, how);
      expect(holePsnr(ours, truth, picture.hole)).toBeGreaterThan(holePsnr(theirs, truth, picture.hole));
      expect(holeSsim(ours, truth, picture.hole, width, height)).toBeGreaterThan(holeSsim(theirs, truth, picture.hole, width, height));
    }
    // no seam: low-passed, the rim is within ΔE₀₀ 2 of the truth
    expect(rimError(ours, truth, picture.hole, width, height)).toBeLessThan(2);
  });

  const W = 160;
  const H = 120;
  /** Stripes 8 px wide, with a little grain. */
  const stripes = () => {
    const f = createFrame(W, H, YUV420);
    const rnd = random(7);
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) f.planes[0].data[y * W + x] = (Math.floor(x / 8) % 2 ? 150 : 60) + Math.round(2 * rnd());
    f.planes[1].data.fill(118);
    f.planes[2].data.fill(140);
    return f;
  };
  const touch = (more: Partial<Touch> = {}): Touch => ({
    id: "f",
    kind: "fill",
    outline: [
      [64, 40],
      [100, 40],
      [100, 80],
      [64, 80],
    ],
    ...more,
  });
  const fill = (t: Touch, seed = 1) => {
    const f = stripes();
    const spoiled = copyFrame(f);
    for (let y = 42; y < 78; y++) for (let x = 66; x < 98; x++) spoiled.planes[0].data[y * W + x] = 235;
    const work = copyFrame(spoiled);
    applyTouch(work, t, { original: spoiled, siting: "left", seed });
    return { clean: f, work };
  };

  it("carries a pattern on through the hole, in every plane", () => {
    const { clean, work } = fill(touch());
    let worst = 0;
    for (let y = 40; y < 80; y++)
      for (let x = 64; x < 100; x++) worst = Math.max(worst, Math.abs(work.planes[0].data[y * W + x] - clean.planes[0].data[y * W + x]));
    expect(worst).toBeLessThan(8);
    expect(new Set(work.planes[1].data)).toEqual(new Set([118]));
  });

  it("gives the same for the same seed, bit for bit, and another try for another", () => {
    const one = bytesOf(fill(touch()).work);
    expect(bytesOf(fill(touch()).work)).toEqual(one);
    expect(bytesOf(fill(touch({ seed: 1 })).work)).not.toEqual(one);
    expect(bytesOf(fill(touch(), 2).work)).not.toEqual(one);
  });

  it("stays away from where it is told to, and takes only from where it is told to", () => {
    const f = createFrame(W, H, YUV420);
    const rnd = random(3);
    // upright stripes on the left, level ones on the right; the hole lies between
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) f.planes[0].data[y * W + x] = 90 + (Math.floor((x < 82 ? x : y) / 5) % 2 ? 20 : 0) + Math.round(2 * rnd());
    f.planes[1].data.fill(128);
    f.planes[2].data.fill(128);
    const box = (x0: number, x1: number) => [
      [x0, 0],
      [x1, 0],
      [x1, H],
      [x0, H],
    ];
    /** How much more the filled picture changes across than down. */
    const across = (t: Touch) => {
      const work = copyFrame(f);
      applyTouch(work, t, { original: f, siting: "left" });
      const v = work.planes[0].data;
      let s = 0;
      for (let y = 46; y < 74; y++)
        for (let x = 70; x < 94; x++) s += Math.abs(v[y * W + x + 1] - v[y * W + x]) - Math.abs(v[(y + 1) * W + x] - v[y * W + x]);
      return s / (28 * 24);
    };
    expect(across(touch({ only: [{ outline: box(0, 62) }] }))).toBeGreaterThan(1);
    expect(across(touch({ avoid: [{ outline: box(0, 101) }] }))).toBeLessThan(-1);
  });

  it("finds the straight edges that go in and come out, and says so where nothing is left to take", () => {
    const luma = new Float32Array(W * H);
    const hole = new Uint8Array(W * H);
    // an edge along y = 20 + x / 2
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        luma[y * W + x] = y > 20 + x / 2 ? 160 : 60;
        hole[y * W + x] = x >= 60 && x < 100 && y >= 40 && y < 84 ? 1 : 0;
      }
    const lines = linesAcross(luma, W, H, hole, distanceTo(hole, W, H, 1));
    expect(lines.length).toBeGreaterThan(0);
    const { nx, ny, d } = lines[0];
    for (const x of [60, 80, 100]) expect(Math.abs(nx * x + ny * (20.5 + x / 2) - d)).toBeLessThan(0.8);
    const f = stripes();
    const all = touch({ outline: [[0, 0], [W, 0], [W, H], [0, H]] }); // prettier-ignore
    expect(() => applyTouch(copyFrame(f), all, { original: f, siting: "left" })).toThrow(/finds nothing to take from/);
  });

  it("tells how far it is, from 0 to 1, so that it can be followed and left off", () => {
    const f = stripes();
    const steps = [...touchSteps(copyFrame(f), touch({ seed: 99 }), { original: f, siting: "left" })];
    expect(steps.length).toBeGreaterThan(5);
    expect(steps.every((v, i) => v > (steps[i - 1] ?? 0) && v <= 1 + 1e-9)).toBe(true);
  });
});
