import { describe, expect, it } from "vitest";
import { cutOf } from "./cut";
import { edgeAlpha } from "./edge";

/** A thing that moved while a shutter was open, laid over a ground, both textured; from how pictures come to be: the mean over that time. */
function moved(length: number, [dx, dy]: readonly [number, number], found = 0.04) {
  const [w, h] = [320, 240];
  const noise = (i: number) => {
    const v = Math.sin(i * 12.9898) * 43758.5453;
    return v - Math.floor(v) - 0.5;
  };
  // values on a lattice of five pixels, and what lies between them
  const texture = (x: number, y: number) => {
    const [u, v] = [x / 5, y / 5];
    const [i, j, a, b] = [Math.floor(u), Math.floor(v), u - Math.floor(u), v - Math.floor(v)];
    const at = (m: number, n: number) => noise(97 * m + 1231 * n + 7);
    return (1 - b) * ((1 - a) * at(i, j) + a * at(i + 1, j)) + b * ((1 - a) * at(i, j + 1) + a * at(i + 1, j + 1));
  };
  const speed = Math.hypot(dx, dy);
  const covers = (x: number, y: number) => x >= 80 && x < 240 && y >= 50 && y < 190;
  const ground = [0, 1, 2].map((p) =>
    Float32Array.from({ length: w * h }, (_, i) => [90, 118, 132][p] + (p ? 4 : 60) * texture(i % w, Math.floor(i / w))),
  );
  const share = new Float64Array(w * h);
  const seen = ground.map((g) => g.slice());
  const steps = Math.max(1, Math.round(3 * length));
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      let n = 0;
      const sums = [0, 0, 0];
      for (let k = 0; k < steps; k++) {
        const t = (((k + 0.5) / steps - 0.5) * length) / speed;
        const [u, v] = [x - t * dx, y - t * dy];
        if (!covers(u, v)) continue;
        n++;
        for (let p = 0; p < 3; p++) sums[p] += [200, 110, 150][p] + (p ? 4 : 24) * texture(u + 900, v);
      }
      share[i] = n / steps;
      for (let p = 0; p < 3; p++) seen[p][i] = sums[p] / steps + (1 - share[i]) * ground[p][i] + 1.5 * noise(3 * i + p);
    }
  const inside = Uint8Array.from(share, (s) => (s > found ? 1 : 0));
  const off = seen.map((s, p) => s.map((v, i) => v - ground[p][i]));
  const z = off[0].map((v, i) => Math.hypot(v, off[1][i], off[2][i]));
  return {
    cut: cutOf({ x0: 0, y0: 0, x1: w, y1: h }, inside, {
      rect: { x0: 0, y0: 0, x1: w, y1: h },
      seen,
      ground,
      off,
      z,
      says: [1, 0.25, 0.25],
      known: null,
      spreadAt: (_x, _y, out) => out.fill(1),
    }),
    share,
  };
}

const mean = (v: number[]) => v.reduce((a, b) => a + b, 0) / v.length;
/** How far shares are off the truth along the rims. */
const off = (alpha: Uint8Array, share: Float64Array) => {
  const list: number[] = [];
  share.forEach((s, i) => s > 0 && s < 1 && list.push(Math.abs(alpha[i] / 255 - s)));
  return mean(list);
};

describe("rims that movement has drawn out", () => {
  for (const [name, pace, open] of [
    ["across, half a frame open", [36, 0], 0.5],
    ["across the other way, open for most of it", [-24, 0], 0.875],
    ["aslant", [20, 14], 0.5],
    ["down", [0, 30], 0.375],
  ] as const)
    it(`have the shares that the shutter left them: ${name}`, () => {
      const { cut, share } = moved(open * Math.hypot(...pace), pace);
      const alpha = edgeAlpha(cut, pace);
      const [still, told] = [off(edgeAlpha(cut), share), off(alpha, share)];
      expect(told).toBeLessThan(0.07);
      expect(told).toBeLessThan(0.3 * still);
      // and the thing itself stays whole
      const whole = Array.from(alpha).filter((_, k) => share[k] >= 1 && cut.away[k] < -6);
      expect(Math.min(...whole)).toBeGreaterThan(180);
    });
  it("are told as well where the thinnest part of them was not found at all", () => {
    const { cut, share } = moved(18, [36, 0], 0.3);
    expect(off(edgeAlpha(cut, [36, 0]), share)).toBeLessThan(0.07);
  });
  it("are sharp where a shutter was open for a moment, however fast it moves", () => {
    const { cut, share } = moved(0.5, [30, 0]);
    const [still, told] = [edgeAlpha(cut), edgeAlpha(cut, [30, 0])];
    expect(off(told, share)).toBeLessThan(0.3);
    expect(mean(Array.from(told, (v, i) => Math.abs(v - still[i])))).toBeLessThan(0.2);
  });
});
