import { describe, expect, it } from "vitest";
import { random } from "../random";
import type { PlaneAlpha } from "../shape/chroma";
import { normalBlur } from "./normal-blur";
import type { PlaneAsk } from "./ring";
import { noisePower, sharpened } from "./sharpen";
import { spreadBetween } from "./spread";

const [W, H] = [220, 160];
/** Bricks, beams and a disc with sharp edges: what a scene has of them. */
const scene = (seed: number) => {
  const rnd = random(seed);
  const big = new Float64Array(W * H).fill(110);
  for (let k = 0; k < 60; k++) {
    const [x0, y0, w, h, v] = [rnd() * W, rnd() * H, 6 + rnd() * 40, 4 + rnd() * 30, 40 + rnd() * 150];
    for (let y = Math.floor(y0); y < Math.min(H, y0 + h); y++) for (let x = Math.floor(x0); x < Math.min(W, x0 + w); x++) big[y * W + x] = v;
  }
  // as a lens shows it: no edge falls between two samples
  return normalBlur(big, W, H, 0.6);
};
const normal = (rnd: () => number) => Math.sqrt(-2 * Math.log(1 - rnd())) * Math.cos(2 * Math.PI * rnd());
const alpha: PlaneAlpha = (() => {
  const data = new Float64Array(60 * 40).fill(1);
  return { x0: 80, y0: 60, x1: 140, y1: 100, data };
})();

/** A patch whose picture is the scene blurred by `picture`, over footage of it blurred by `footage`, each with noise of its own. */
function ask(seed: number, picture: number, footage: number, { noise = 0, gain = 1, other = false, moved = 0 } = {}): PlaneAsk {
  const rnd = random(seed + 9);
  const noisy = (d: Float64Array, k = 1, o = 0) => d.map((v) => k * v + o + noise * normal(rnd));
  const shown = noisy(normalBlur(scene(other ? seed + 77 : seed), W, H, picture), gain, gain === 1 ? 0 : 6);
  const below = noisy(normalBlur(scene(seed), W, H, footage));
  const at = (x: number, y: number) => shown[Math.min(H - 1, Math.max(0, y)) * W + Math.min(W - 1, Math.max(0, x))];
  return {
    alpha,
    below: { width: W, height: H, data: Uint8Array.from(below, (v) => Math.round(Math.min(255, Math.max(0, v)))) },
    value: (x, y) => (moved ? (1 - moved) * at(x, y) + moved * at(x + 1, y) : at(x, y)),
    counts: (x, y) => x >= 0 && y >= 0 && x < W && y < H,
    shift: { sx: 0, sy: 0 },
    unit: 1,
  };
}

describe("the spread of edges between a picture and the footage", () => {
  it.each([0.5, 0.8, 1.2, 2, 3])("tells a blur of σ = %d px to a tenth of a pixel, either way", (sigma) => {
    for (const seed of [1, 2, 3]) {
      const sharper = spreadBetween(ask(seed, 0, sigma, { noise: 1.2 }))!.sigma;
      expect(Math.abs(sharper - sigma)).toBeLessThan(0.1 + 0.05 * sigma);
      const softer = spreadBetween(ask(seed, sigma, 0, { noise: 1.2 }))!.sigma;
      expect(Math.abs(softer + sigma)).toBeLessThan(0.1 + 0.05 * sigma);
    }
  });
  it("says that nothing is off where nothing is, in another light and with noise of 0 to 4 codes", () => {
    for (const noise of [0, 1, 2, 4])
      for (const seed of [4, 5]) {
        const s = spreadBetween(ask(seed, 0.4, 0.4, { noise, gain: 0.9 }));
        if (s) expect(s.sigma ** 2).toBeLessThan(0.2);
        if (noise < 3) expect(s).not.toBeNull();
      }
  });
  it("is not deceived by pictures that lie a third of a sample beside", () => {
    const s = spreadBetween(ask(6, 0, 1, { noise: 1, moved: 0.33 }))!;
    // reading between samples softens by itself: 0.33 · 0.67 px²
    expect(Math.abs(s.sigma ** 2 - (1 - 0.22 / 2))).toBeLessThan(0.25);
  });
  it("cannot tell where both show something else, or nothing that has edges", () => {
    expect(spreadBetween(ask(7, 0, 1, { other: true, noise: 1 }))).toBeNull();
    const flat = ask(8, 0, 1);
    expect(spreadBetween({ ...flat, value: () => 90, below: { ...flat.below, data: new Uint8Array(W * H).fill(90) } })).toBeNull();
  });
});

