import { describe, expect, it } from "vitest";
import type { PatchLayer, Source } from "../document/layer";
import type { LightCurve } from "../survey/daylight";
import { proposeMatch } from "./proposal";

const patch = (source: Source): PatchLayer => ({ id: "l", kind: "patch", in: 0, out: 9, source, mask: { shapes: [] } });
/** Light that goes as luma is told, with a tint of Cb and Cr by the frame. */
const light = (drift: number, flicker: number, tint: (n: number) => [number, number] = () => [0, 0]): LightCurve => ({
  drift,
  flicker,
  perFrame: Array.from({ length: 60 }, (_, n): [number, number][] => [[1, 0], [1, tint(n)[0]], [1, tint(n)[1]]]), // prettier-ignore
});
const STILL = light(0.002, 0.003);

describe("how a patch should be matched", () => {
  it("a picture that stands still gets the footage's grain, whatever the light does", () => {
    for (const s of [{ take: "a", hold: 3 }, { plate: "p" }, { take: "a", from: 2, to: 5, repeat: "loop" as const }])
      expect(proposeMatch(patch(s), "a", STILL).grain).not.toBeNull();
  });
  it("one that moves has its own", () => {
    expect(proposeMatch(patch({ take: "a", slip: 12 }), "a", STILL)).toEqual({ light: null, grain: null });
    expect(proposeMatch(patch({ take: "a" }), "a", light(0.3, 0.2))).toEqual({ light: null, grain: null });
  });
  it("follows the light only where it moves: one gain where it flickers, along the rim where it drifts", () => {
    expect(proposeMatch(patch({ take: "a", hold: 3 }), "a", STILL).light).toBeNull();
    expect(proposeMatch(patch({ take: "a", hold: 3 }), "a", null).light).toBeNull();
    expect(proposeMatch(patch({ take: "a", hold: 3 }), "a", light(0.01, 0.06)).light).toEqual({
      by: "whole",
      why: "the light flickers by 6.0 %",
    });
    expect(proposeMatch(patch({ take: "a", slip: 12 }), "a", light(0.22, 0.02)).light).toEqual({
      by: "rim",
      why: "the light drifts by 22 %",
    });
  });
  it("follows light along the rim that moves in parts of the picture, though that of the whole holds or flickers", () => {
    const parts = (l: LightCurve, uneven: number) => proposeMatch(patch({ take: "a", hold: 3 }), "a", { ...l, uneven }).light;
    expect(parts(STILL, 0.08)).toEqual({ by: "rim", why: "the light moves in parts of the picture by 8.0 %" });
    expect(parts(STILL, 0.008)).toBeNull();
    expect(parts(light(0.01, 0.06), 0.1)?.by).toBe("rim");
    expect(parts(light(0.22, 0.02), 0.03)?.by).toBe("rim");
    // everywhere alike, one gain is the steadier
    expect(parts(light(0.22, 0.02), 0.013)).toEqual({ by: "whole", why: "the light drifts by 22 %, everywhere alike" });
  });
  it("a picture of another take follows the light always", () => {
    expect(proposeMatch(patch({ take: "b", slip: 0 }), "a", STILL).light?.by).toBe("rim");
  });
  it("follows a white balance that walks, though its luma holds", () => {
    const walking = light(0.004, 0.002, (n) => [3 * Math.sin(n / 11), -3 * Math.sin(n / 11)]);
    expect(proposeMatch(patch({ take: "a", hold: 3 }), "a", walking).light?.why).toMatch(/^the tint of the light moves by [56]\.\d codes$/);
    expect(
      proposeMatch(
        patch({ take: "a", hold: 3 }),
        "a",
        light(0.004, 0.002, (n) => [0.1 * Math.sin(n / 11), 0]),
      ).light,
    ).toBeNull();
    // one that jumps from frame to frame is one, too
    expect(
      proposeMatch(
        patch({ take: "a", hold: 3 }),
        "a",
        light(0.004, 0.002, (n) => [n % 2 ? 1 : -1, 0]),
      ).light?.by,
    ).toBe("rim");
  });
});
