import { describe, expect, it } from "vitest";
import type { PatchLayer, Source } from "../document/layer";
import { proposeMatch } from "./proposal";

const patch = (source: Source): PatchLayer => ({ id: "l", kind: "patch", in: 0, out: 9, source, mask: { shapes: [] } });
const STILL = { drift: 0.002, flicker: 0.003 };

describe("how a patch should be matched", () => {
  it("a picture that stands still gets the footage's grain, whatever the light does", () => {
    for (const s of [{ take: "a", hold: 3 }, { plate: "p" }, { take: "a", from: 2, to: 5, repeat: "loop" as const }])
      expect(proposeMatch(patch(s), "a", STILL).grain).not.toBeNull();
  });
  it("one that moves has its own", () => {
    expect(proposeMatch(patch({ take: "a", slip: 12 }), "a", STILL)).toEqual({ light: null, grain: null });
    expect(proposeMatch(patch({ take: "a" }), "a", { drift: 0.3, flicker: 0.2 })).toEqual({ light: null, grain: null });
  });
  it("follows the light only where it moves: one gain where it flickers, along the rim where it drifts", () => {
    expect(proposeMatch(patch({ take: "a", hold: 3 }), "a", STILL).light).toBeNull();
    expect(proposeMatch(patch({ take: "a", hold: 3 }), "a", null).light).toBeNull();
    expect(proposeMatch(patch({ take: "a", hold: 3 }), "a", { drift: 0.01, flicker: 0.06 }).light).toEqual({
      by: "whole",
      why: "the light flickers by 6.0 %",
    });
    expect(proposeMatch(patch({ take: "a", slip: 12 }), "a", { drift: 0.22, flicker: 0.02 }).light).toEqual({
      by: "rim",
      why: "the light drifts by 22 %",
    });
  });
  it("a picture of another take follows the light always", () => {
    expect(proposeMatch(patch({ take: "b", slip: 0 }), "a", STILL).light?.by).toBe("rim");
  });
});
