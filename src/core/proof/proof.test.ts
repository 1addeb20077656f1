import { describe, expect, it } from "vitest";
import { LAGS, type PlaneGrain } from "../match/grain";
import type { PlaneAsk } from "../match/ring";
import { grainOver } from "../match/synthesis";
import type { Frame, Plane } from "../pixels/frame";
import { random } from "../random";
import { normals } from "../../../testkit/normals";
import { GrainInTime } from "./energy";
import { apart } from "./place";
import { rimOff } from "./rim";

const SIDE = 2 * LAGS + 1;
const white = (sigma: number): PlaneGrain => ({
  sigma: [
    [16, sigma],
    [235, sigma],
  ],
  covariance: Array.from({ length: SIDE * SIDE }, (_, i) => Number(i === LAGS * SIDE + LAGS)),
});
/** Noise whose neighbours are alike by ½, ¼ …: a separable first-order process, whose covariance is ½^|dx| · ½^|dy|. */
const soft = (sigma: number): PlaneGrain => ({
  ...white(sigma),
  covariance: Array.from({ length: SIDE * SIDE }, (_, i) => 0.5 ** (Math.abs((i % SIDE) - LAGS) + Math.abs(Math.floor(i / SIDE) - LAGS))),
});
const [W, H] = [160, 120];
const grey = (value = 100): Plane => ({ width: W, height: H, data: new Uint16Array(W * H).fill(value * 4) }) as Plane;
/** A box of α 1 in the middle of a plane. */
const ask = (below: Plane, off: (x: number, y: number) => number): PlaneAsk => ({
  alpha: { x0: 50, y0: 40, x1: 110, y1: 80, data: new Float32Array(60 * 40).fill(1) } as never,
  below,
  value: (x, y) => below.data[y * W + x] + off(x, y),
  counts: () => true,
  shift: { sx: 0, sy: 0 },
  unit: 4,
});

describe("how far off a rim is", () => {
  it("an even difference is said as it is, in codes of 8 bits", () => {
    for (const off of [0, 0.3, -7, 40])
      expect(
        rimOff(
          ask(grey(), () => 4 * off),
          6,
          24,
          24,
        ),
      ).toBeCloseTo(Math.abs(off), 6);
  });
  it("a side that is off counts, though the other three are not", () => {
    expect(
      rimOff(
        ask(grey(), (x) => (x >= 110 ? 8 : 0)),
        0,
        3,
        24,
      ),
    ).toBeGreaterThan(1.5);
  });
  it("only the band that is asked about, and what may be asked", () => {
    const near = (x: number, y: number) => (x >= 47 && x < 113 && y >= 37 && y < 83 ? 20 : 0);
    expect(rimOff(ask(grey(), near), 6, 24, 24)).toBe(0);
    expect(rimOff(ask(grey(), near), 0, 3, 24)).toBeCloseTo(5, 6);
    expect(rimOff({ ...ask(grey(), () => 8), counts: () => false }, 6, 24, 24)).toBeNull();
  });
});

describe("grain in time", () => {
  const noisy = (grain: PlaneGrain, n: number, strength = 1): Frame => {
    const field = grainOver(grain, { inTime: 0 }, { seed: 3, layer: "x", plane: 0, n }, { x0: 0, y0: 0, x1: W, y1: H });
    const out = grey();
    for (let i = 0; i < field.length; i++) out.data[i] = Math.round(4 * (100 + strength * grain.sigma[0][1] * field[i]));
    return { width: W, height: H, format: { model: "gray", bits: 10, subX: 0, subY: 0, alpha: false }, planes: [out] };
  };
  /** What is told of a patch over all of a picture, of whose footage other frames are known. */
  const told = (footage: Frame[], patch: Frame[], width = W) => {
    const g = new GrainInTime({ x0: 0, y0: 0, x1: width, y1: H });
    const all = () => true;
    for (let n = 1; n < footage.length; n++) g.addFootage(footage[n - 1], footage[n], all);
    for (let n = 1; n < patch.length; n++) g.addPatch(patch[n - 1], patch[n], all);
    return g.result();
  };
  const frames = (g: PlaneGrain, from: number, strength = 1) => Array.from({ length: 6 }, (_, n) => noisy(g, from + n, strength));
  for (const [name, make] of [
    ["white", white],
    ["soft", soft],
  ] as const)
    for (const sigma of [0.8, 3, 8]) {
      it(`${name}, σ ${sigma}: as much as the footage's own, twice of doubled, none of a picture that stands still`, () => {
        const g = make(sigma);
        const own = frames(g, 1);
        const ratio = (patch: Frame[]) => {
          const r = told(own, patch)!;
          return r.patch / r.footage;
        };
        expect(Math.abs(ratio(frames(g, 20)) - 1)).toBeLessThan(0.06);
        expect(Math.abs(ratio(frames(g, 20, 2)) - 2)).toBeLessThan(0.12);
        expect(ratio(Array.from({ length: 6 }, () => own[0]))).toBe(0);
      });
    }
  it("a light that changes is no grain, and too little of the picture says nothing", () => {
    const g = white(2);
    const brighter = frames(g, 20).map((f, n) => ({ ...f, planes: [{ ...f.planes[0], data: f.planes[0].data.map((v) => v + 12 * n) }] }));
    const r = told(frames(g, 1), brighter)!;
    expect(Math.abs(r.patch / r.footage - 1)).toBeLessThan(0.06);
    expect(told(frames(g, 1), frames(g, 20), 16)).not.toBeNull();
    expect(told(frames(g, 1), frames(g, 20).slice(0, 2), 16)).toBeNull();
  });
});

describe("how far two pictures lie apart", () => {
  const [w, h] = [120, 90];
  const rnd = random(5);
  const waves = Array.from({ length: 24 }, () => ({ x: 0.6 * rnd() - 0.3, y: 0.6 * rnd() - 0.3, at: 7 * rnd(), by: 6 * rnd() }));
  const scene = (x: number, y: number) => 110 + waves.reduce((s, k) => s + k.by * Math.sin(k.x * x + k.y * y + k.at), 0);
  const shot = (dx: number, dy: number, gain: (x: number) => number, seed: number, sigma = 1) => {
    const normal = normals(seed);
    return Float32Array.from({ length: w * h }, (_, i) => gain(i % w) * scene((i % w) - dx, Math.floor(i / w) - dy) + sigma * normal());
  };
  /** A ring: what lies under the patch does not count. */
  const counts = Uint8Array.from({ length: w * h }, (_, i) => Number(i % w < 40 || i % w > 80 || i / w < 30 || i / w > 60));
  for (const [dx, dy] of [
    [0, 0],
    [0.25, -0.1],
    [1.5, 0.5],
    [-6, 4],
  ])
    it(`${dx}, ${dy} px, also under light that changes across the picture`, () => {
      for (const gain of [() => 1, (x: number) => 0.9 + (0.2 * x) / w]) {
        const found = apart({ width: w, height: h, a: shot(0, 0, () => 1, 1), b: shot(dx, dy, gain, 2), counts })!;
        // half a pixel is the worst for linear reading
        expect(Math.hypot(found.dx - dx, found.dy - dy)).toBeLessThan(0.1);
        expect(found.error).toBeLessThan(0.06);
      }
    });
  it("says how unsure it is of a plain wall", () => {
    const plain = (seed: number) => shot(0, 0, () => 0, seed, 2);
    const found = apart({ width: w, height: h, a: plain(1), b: plain(2), counts });
    expect(found === null || found.alike < 0.5).toBe(true);
  });
});
