import { describe, expect, it } from "vitest";
import { LAGS, type PlaneGrain } from "../match/grain";
import type { PlaneAsk } from "../match/ring";
import { grainOver } from "../match/synthesis";
import type { Plane } from "../pixels/frame";
import { grainEnergy } from "./grain-energy";
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
  const noisy = (grain: PlaneGrain, n: number, strength = 1): Plane => {
    const field = grainOver(grain, { inTime: 0 }, { seed: 3, layer: "x", plane: 0, n }, { x0: 0, y0: 0, x1: W, y1: H });
    const out = grey();
    for (let i = 0; i < field.length; i++) out.data[i] = Math.round(4 * (100 + strength * grain.sigma[0][1] * field[i]));
    return out;
  };
  const where = { x0: 0, y0: 0, x1: W, y1: H, inside: () => true };
  for (const [name, make] of [
    ["white", white],
    ["soft", soft],
  ] as const)
    for (const sigma of [0.8, 3, 8]) {
      it(`${name}, σ ${sigma}: 1 for the footage's own, 4 for doubled, 0 for a picture that stands still`, () => {
        const g = make(sigma);
        expect(Math.abs(grainEnergy(noisy(g, 1), noisy(g, 2), where, g, 0, 4)! - 1)).toBeLessThan(0.12);
        expect(Math.abs(grainEnergy(noisy(g, 1, 2), noisy(g, 2, 2), where, g, 0, 4)! - 4)).toBeLessThan(0.45);
        expect(grainEnergy(noisy(g, 1), noisy(g, 1), where, g, 0, 4)).toBe(0);
      });
    }
  it("a light that changes is no grain, and too little of the picture says nothing", () => {
    const g = white(2);
    const brighter = noisy(g, 2);
    for (let i = 0; i < brighter.data.length; i++) brighter.data[i] += 60;
    expect(Math.abs(grainEnergy(noisy(g, 1), brighter, where, g, 0, 4)! - 1)).toBeLessThan(0.12);
    expect(grainEnergy(noisy(g, 1), noisy(g, 2), { ...where, x1: 40, y1: 40 }, g, 0, 4)).toBeNull();
  });
});