describe("a picture made softer or sharper", () => {
  const box = { x0: 20, y0: 20, x1: 200, y1: 140 };
  const reader = (d: Float64Array) => (x: number, y: number) => d[Math.min(H - 1, Math.max(0, y)) * W + Math.min(W - 1, Math.max(0, x))];
  const inBox = (of: (x: number, y: number) => number) => {
    const out: number[] = [];
    for (let y = box.y0; y < box.y1; y++) for (let x = box.x0; x < box.x1; x++) out.push(of(x, y));
    return out;
  };
  const rms = (a: number[], b: number[]) => Math.sqrt(a.reduce((s, v, i) => s + (v - b[i]) ** 2, 0) / a.length);

  it("softer is a blur by a normal curve, and nothing else; beyond its box it stays", () => {
    const d = scene(11);
    const soft = sharpened(reader(d), box, { across: -1.5, down: -1.5, smear: [0, 0] });
    const wanted = reader(normalBlur(d, W, H, 1.5));
    expect(rms(inBox(soft), inBox(wanted))).toBeLessThan(1e-9);
    expect(soft(5, 5)).toBe(d[5 * W + 5]);
  });
  it("sharper brings most of what a blur took back, and never beyond what lies around", () => {
    const d = scene(12);
    for (const sigma of [0.6, 1, 1.5]) {
      const soft = normalBlur(d, W, H, sigma);
      const sharp = sharpened(reader(soft), box, { across: sigma, down: sigma, smear: [0, 0] });
      expect(rms(inBox(sharp), inBox(reader(d)))).toBeLessThan(0.72 * rms(inBox(reader(soft)), inBox(reader(d))));
      let beyond = 0;
      for (let y = box.y0; y < box.y1; y++)
        for (let x = box.x0; x < box.x1; x++) {
          const near = [-1, 0, 1].flatMap((v) => [-1, 0, 1].map((u) => soft[(y + v) * W + x + u]));
          if (sharp(x, y) > Math.max(...near) || sharp(x, y) < Math.min(...near)) beyond++;
        }
      expect(beyond).toBe(0);
    }
  });
  it("smeared: a bright line of one sample becomes as long as the way, and as much darker", () => {
    const line = (x: number) => (x === 100 ? 240 : 0);
    const long = sharpened((x) => line(x), box, { across: 0, down: 0, smear: [8, 0] });
    const row = Array.from({ length: 60 }, (_, i) => long(70 + i, 60));
    expect(row.reduce((a, v) => a + v, 0)).toBeCloseTo(240, 6);
    expect(row.filter((v) => v > 10)).toHaveLength(9);
    expect(long(100, 60)).toBeCloseTo(30, 0);
    // along another way it is not
    expect(sharpened((_, y) => line(y + 20), box, { across: 0, down: 0, smear: [8, 0] })(100, 80)).toBeCloseTo(240, 6);
  });
  it("multiplies the variance of noise by as much as it says", () => {
    const rnd = random(3);
    const noise = Float64Array.from({ length: W * H }, () => normal(rnd));
    for (const s of [{ across: -1.2, down: -0.6, smear: [0, 0] }, { across: -0.7, down: -0.7, smear: [6, 0] }] as const) {
      const out = inBox(sharpened(reader(noise), box, s));
      const variance = out.reduce((a, v) => a + v * v, 0) / out.length;
      expect(variance / noisePower(s)).toBeGreaterThan(0.9);
      expect(variance / noisePower(s)).toBeLessThan(1.1);
    } // prettier-ignore
    expect(noisePower({ across: 0, down: 0, smear: [0, 0] })).toBe(1);
    expect(noisePower({ across: 1, down: 1, smear: [0, 0] })).toBeGreaterThan(4);
  });
});
