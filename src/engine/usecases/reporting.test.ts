import { expect, it } from "vitest";
import { mended } from "../../../testkit/mended";
import type { Proof } from "../../core/proof/finding";
import { step, Stopped, type Watch } from "../watch";
import { Reporting } from "./reporting";

const PROOF: Proof = { verdict: "clean", findings: [], doubts: [], figures: {}, looked: "14 frames of 1 patch" };

/** A production of three shots, each measured in four steps. */
function reporting(): Reporting {
  const answers = {
    library: {
      productions: () => Promise.resolve([{ id: "p", name: "Lantern Street", shots: ["a", "b", "c"].map((id) => ({ id })) }]),
      shotRow: (id: string) => Promise.resolve({ name: `Shot ${id}` }),
      takeRow: () => Promise.resolve({ name: "Take" }),
    },
    documents: { read: () => Promise.resolve({ recipe: { ...mended(), takes: { a: { asset: "t" } } } }) },
    takes: { whole: () => Promise.resolve(), index: () => Promise.resolve({ info: { width: 192, height: 128, frames: 48, rate: [24, 1] } }) },
    shots: { forJob: () => Promise.resolve({}) },
    proofs: {
      of: async (_: object, watch: Watch) => {
        for (let k = 1; k <= 4; k++) step(watch, k, 4);
        await Promise.resolve();
        return PROOF;
      },
    },
  };
  return new Reporting(answers as unknown as ConstructorParameters<typeof Reporting>[0]);
}

it("a report of a production tells how far it is over all shots, and has them all", async () => {
  const told: number[] = [];
  const { text, name } = await reporting().ofProduction("p", "json", { progress: (done, total) => told.push(done / total) });
  expect(told.map((v) => +v.toFixed(3))).toEqual([0, 0.083, 0.167, 0.25, 0.333, 0.333, 0.417, 0.5, 0.583, 0.667, 0.667, 0.75, 0.833, 0.917, 1]);
  expect((JSON.parse(text) as { shots: { shot: string }[] }).shots.map((s) => s.shot)).toEqual(["Shot a", "Shot b", "Shot c"]);
  expect(name).toBe("Lantern-Street-report.json");
});

it("it can be stopped between shots and within one", async () => {
  for (const after of [1, 7]) {
    const stop = new AbortController();
    let told = 0;
    const progress = () => void (++told === after && stop.abort());
    await expect(reporting().ofProduction("p", "csv", { progress, signal: stop.signal })).rejects.toThrow(Stopped);
    expect(told).toBe(after);
  }
});
