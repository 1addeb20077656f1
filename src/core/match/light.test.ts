import { describe, expect, it } from "vitest";
import { random } from "../random";
import { lightBetween } from "./light";

/** Normal deviates (Box & Muller 1958). */
const normals = (seed: number) => {
  const rnd = random(seed);
  return () => Math.sqrt(-2 * Math.log(rnd() + 1e-12)) * Math.cos(2 * Math.PI * rnd());
};

/** Two pictures' cells: what is there, spread about `middle`, read twice with its own noise, the second time in another light. */
function pictures(o: {
  seed: number;
  n?: number;
  pivot: number;
  middle: number;
  spread: number;
  noise: number;
  gain: number;
  offset: number;
  strange?: number;
}) {
  const rnd = random(o.seed);
  const normal = normals(o.seed + 1000);
  const truth = Array.from({ length: o.n ?? 1500 }, () => o.middle + o.spread * (2 * rnd() - 1));
  const before = truth.map((v) => v + o.noise * normal());
  const after = truth.map((v, i) =>
    i < truth.length * (o.strange ?? 0) ? 10 + 230 * rnd() : o.pivot + o.gain * (v - o.pivot) + o.offset + o.noise * normal(),
  );
  return { before, after };
}

describe("light between two pictures, against what was put in", () => {
  const LUMA = { pivot: 16, middle: 115, spread: 60, noise: 0.3 };
  for (const offset of [-30, -12, -6, -1, 0, 0.6, 3, 6, 15, 30])
    for (const gain of [0.5, 0.8, 0.97, 1, 1.04, 1.25])
      it(`luma: gain ${gain}, offset ${offset}, a third of the places something else`, () => {
        const { before, after } = pictures({ seed: 7, ...LUMA, gain, offset, strange: 0.33 });
        const l = lightBetween(before, after, 16);
        expect(Math.abs(l.gain - gain)).toBeLessThan(0.004);
        expect(Math.abs(l.offset - offset)).toBeLessThan(0.3);
      });

  for (const offset of [-8, -3, 0, 3, 8])
    for (const gain of [0.7, 1, 1.3])
      for (const spread of [1, 3, 20])
        it(`chroma that spreads by ±${spread}: gain ${gain}, offset ${offset}`, () => {
          // noise of a mean of 64 samples of σ 1.6
          const { before, after } = pictures({ seed: 11, pivot: 128, middle: 124, spread, noise: 0.2, gain, offset, strange: 0.2 });
          const l = lightBetween(before, after, 128);
          expect(Math.abs(l.gain - gain)).toBeLessThan(spread > 2 ? 0.02 : 0.06);
          // what it does to the values that are there
          const at = (v: number) => 128 + l.gain * (v - 128) + l.offset;
          for (const v of [124 - spread, 124, 124 + spread]) expect(Math.abs(at(v) - (128 + gain * (v - 128) + offset))).toBeLessThan(0.08);
        });

  it("noise alone makes no gain: single samples of a plane without contrast", () => {
    for (const [seed, noise] of [
      [1, 0.2],
      [2, 1.5],
      [3, 4],
    ]) {
      // prettier-ignore
      const { before, after } = pictures({ seed, n: 3000, pivot: 128, middle: 127, spread: 0, noise, gain: 1, offset: 2 });
      const l = lightBetween(before, after, 128);
      expect(Math.abs(l.gain - 1)).toBeLessThan(0.35);
      expect(Math.abs(128 + l.gain * (127 - 128) + l.offset - 129)).toBeLessThan(0.2);
    }
  });

  it("noise does not pull a gain down: single samples of a plane of little contrast", () => {
    for (const seed of [1, 2, 3]) {
      const { before, after } = pictures({ seed, n: 3000, pivot: 128, middle: 120, spread: 8, noise: 1.5, gain: 1, offset: 0 });
      // plain least squares: 0.90; three standard errors are 0.026
      expect(Math.abs(lightBetween(before, after, 128).gain - 1)).toBeLessThan(0.035);
    }
  });

  it("of a flat picture it is a gain", () => {
    const { before, after } = pictures({ seed: 5, pivot: 16, middle: 116, spread: 0.2, noise: 0.2, gain: 1.05, offset: 0 });
    const l = lightBetween(before, after, 16);
    expect(Math.abs(l.gain - 1.05)).toBeLessThan(0.02);
    expect(Math.abs(16 + l.gain * 100 + l.offset - 121)).toBeLessThan(0.05);
  });

  it("leaves equal pictures alone", () => {
    const v = Array.from({ length: 200 }, (_, i) => 20 + i);
    expect(lightBetween(v, v, 16)).toEqual({ gain: 1, offset: 0 });
  });
});
