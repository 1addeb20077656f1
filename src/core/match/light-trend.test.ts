import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { lightTrend, type ToldLight } from "./light-trend";

/** What is told along the rim of a box of −0.3 … 0.3, but not where it reaches the lower border. */
function told(light: (u: number, v: number) => number, noise: number, seed: number): ToldLight[] {
  const normal = normals(seed);
  const out: ToldLight[] = [];
  for (let k = 0; k <= 12; k++) {
    const t = -0.3 + 0.05 * k;
    for (const [u, v] of [[t, -0.3], [-0.3, t], [0.3, t]]) out.push({ u, v, value: light(u, v) + noise * normal() }); // prettier-ignore
  }
  return out;
}

describe("the trend of a light told along a rim", () => {
  it("a bowl, as a lens makes it that breathes, goes on inside and to the border where nothing was told", () => {
    const bowl = (u: number, v: number) => 1 - 0.4 * ((u - 0.1) ** 2 + v * v);
    const at = lightTrend(told(bowl, 0.002, 1), 0.001);
    for (const [u, v] of [[0, 0], [0, 0.3], [0.2, 0.45], [-0.3, 0.4]]) expect(Math.abs(at(u, v) - bowl(u, v))).toBeLessThan(0.01); // prettier-ignore
  });

  it("a slope stays one, and where there is nothing but noise it is even", () => {
    const slope = (u: number, v: number) => 1 + 0.2 * u - 0.1 * v;
    const at = lightTrend(told(slope, 0.002, 2), 0.001);
    for (const [u, v] of [[0, 0], [0.1, 0.4], [-0.2, 0.3]]) expect(Math.abs(at(u, v) - slope(u, v))).toBeLessThan(0.004); // prettier-ignore
    for (let seed = 1; seed <= 40; seed++) {
      const even = lightTrend(
        told(() => 1, 0.01, seed),
        0.001,
      );
      expect(even(0, 0.4)).toBe(even(-0.2, -0.3));
    }
  });

  it("does not run away from what was told, and tells nothing of nothing", () => {
    const steep = (_: number, v: number) => 1 + 8 * v * v;
    const at = lightTrend(told(steep, 0, 3), 0.001);
    expect(at(0, 30)).toBeLessThanOrEqual(1 + 1.5 * 8 * 0.09 + 1e-9);
    expect(lightTrend([], 0.001)(0, 0)).toBe(0);
    expect(lightTrend([{ u: 0, v: 0, value: 3 }], 0.001)(5, 5)).toBe(3);
  });
});
