import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import { KINDS, REMEDIES } from "../../src/core/proof/finding";
import type { Recipe } from "../../src/core/document/recipe";
import { BAR, LONG, mended, writeStage } from "../../testkit/mended";
import { buildProgram, umber } from "../../testkit/cli";

const folder = mkdtempSync(join(tmpdir(), "umber-prove-"));

beforeAll(async () => {
  await buildProgram();
  writeStage({}, "-c:v", "ffv1", join(folder, "a.mkv"));
});

const prove = (name: string, recipe: Recipe, ...more: string[]) => {
  const path = join(folder, `${name}.json`);
  writeFileSync(path, JSON.stringify(recipe));
  return umber("prove", path, ...more);
};

describe("umber prove", () => {
  it("says clean and exits with 0", () => {
    const r = prove("good", mended(), "--json");
    expect([r.status, r.stderr]).toEqual([0, ""]);
    expect(JSON.parse(r.stdout)).toMatchObject({ verdict: "clean", findings: [], doubts: [] });
  });

  it("says faults and exits with 3: each finding as it is published", () => {
    const r = prove("late", mended({ in: BAR.in + 2 }), "--json");
    expect(r.status).toBe(3);
    const { verdict, findings } = JSON.parse(r.stdout) as { verdict: string; findings: Record<string, unknown>[] };
    expect(verdict).toBe("faults");
    const [f] = findings;
    expect(KINDS).toContain(f.kind);
    expect(REMEDIES).toContain(f.remedy);
    expect(f).toMatchObject({ kind: "leak", intruder: "bar", layer: "p", in: BAR.in, out: BAR.in + 1, limit: 6 });
    expect(f.worst === BAR.in || f.worst === BAR.in + 1).toBe(true);
    const [x, y, w, h] = f.box as number[];
    expect(x).toBeGreaterThan(BAR.box[0] - 9);
    expect(x + w).toBeLessThan(BAR.box[2] + 9);
    expect([y, h > 40]).toEqual([0, true]);
    expect(f.value).toBeGreaterThan(6);
    expect([f.says, f.do].every((s) => typeof s === "string" && s.endsWith("."))).toBe(true);
  });

  it("takes off what was accepted, and says it with its reason", () => {
    const bad = mended({ out: BAR.out - 1 });
    const first = JSON.parse(prove("early", bad, "--json").stdout) as { findings: { value: number; worst: number; box: number[] }[] };
    const [f] = first.findings;
    const cell = (a: number, b: number) => Math.floor((a + b / 2) / 64);
    const finding = `leak/p/${Math.floor(f.worst / 24)}/${cell(f.box[0], f.box[2])},${cell(f.box[1], f.box[3])}`;
    const r = prove("accepted", { ...bad, proof: { accepted: [{ finding, value: f.value, why: "Under a title" }] } });
    expect(r.status).toBe(0);
    expect(r.stdout).toMatch(/^clean\naccepted \(Under a title\): leak/);
  });

  it("says of two patches, each measured by a thread of its own, what it says of either by itself", () => {
    const [late, early] = [mended({ in: BAR.in + 2 }), mended({ out: BAR.out - 2 })].map((r) => r.intruders[0].layers[0]);
    const told = (name: string, layers: readonly object[]) => {
      const recipe = mended();
      const r = prove(name, { ...recipe, intruders: [{ ...recipe.intruders[0], layers: layers as never }] }, "--json");
      expect([r.status, r.stderr]).toEqual([3, ""]);
      return (JSON.parse(r.stdout) as { findings: { layer: string; kind: string; in: number; out: number }[] }).findings;
    };
    // they cover each other's frames but for two at either end
    const both = told("two", [late, { ...early, id: "q", in: BAR.in + 2 }]);
    const alone = told("one", [mended({ in: BAR.in + 2, out: BAR.out }).intruders[0].layers[0]]);
    expect(both.filter((f) => f.layer === "p" && f.out < BAR.in + 2).map((f) => [f.kind, f.in, f.out])).toEqual(
      alone.map((f) => [f.kind, f.in, f.out]),
    );
    expect(new Set(both.map((f) => f.layer))).toEqual(new Set(["p", "q"]));
  });

  it("says unsure and exits with 4 where no frame shows the place without the patch", () => {
    const r = prove("always", mended({ in: 0, out: LONG - 1, source: { take: "a", slip: 0 } } as never));
    expect(r.status).toBe(4);
    expect(r.stdout).toMatch(/^unsure\nunsure, bar \/ p: No frames show what lies behind/);
  });

  it("refuses what it cannot read in one sentence", () => {
    expect(umber("prove").stderr).toMatch(/prove needs one RECIPE.json/);
    const r = umber("prove", join(folder, "nowhere.json"));
    expect(r.status).toBe(2);
    expect(r.stderr).toMatch(/cannot be read: check that the file is there/);
  });
});
