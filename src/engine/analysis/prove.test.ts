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
import { prove, provePatches } from "./prove";

/** Frames of a stage on which nothing else happens: made once. */
const plain = new Map<number, Frame>();

/** Frames that are kept nowhere, and a take that is all they are. */
function standIn(stage: Stage) {
  const made = Object.keys(stage).length ? new Map<number, Frame>() : plain;
  const frame = (n: number) => {
    let f = made.get(n);
    if (!f) made.set(n, (f = stageFrame(n, stage)));
    return Promise.resolve(f);
  };
  const store = { frame: (_: string, __: TakeIndex, n: number) => frame(n), expect: () => undefined } as unknown as FrameStore;
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

const verdictsOf = (recipe: Recipe, stage: Stage = {}, known = {}) => {
  const { store, takes } = standIn(stage);
  return provePatches({ recipe, takes, pictures: { stills: new Map(), frames: new Map() } }, store, {}, known);
};

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
    const seam = (await proofOf(recipe, { gain: (n) => (n > 40 ? 1.06 : 1) })).findings.find((f) => f.kind === "seam")!;
    expect(seam.remedy).toBe("light");
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
    // moved as it says it lies where it belongs
    await clean(proofOf(mended({ place: { x: 2 + found.shift!.x, y: -1 + found.shift!.y } })));
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

describe("figures of a patch, frame by frame", () => {
  const figures = async (recipe: Recipe, stage: Stage = {}) => (await proofOf(recipe, stage)).figures.p;

  it("what is left is the share that is: none of what is covered, what shimmers through, what a short mask leaves, all of it where the patch is not laid", async () => {
    const good = await figures(mended({ in: BAR.in + 2 }));
    const at = (f: typeof good, n: number) => f.left[n - f.from];
    expect([at(good, BAR.in), at(good, BAR.in + 1)]).toEqual([1, 1]);
    expect(at(good, BAR.in - 1)).toBeNull();
    expect(at(good, 20)).toBeLessThan(0.02);
    const faint = await figures(mended({ opacity: 0.985 }));
    expect(at(faint, 20)).toBeGreaterThan(0.005);
    expect(at(faint, 20)).toBeLessThan(0.03);
    // a mask that ends 24 px above the foot of the bar leaves that part of what the bar changes
    const short = await figures(mended({ mask: { shapes: [{ kind: "box", op: "add", center: [96, 6], size: [32, 52], angle: 0 }], feather: 0 } }));
    const [bare, barred] = [false, true].map((bar) => stageFrame(20, { noise: 0, bar: () => bar }).planes[0].data);
    const changed = (from: number) =>
      Array.from(bare)
        .slice(from * WIDE)
        .reduce((sum, v, i) => sum + Math.abs(v - barred[from * WIDE + i]), 0);
    expect(at(short, 20)).toBeCloseTo(changed(32) / changed(0), 1);
  });

  it("the light's step has its sign: a picture that is brighter by a share stands out by so many codes", async () => {
    const f = await figures(mended({ source: { take: "a", hold: 46 } } as Partial<PatchLayer>), { gain: (n) => (n > 40 ? 1.06 : 1) });
    // luma around the bar lies about 95 codes above black
    const step = f.light[20 - f.from]!;
    expect(step).toBeGreaterThan(0.06 * 70);
    expect(step).toBeLessThan(0.06 * 120);
    expect(f.edge[20 - f.from]).toBeGreaterThan(1);
    const good = await figures(mended());
    expect(Math.abs(good.light[20 - good.from]!)).toBeLessThan(0.3);
    expect(good.edge[20 - good.from]).toBeLessThan(1);
  });
});

describe("a patch is measured anew only where something was changed that reaches it", () => {
  const far = (feather: number, at: [number, number] = [9, 100]): PatchLayer => {
    const mask: PatchLayer["mask"] = { shapes: [{ kind: "box", op: "add", center: at, size: [14, 20], angle: 0 }], feather };
    return { id: "q", kind: "patch", in: 10, out: 20, source: { take: "a", hold: 8 }, mask };
  };
  const both = (second: PatchLayer, change: Partial<PatchLayer> = {}): Recipe => {
    const recipe = mended(change);
    return { ...recipe, intruders: [...recipe.intruders, { id: "far", name: "Far", layers: [second] }] };
  };
  const said = {
    findings: [],
    doubts: [{ intruder: "bar", layer: "p", says: "kept" }],
    figures: { from: 0, left: [], edge: [], light: [] },
    sharp: 1,
  };

  it("what is known of it stands, whatever becomes of one that is far away, or of names", async () => {
    const first = await verdictsOf(both(far(2)));
    expect(Object.keys(first.verdicts)).toHaveLength(2);
    const ofP = Object.keys((await verdictsOf(mended())).verdicts);
    // by itself it has the same verdict as beside one that does not reach it
    expect(Object.keys(first.verdicts)).toContain(ofP[0]);
    const known = { [ofP[0]]: said };
    const again = await verdictsOf(both({ ...far(3), name: "Other" }, { name: "Bar's patch", locked: true }), {}, known);
    expect(again.proof.doubts.map((d) => d.says)).toContain("kept");
    expect(Object.keys(again.verdicts).filter((k) => k in first.verdicts)).toEqual(ofP);
  });

  it("one that reaches into what surrounds it, or its own mask, is a change", async () => {
    const [key] = Object.keys((await verdictsOf(mended())).verdicts);
    for (const recipe of [both(far(2, [70, 60])), mended({ ...grown(1) }), { ...mended(), output: { in: 0, out: 40 } }]) {
      const { proof } = await verdictsOf(recipe, {}, { [key]: said });
      expect(proof.doubts.map((d) => d.says)).not.toContain("kept");
    }
  });
});
