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
    const bowl = (u: number, v: number) => 1 - 0.4 * (u * u + v * v);
    const at = lightTrend(told(bowl, 0.002, 1), 0.001);
    for (const [u, v] of [[0, 0], [0, 0.3], [0.2, 0.45], [-0.3, 0.4]]) expect(Math.abs(at(u, v) - bowl(u, v))).toBeLessThan(0.02); // prettier-ignore
  });

  it("is even where there is nothing but noise, and along a slope, which a membrane holds by itself", () => {
    for (let seed = 1; seed <= 40; seed++)
      for (const slope of [0, 0.2]) {
        const at = lightTrend(
          told((u) => 1 + slope * u, 0.01, seed),
          0.001,
        );
        expect(at(0, 0.4)).toBe(at(-0.2, -0.3));
      }
  });

  it("does not run away from what was told, and tells nothing of nothing", () => {
    const steep = (u: number, v: number) => 1 + 8 * (u * u + v * v);
    const at = lightTrend(told(steep, 0, 3), 0.001);
    expect(at(0, 30)).toBeLessThanOrEqual(1 + 8 * 0.18 + 0.5 * 8 * 0.09 + 1e-9);
    expect(lightTrend([], 0.001)(0, 0)).toBe(0);
    expect(lightTrend([{ u: 0, v: 0, value: 3 }], 0.001)(5, 5)).toBe(3);
  });
});
