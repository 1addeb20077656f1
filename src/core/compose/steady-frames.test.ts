import { describe, expect, it } from "vitest";
import { recipeWith } from "../../../testkit/pictures";
import type { PatchLayer } from "../document/layer";
import type { GrainStatistics } from "../match/grain";
import { noiseAlike, steadyFrames } from "./steady-frames";

const patch = (from: number, to: number, hold: number, more: Partial<PatchLayer> = {}): PatchLayer => ({
  ...{ id: `${from}`, kind: "patch", in: from, out: to, source: { take: "a", hold } },
  mask: { shapes: [{ kind: "box", op: "add", center: [9, 9], size: [8, 8] }] },
  grain: { profile: "g" },
  ...more,
});
const framesOf = (layers: PatchLayer[], to: number) =>
  steadyFrames(recipeWith(layers, { shot: { take: "a", in: 0, out: to } }), layers[0])
    .map((r) => r.frame)
    .toSorted((a, b) => a - b);

describe("the frames a held picture is averaged with", () => {
  it("are those nearest to it in which nothing of the intruder's is mended, far apart where there is room", () => {
    const list = framesOf([patch(40, 120, 30)], 300);
    expect(list).toHaveLength(8);
    expect(list.filter((n) => n >= 40 && n <= 120)).toEqual([]);
    const all = [...list, 30].toSorted((a, b) => a - b);
    all.slice(1).forEach((n, i) => expect(n - all[i]).toBeGreaterThanOrEqual(9));
  });

  it("lie nearer together where few are clean; layers that are switched off count for nothing", () => {
    const list = framesOf([patch(14, 37, 12)], 47);
    expect(list).toHaveLength(8);
    expect(list.filter((n) => n >= 14 && n <= 37)).toEqual([]);
    expect(framesOf([patch(14, 20, 12), patch(21, 37, 40, { on: false })], 47).some((n) => n > 20 && n < 38)).toBe(true);
    expect(framesOf([patch(14, 20, 12), patch(21, 37, 40)], 47).some((n) => n > 20 && n < 38)).toBe(false);
  });

  it("lie about it where the intruder never is away", () => {
    expect(framesOf([patch(0, 99, 40)], 99)).toEqual([4, 13, 22, 31, 49, 58, 67, 76]);
  });

  it("are none without grain, for pictures that move, and for another take's", () => {
    expect(framesOf([patch(14, 37, 12, { grain: undefined })], 47)).toEqual([]);
    expect(framesOf([patch(14, 37, 0, { source: { take: "a", slip: 3 } })], 47)).toEqual([]);
    expect(framesOf([patch(14, 37, 0, { source: { take: "b", hold: 3 } })], 47)).toEqual([]);
  });

  it("share as much of their noise as frames do that lie so far apart", () => {
    const l = patch(14, 37, 12);
    const recipe = recipeWith([l], { shot: { take: "a", in: 0, out: 47 } });
    const alike = (g: Pick<GrainStatistics, "inTime" | "held">) => noiseAlike(recipe, l, [{ take: "a", frame: 6 }, { take: "a", frame: 46 }], { planes: [], ...g }); // prettier-ignore
    expect(alike({ inTime: 0 })).toBe(0);
    // pairs 6, 34 and 40 frames apart: all of what is held, 6/34 of it, nothing
    expect(alike({ inTime: 0.5, held: 0.5 })).toBeCloseTo((0.5 + (0.5 * 6) / 34 + 0) / 3, 9);
    expect(alike({ inTime: 0.5 })).toBeCloseTo((0.5 ** 6 + 0.5 ** 34 + 0.5 ** 40) / 3, 9);
  });
});
