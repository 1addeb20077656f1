import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { recipeWith, YUV420 } from "../../../testkit/pictures";
import { composeFrame } from "../compose/compose";
import type { PatchLayer } from "../document/layer";
import { createFrame, type Frame } from "../pixels/frame";
import { anywhere, localInTime, localRatio, readGrain, sigmaAt } from "./grain";
import { measureGrain } from "./measure-grain";
import { grainOver } from "./synthesis";

const [W, H] = [384, 192];
/** One level all over; the noise of its right half is three times that of its left one. */
const sigma = (x: number) => (x < W / 2 ? 1.2 : 3.6);
/** @param walker whether something of strong contrast passes on the left, elsewhere in each frame */
function frame(n: number, walker = false): Frame {
  const f = createFrame(W, H, YUV420);
  const normal = normals(100 + n);
  f.planes.forEach((plane, p) => {
    const k = W / plane.width;
    for (let y = 0, i = 0; y < plane.height; y++)
      for (let x = 0; x < plane.width; x++, i++) {
        const passes = walker && p === 0 && x < 96 && Math.floor((y + 29 * n) / 40) % 2 === 0;
        plane.data[i] = Math.round((p ? 128 : passes ? 60 + ((x * 7 + n * 31) % 90) : 110) + sigma(x * k) * normal());
      }
  });
  return f;
}
const measured = (walker = false) =>
  measureGrain(
    [0, 1, 2, 3].map((n) => [frame(n, walker), frame(n + 40, walker)] as const),
    [[frame(0), frame(1)]],
    1,
  )!;
const rounded = (s: number) => Math.sqrt(s * s + 1 / 12);

describe("grain that differs over the picture", () => {
  it("is measured where it is, at one and the same level", () => {
    const g = measured();
    for (const [p, k] of [
      [0, 1],
      [1, 2],
    ]) {
      const plane = g.planes[p];
      const at = localRatio(plane, W / k, H / k)!;
      const level = sigmaAt(plane, 1)(p ? 128 : 110);
      for (const x of [40, 100, 290, 350]) expect(Math.abs((level * at(x / k, 90 / k)) / rounded(sigma(x)) - 1)).toBeLessThan(0.12);
    }
  });

  it("what passes is not taken for it", () => {
    const plane = measured(true).planes[0];
    const at = localRatio(plane, W, H)!;
    for (const x of [10, 60, 150]) expect(sigmaAt(plane, 1)(110) * at(x, 90)).toBeLessThan(2.2);
  });

  it.each([
    ["a soft shape that was in one place", (x: number, y: number) => 45 * Math.exp(-((x - 100) ** 2 + (y - 90) ** 2) / 250)],
    ["the soft edge of a shadow that was there", (x: number, y: number) => -40 / (1 + Math.exp((Math.hypot(x - 70, y - 90) - 30) / 4))],
  ])("%s is not taken for it either", (_, moves) => {
    const there = (n: number) => {
      const f = frame(n);
      const normal = normals(300 + n);
      const { data } = f.planes[0];
      for (let y = 0, i = 0; y < H; y++)
        for (let x = 0; x < W; x++, i++) data[i] = Math.round(110 + (n < 40 ? moves(x, y) : 0) + sigma(x) * normal());
      return f;
    };
    const [plane] = measureGrain(
      Array.from({ length: 8 }, (_, n) => [there(n), there(n + 40)] as const),
      [[there(0), there(1)]],
      1,
    )!.planes;
    const at = localRatio(plane, W, H)!;
    for (const x of [70, 80, 90, 100, 110, 120]) expect(Math.abs((sigmaAt(plane, 1)(110) * at(x, 90)) / rounded(1.2) - 1)).toBeLessThan(0.3);
    expect(Math.abs((sigmaAt(plane, 1)(110) * at(300, 90)) / rounded(3.6) - 1)).toBeLessThan(0.12);
  });

  it("between the middles of cells it goes evenly, beyond the outer ones it holds", () => {
    const at = localRatio({ sigma: [[0, 1]], covariance: [], local: { across: 2, down: 2, ratio: [1, 2, 3, 4] } }, 6, 6)!;
    // the middles lie on samples 1 and 4
    expect([at(1, 1), at(4, 1), at(1, 4), at(0, 0), at(5, 5), at(-9, 99)]).toEqual([1, 2, 3, 1, 4, 3]);
    expect([at(2, 1), at(2, 3)]).toEqual([expect.closeTo(4 / 3, 9), expect.closeTo(1 + 1 / 3 + 4 / 3, 9)]);
    expect(localRatio({ sigma: [[0, 1]], covariance: [] }, 9, 9)).toBeNull();
  });

  it("is kept with the profile, left out where it is meant for other places, and refused where it is damaged", () => {
    const g = measured();
    const back = readGrain(JSON.stringify(g));
    expect(back).toEqual(g);
    expect(anywhere(back).planes.map((p) => [p.local, p.sigma])).toEqual(g.planes.map((p) => [undefined, p.sigma]));
    const bad = structuredClone(g);
    bad.planes[0].local!.ratio.pop();
    expect(() => readGrain(JSON.stringify(bad))).toThrow("measure the grain again");
  });

  it("within a box there is one for all", () => {
    const g = measureGrain([[frame(0), frame(40)]], [], 1, { x0: 200, y0: 10, x1: 380, y1: 180 })!;
    expect(g.planes[0].local).toBeUndefined();
  });

  it("a held picture has in each place what the footage has there", () => {
    const grain = measured();
    const patch: PatchLayer = {
      ...{ id: "l", kind: "patch", in: 0, out: 9, source: { take: "a", hold: 0 } },
      mask: { shapes: [{ kind: "box", op: "add", center: [W / 2, H / 2], size: [W - 40, H - 40] }] },
      grain: { profile: "g" },
    };
    const run = (n: number) =>
      composeFrame({
        recipe: recipeWith([patch], { profiles: { g: { data: "h" } } }),
        n,
        below: frame(n),
        pictures: { take: (_, k) => frame(k), plate: () => frame(0) },
        canvas: { width: W, height: H, scale: 1, siting: "left" },
        grains: new Map([["h", grain]]),
      }).planes[0].data;
    const [a, b] = [run(4), run(6)];
    for (const [x0, x1] of [
      [50, 150],
      [240, 340],
    ]) {
      let [time, space, n] = [0, 0, 0];
      for (let y = 40; y < H - 40; y++)
        for (let x = x0; x < x1; x++, n++) {
          time += (a[y * W + x] - b[y * W + x]) ** 2 / 2;
          space += (a[y * W + x] - 110) ** 2;
        }
      const true_ = rounded(sigma(x0)) ** 2;
      expect(time / n / true_).toBeGreaterThan(0.85);
      expect(time / n / true_).toBeLessThan(1.18);
      expect(space / n / true_).toBeGreaterThan(0.85);
      expect(space / n / true_).toBeLessThan(1.18);
    }
  });
});

