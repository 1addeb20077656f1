import { describe, expect, it } from "vitest";
import { LONG, HIGH, BAR, mended, type Stage, stageFrame, WIDE } from "../../../testkit/mended";
import { YUV420 } from "../../../testkit/pictures";
import type { PatchLayer } from "../../core/document/layer";
import type { Recipe } from "../../core/document/recipe";
import { LAGS } from "../../core/match/grain";
import { assumedColour } from "../../core/pixels/colour";
import type { Frame } from "../../core/pixels/frame";
import { nameOf, settled } from "../../core/proof/accepted";
import type { Proof } from "../../core/proof/finding";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import type { Pictures } from "../render/pictures";
import { prove } from "./prove";

/** Frames that are kept nowhere, and a take that is all they are. */
function standIn(stage: Stage) {
  const made = new Map<number, Frame>();
  const frame = (n: number) => {
    let f = made.get(n);
    if (!f) made.set(n, (f = stageFrame(n, stage)));
    return Promise.resolve(f);
  };
  const store = { frame: (_: string, __: TakeIndex, n: number) => frame(n) } as unknown as FrameStore;
  const info = { width: WIDE, height: HIGH, frames: LONG, rate: [24, 1], format: YUV420, colour: assumedColour(HIGH) };
  const index = { path: "", info, cuts: [], hashes: Array.from({ length: LONG }, () => ""), brightness: [], times: [] } as unknown as TakeIndex;
  return { store, takes: { a: { id: "a", index } } };
}

const SIDE = 2 * LAGS + 1;
const WHITE = (sigma: number) => ({
  planes: [1, 0.5, 0.5].map((k) => ({
    sigma: [[16, k * sigma], [235, k * sigma]] as [number, number][], // prettier-ignore
    covariance: Array.from({ length: SIDE * SIDE }, (_, i) => Number(i === LAGS * SIDE + LAGS)),
  })),
  inTime: 0,
});

const proofOf = (recipe: Recipe, stage: Stage = {}, more: Partial<Pictures> = {}): Promise<Proof> => {
  const { store, takes } = standIn(stage);
  return prove({ recipe, takes, pictures: { stills: new Map(), frames: new Map(), ...more } }, store, {});
};
const kinds = (p: Proof) => [...new Set(p.findings.map((f) => f.kind))];
const clean = async (p: Promise<Proof>) => {
  const { verdict, findings } = await p;
  expect(findings.map((f) => `${f.kind} ${f.in}–${f.out}: ${f.says}`)).toEqual([]);
  expect(verdict).toBe("clean");
};
/** Light that grows by a tenth over the shot. */
const brighter = (n: number) => 1 + (0.1 * n) / LONG;
const grown = (by: number): Partial<PatchLayer> => {
  const { mask } = mended().intruders[0].layers[0] as PatchLayer;
  return { mask: { ...(mask as object), grow: by } as PatchLayer["mask"] };
};

