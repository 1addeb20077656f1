import { describe, expect, it } from "vitest";
import type { EvenLightLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { lightCurves } from "./curves";

const gains = { gain: Array.from({ length: 40 }, (_, n) => (n % 2 ? 1.05 : 0.95)), cuts: [] };
const layer = (way: "steady" | "lively", amount = 1): EvenLightLayer => ({ id: way, kind: "evenlight", in: 0, out: 39, way, amount, data: "g" });
const recipe = (...layers: EvenLightLayer[]) => ({ intruders: [{ id: "i", name: "Flicker", layers }] }) as unknown as Recipe;
const swing = (of: number[]) => Math.max(...of) - Math.min(...of);

describe("the light of a shot", () => {
  it("that nothing is done to is rendered as it was taken", () => {
    const c = lightCurves(recipe(), gains, 0, 39);
    expect(c.taken).toEqual(gains.gain);
    expect([c.below, c.rendered]).toEqual([c.taken, c.taken]);
  });
  it("is steady below the patches and as it was taken behind them, where all of it is put back", () => {
    const c = lightCurves(recipe(layer("steady"), layer("lively")), gains, 0, 39);
    expect(swing(c.below)).toBeLessThan(0.02);
    c.rendered.forEach((v, n) => expect(v).toBeCloseTo(gains.gain[n], 9));
  });
  it("swings by half where half of the flicker is taken off, or put back", () => {
    for (const layers of [[layer("steady", 0.5)], [layer("steady"), layer("lively", 0.5)]]) {
      const { rendered } = lightCurves(recipe(...layers), gains, 5, 34);
      expect(rendered).toHaveLength(30);
      expect(swing(rendered)).toBeGreaterThan(0.045);
      expect(swing(rendered)).toBeLessThan(0.055);
    }
  });
});
