import { describe, expect, it } from "vitest";
import type { Plane } from "../pixels/frame";
import { movedPlane } from "../pixels/resample";
import { random } from "../random";
import type { PlaneAlpha } from "../shape/chroma";
import { layOver, layUnrounded } from "./over";

/** Laying values between codes (design: out = round(clip(a·P + (1 − a)·below + g·√max(0, σ² − (1 − a)²σ² − a²σ_s²)))), against the integer *over*. */
const W = 64;
const H = 40;
const rnd = random(11);
const plane = (make: (x: number, y: number) => number, wide = false): Plane => {
  const data = wide ? new Uint16Array(W * H) : new Uint8Array(W * H);
  for (let i = 0; i < data.length; i++) data[i] = make(i % W, Math.floor(i / W));
  return { width: W, height: H, data };
};
const alphaOf = (make: (x: number, y: number) => number): PlaneAlpha => {
  const [x0, y0, x1, y1] = [5, 4, W - 3, H - 6];
  const data = new Float64Array((x1 - x0) * (y1 - y0));
  for (let i = 0; i < data.length; i++) data[i] = make(x0 + (i % (x1 - x0)), y0 + Math.floor(i / (x1 - x0)));
  return { x0, y0, x1, y1, data };
};
const noise = (top: number) => () => Math.floor(rnd() * (top + 1));

describe("laying values between codes", () => {
  for (const top of [255, 1023, 65535])
    it(`of whole codes is the integer over, but for exact halves (codes to ${top})`, () => {
      for (let round = 0; round < 20; round++) {
        const [below, source] = [plane(noise(top), top > 255), plane(noise(top), top > 255)];
        const alpha = alphaOf(() => (rnd() < 0.2 ? 0 : rnd() < 0.2 ? 1 : rnd()));
        const opacity = round % 2 ? 1 : rnd();
        const [a, b] = [structuredClone(below), structuredClone(below)];
        const moved = movedPlane(source, 2, -1, top);
        layOver(a, moved, alpha, opacity);
        layUnrounded(b, moved.value, alpha, opacity, top);
        for (let i = 0; i < a.data.length; i++) expect(Math.abs(a.data[i] - b.data[i])).toBeLessThanOrEqual(1);
        // a half is what remains of 2¹⁶ − 1 steps only where both codes differ by an odd count of halves: next to never
        expect(a.data.filter((v, i) => v !== b.data[i]).length).toBeLessThan(6);
      }
    });

  it("writes nothing where α is 0, and the value itself where it is 1", () => {
    const below = plane(noise(255));
    const alpha = alphaOf((x) => (x < 20 ? 0 : 1));
    const out = structuredClone(below);
    layUnrounded(out, (x, y) => x + y / 100 - 20, alpha, 1, 255);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const inside = x >= 20 && x < alpha.x1 && y >= alpha.y0 && y < alpha.y1;
        expect(out.data[y * W + x]).toBe(inside ? Math.min(255, Math.max(0, Math.round(x + y / 100 - 20))) : below.data[y * W + x]);
      }
  });

  it("rounds once: a flat value between two codes keeps its mean under noise, which rounding before does not", () => {
    const below = plane(() => 100);
    const out = structuredClone(below);
    const normal = () => Math.sqrt(-2 * Math.log(rnd() + 1e-12)) * Math.cos(2 * Math.PI * rnd());
    const alpha = alphaOf(() => 1);
    let [sum, n] = [0, 0];
    for (let round = 0; round < 12; round++) {
      layUnrounded(out, () => 100.3, alpha, 1, 255, { unit: normal, wanted: () => 1.44, left: () => 0 });
      for (let y = alpha.y0; y < alpha.y1; y++) for (let x = alpha.x0; x < alpha.x1; x++, n++) sum += out.data[y * W + x];
    }
    expect(sum / n).toBeCloseTo(100.3, 1);
  });

  it("gives every α the noise that is wanted: what the picture below and the source have is counted", () => {
    const normal = () => Math.sqrt(-2 * Math.log(rnd() + 1e-12)) * Math.cos(2 * Math.PI * rnd());
    const sigma = 8;
    for (const [a, own] of [
      [1, 0],
      [0.5, 0],
      [0.3, 5],
      [0.9, 8],
      [1, 8],
    ]) {
      const alpha = alphaOf(() => a);
      let [sum, squares, n] = [0, 0, 0];
      for (let round = 0; round < 20; round++) {
        const out = plane(() => Math.round(500 + sigma * normal()), true);
        layUnrounded(out, () => 500 + own * normal(), alpha, 1, 1023, { unit: normal, wanted: () => sigma ** 2, left: () => own ** 2 });
        for (let y = alpha.y0; y < alpha.y1; y++)
          for (let x = alpha.x0; x < alpha.x1; x++, n++) {
            const v = out.data[y * W + x] - 500;
            sum += v;
            squares += v * v;
          }
      }
      // a source that is noisier than it may be stays so: nothing is taken away
      const least = Math.sqrt((1 - a) ** 2 * sigma ** 2 + a ** 2 * own ** 2);
      expect(Math.sqrt(squares / n - (sum / n) ** 2), `α ${a}, own noise ${own}`).toBeCloseTo(Math.max(sigma, least), 0);
    }
  });
});