describe("what is wrong with a patch is told by its kind, and nothing of its twin", () => {
  it("a good one is clean", () => clean(proofOf(mended())));

  it("one late: a leak in the frame before it, and how much earlier it has to begin", async () => {
    const { verdict, findings } = await proofOf(mended({ in: BAR.in + 1 }));
    expect(verdict).toBe("faults");
    const leak = findings.find((f) => f.kind === "leak")!;
    expect([leak.in, leak.out, leak.remedy]).toEqual([BAR.in, BAR.in, "earlier"]);
    expect(leak.box.x0).toBeLessThan(BAR.box[0] + 4);
    expect(leak.box.x1).toBeGreaterThan(BAR.box[2] - 4);
    await clean(proofOf(mended({ in: leak.in })));
  });

  it("three early: a leak in the frames after it", async () => {
    const { findings } = await proofOf(mended({ out: BAR.out - 3 }));
    const leak = findings.find((f) => f.kind === "leak")!;
    expect([leak.in, leak.out, leak.remedy]).toEqual([BAR.out - 3 + 1, BAR.out, "later"]);
  });

  it("too small a mask: a leak beside it in all its frames", async () => {
    const { findings } = await proofOf(mended(grown(-14)));
    const leak = findings.find((f) => f.kind === "leak")!;
    expect(leak.remedy).toBe("wider");
    expect(leak.out - leak.in).toBeGreaterThan(10);
  });

  it("a mask beside the thing: a leak, though it hides nothing; where there is nothing to hide it is not called clean", async () => {
    const beside: PatchLayer["mask"] = { shapes: [{ kind: "box", op: "add", center: [140, 30], size: [32, 60], angle: 0 }], feather: 3 };
    const { findings } = await proofOf(mended({ mask: beside }));
    expect(findings.map((f) => f.kind)).toEqual(["leak"]);
    const idle = await proofOf(mended(), { bar: () => false });
    expect([idle.verdict, idle.findings]).toEqual(["unsure", []]);
    expect(idle.doubts[0].says).toMatch(/hides nothing/);
  });

  it("somebody who is cut by its edge: a bite; somebody beside it is none", async () => {
    const wide = mended();
    (wide.intruders[0].layers[0] as PatchLayer).mask = { shapes: [{ kind: "box", op: "add", center: [96, 45], size: [60, 120], angle: 0 }], feather: 3 }; // prettier-ignore
    const proof = await proofOf(wide, { walker: (n) => 8 + 9 * (n - 15) });
    expect(kinds(proof)).toContain("bite");
    const bite = proof.findings.find((f) => f.kind === "bite")!;
    expect(bite.remedy).toBe("hold-out");
    // the loop by which it can be held out lies round what is seen of the walker, not round the bar
    const { f, points } = bite.outline!;
    const left = 8 + 9 * (f - 15);
    const [across, down] = [0, 1].map((k) => points.map((p) => p[k]));
    expect(Math.min(...across)).toBeGreaterThan(left - 10);
    expect(Math.max(...across)).toBeLessThan(left + 18 + 10);
    expect(Math.min(...down)).toBeGreaterThan(25);
    expect(Math.max(...down)).toBeGreaterThan(100);
    await clean(proofOf(mended(), { walker: (n) => 4 * (n - 16) }));
  });

  it("somebody who passes a thing that is there all the time: a bite in those frames, with a loop round them", async () => {
    // one frame alone shows the wall behind the bar
    const stage: Stage = { bar: (n) => n !== 8 };
    const left = (n: number) => 8 + 9 * (n - 15);
    const all = { in: 0, out: LONG - 1 };
    const proof = await proofOf(mended(all), { ...stage, walker: left });
    const bite = proof.findings.find((f) => f.kind === "bite")!;
    // it reaches the mask at 80 and has left it at 112
    expect(bite.in).toBeGreaterThanOrEqual(Math.floor((80 - 18 - 8) / 9) + 14);
    expect(bite.out).toBeLessThanOrEqual(Math.ceil((112 - 8) / 9) + 16);
    expect(bite.outline!.points.length).toBeGreaterThan(2);
    expect(kinds(await proofOf(mended(all), stage))).not.toContain("bite");
  });

  it("a head that sways while the patch holds a part of it still: a bite; beside a head that sways there is none", async () => {
    const sway = (n: number) => 2.5 * Math.sin(n / 5);
    const proof = await proofOf(mended(), { head: { y: 84, sway } });
    expect(kinds(proof)).toContain("bite");
    expect(kinds(proof)).not.toContain("drift");
    await clean(proofOf(mended(), { head: { y: 104, sway } }));
  });

  it("a picture in another light: a seam; along its rim it follows", async () => {
    const recipe = mended({ source: { take: "a", hold: 46 } } as Partial<PatchLayer>);
    expect(kinds(await proofOf(recipe, { gain: (n) => (n > 40 ? 1.06 : 1) }))).toContain("seam");
    await clean(proofOf(mended({ ...recipe.intruders[0].layers[0], light: { by: "rim" } } as Partial<PatchLayer>), { gain: (n) => (n > 40 ? 1.06 : 1) })); // prettier-ignore
  });

  it("light that changes while the patch stays: it runs away; it does not where the patch follows", async () => {
    const found = (await proofOf(mended(), { gain: brighter })).findings.find((f) => f.kind === "runaway-light")!;
    expect(found.remedy).toBe("light");
    // the wall's luma lies about 95 codes above black, and the light grows by 0.1 · 13 / 48 while the patch is there
    expect(found.value).toBeGreaterThan(0.7);
    expect(found.value).toBeLessThan(2);
    await clean(proofOf(mended({ light: { by: "whole" } }), { gain: brighter }));
  });

  it("light that flickers and is steadied before the patch is laid: clean; left as it is, the held picture stands out", async () => {
    const flickers = (n: number) => 1 + 0.06 * Math.sin(2.4 * n);
    const gains = { gain: Array.from({ length: LONG }, (_, n) => flickers(n)), cuts: [] };
    const even = (way: "steady" | "lively") => ({ id: way, kind: "evenlight" as const, in: 0, out: LONG - 1, way, data: "g" });
    const plain = mended();
    const stage = { gain: flickers, noise: 0.2 };
    expect((await proofOf(plain, stage)).verdict).toBe("faults");
    for (const ways of [["steady"], ["steady", "lively"]] as const) {
      const recipe = { ...plain, intruders: [...plain.intruders, { id: "l", name: "Flicker", layers: ways.map(even) }] };
      await clean(proofOf(recipe, stage, { gains: new Map([["g", gains]]) }));
    }
  });

  it("a picture that lies off: a drift, by how much and where to", async () => {
    const found = (await proofOf(mended({ place: { x: 2, y: -1 } }))).findings.find((f) => f.kind === "drift")!;
    expect(found.value).toBeCloseTo(Math.hypot(2, 1), 0);
    expect(found.do).toMatch(/by -[12]\.\d+ px to the right and [01]\.\d+ px down/);
  });

  it("grain that stands still, and grain that is doubled; the footage's own is none", async () => {
    const pictures = { grains: new Map([["g", WHITE(3)]]) };
    const withGrain = (strength: number) => ({ ...mended({ grain: { profile: "g", strength } }), profiles: { g: { data: "g" } } });
    expect(kinds(await proofOf(mended(), { noise: 3 }))).toEqual(["dead-grain"]);
    expect(kinds(await proofOf(withGrain(2), { noise: 3 }, pictures))).toContain("dead-grain");
    await clean(proofOf(withGrain(1), { noise: 3 }, pictures));
  });

  it("living ground that stands still in the patch: frozen; where the patch shows other frames it lives", async () => {
    const sea = { alive: 6 };
    const long = { ...mended({ in: 10, out: 37 }), shot: { take: "a", in: 0, out: LONG - 1 } };
    expect(kinds(await proofOf(long, sea))).toContain("frozen");
    const slipped = mended({ in: 10, out: 37, source: { take: "a", slip: -10 } } as Partial<PatchLayer>);
    expect(kinds(await proofOf(slipped, { ...sea, bar: () => false }))).not.toContain("frozen");
  });

  it("a patch that paints into the picture's bars; one that ends at them does not", async () => {
    const stage = { bars: 12 };
    const found = (await proofOf(mended({ source: { take: "a", hold: 8 }, place: { y: -3 } } as Partial<PatchLayer>), stage)).findings;
    expect(found.find((f) => f.kind === "bars")!.box.y0).toBeLessThan(12);
    expect(kinds(await proofOf(mended(), stage))).not.toContain("bars");
  });

  it("a picture that shows what it is to hide: a leak in the picture itself", async () => {
    const { findings } = await proofOf(mended({ source: { take: "a", hold: 20 } } as Partial<PatchLayer>));
    expect(findings.find((f) => f.kind === "leak")!.remedy).toBe("picture");
  });

  it("where no frame shows the place without the patch, it is not called clean", async () => {
    const always = { bar: () => true };
    const { verdict, doubts } = await proofOf(mended({ in: 0, out: LONG - 1 }), always);
    expect(verdict).not.toBe("clean");
    expect(doubts[0].says).toMatch(/No frames show what lies behind this patch/);
  });

  it("what was accepted no longer counts, until it is a fifth worse", async () => {
    const proof = await proofOf(mended({ in: BAR.in + 1 }));
    const [f] = proof.findings;
    const kept = { finding: nameOf(f), value: f.value, why: "Cut away in the edit" };
    expect(settled(proof, [kept]).verdict).toBe("clean");
    expect(settled(proof, [kept]).accepted[0].why).toBe("Cut away in the edit");
    expect(settled(proof, [{ ...kept, value: f.value / 1.21 }]).verdict).toBe("faults");
  });
});