describe("grain that holds on in parts of the picture", () => {
  const rect = { x0: 0, y0: 0, x1: W, y1: H };
  const white = { sigma: [[0, 1]] as [number, number][], covariance: Array.from({ length: 81 }, (_, i) => Number(i === 40)) };
  const key = { seed: 4, layer: "l", plane: 0 };
  /** Alike by 0.9 from frame to frame on the left, new in every frame on the right. */
  const lasts = (x: number) => (x < W / 2 ? 0.9 : 0);
  const field = (n: number) => grainOver(white, { inTime: 0, at: lasts }, { ...key, n }, rect);
  const likeness = (a: Float64Array, b: Float64Array, from: number, to: number) => {
    let [ab, aa, bb] = [0, 0, 0];
    for (let y = 0; y < H; y++)
      for (let x = from; x < to; x++) {
        const i = y * W + x;
        [ab, aa, bb] = [ab + a[i] * b[i], aa + a[i] * a[i], bb + b[i] * b[i]];
      }
    return { like: ab / Math.sqrt(aa * bb), variance: aa / ((to - from) * H) };
  };

  it("is made so: of variance 1 everywhere, alike where it is to be", () => {
    const [a, b] = [field(7), field(8)];
    for (const [from, to, like] of [
      [0, W / 2, 0.9],
      [W / 2, W, 0],
    ]) {
      const got = likeness(a, b, from, to);
      expect(Math.abs(got.like - like)).toBeLessThan(0.03);
      expect(Math.abs(got.variance - 1)).toBeLessThan(0.03);
    }
  });

  it("is as alike as its place says, be it less than in the whole take, and lasts as that does", () => {
    // in the whole take 0.4 from frame to frame, of which 0.16 is carried on
    const whole = { inTime: 0.4, held: 0.16, at: (x: number) => (x < W / 2 ? 0.1 : 0.6) };
    const over = (n: number) => grainOver(white, whole, { ...key, n }, rect);
    const [a, b, c] = [over(24), over(25), over(30)];
    for (const [from, to, like] of [
      [0, W / 2, 0.1],
      [W / 2, W, 0.6],
    ]) {
      const next = likeness(a, b, from, to);
      expect(Math.abs(next.like - like)).toBeLessThan(0.04);
      expect(Math.abs(next.variance - 1)).toBeLessThan(0.03);
      // six frames on what fades has gone, and of what is carried on a part
      const later = likeness(a, c, from, to).like;
      expect(later).toBeGreaterThan(0.85 * 0.4 * like - 0.04);
      expect(later).toBeLessThan(0.4 * like + 0.06);
    }
  });

  it("is the same whichever part is asked for, whatever holds on", () => {
    const time = { inTime: 0.4, held: 0.16, at: lasts };
    const whole = grainOver(white, time, { ...key, n: 7 }, rect);
    const part = grainOver(white, time, { ...key, n: 7 }, { x0: 150, y0: 40, x1: 230, y1: 60 });
    for (let y = 0; y < 20; y++) for (let x = 0; x < 80; x++) expect(part[y * 80 + x]).toBe(whole[(y + 40) * W + x + 150]);
  });

  it("is found where it is", () => {
    const film = (n: number) => {
      const f = createFrame(W, H, YUV420);
      const noise = field(n);
      f.planes.forEach((plane, p) => plane.data.forEach((_, i) => (plane.data[i] = Math.round(p ? 128 : 110 + 3 * noise[i]))));
      return f;
    };
    const pairs = (lag: number) => [0, 9, 21, 40].map((n) => [film(n), film(n + lag)] as const);
    const g = measureGrain(pairs(60), pairs(1), 1, undefined, pairs(6))!;
    expect(readGrain(JSON.stringify(g))).toEqual(g);
    const at = localInTime(g.planes[0], W, H)!;
    for (const x of [20, 80, 130]) expect(Math.abs(at(x, 90) - 0.9)).toBeLessThan(0.05);
    for (const x of [240, 300, 370]) expect(at(x, 90)).toBeLessThan(0.05);
    expect(localInTime(measured().planes[0], W, H)!(60, 90)).toBeLessThan(0.08);
    const bad = structuredClone(g);
    bad.planes[0].local!.inTime![3] = 1.2;
    expect(() => readGrain(JSON.stringify(bad))).toThrow("measure the grain again");
  });
});
