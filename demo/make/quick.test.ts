import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import { buildProgram, umber } from "../../testkit/cli";
import { decodeAll, ffprobe } from "../../testkit/ffmpeg";
import type { Options } from "./deliver";
import { makeHall } from "./hall";
import { makeHull } from "./hull";
import { makeLantern } from "./lantern";
import { makeLetter } from "./letter";
import { makeOffice } from "./office";
import { makeQuay } from "./quay";
import { makeRough } from "./rough";

interface Facts {
  frames: number;
  clean: { x: number; y: number; width: number; height: number };
  intruders: Record<string, { inView: number[]; worst: number | null }>;
  light: { gain: number | number[] };
}
const W = 160;
const H = 90;
const n = W * H;
const TAKES: { name: string; make: (o: Options) => Promise<void>; frames: number[]; intruder: string; darker?: boolean; light?: boolean }[] = [
  { name: "hall", make: makeHall, frames: [0, 50], intruder: "boom", darker: true },
  { name: "quay", make: makeQuay, frames: [0, 100], intruder: "loaded", light: true },
  { name: "letter", make: makeLetter, frames: [10, 59], intruder: "rig", light: true },
  { name: "office", make: makeOffice, frames: [0, 60], intruder: "ladder" },
  { name: "lantern", make: makeLantern, frames: [0, 40], intruder: "tape" },
  { name: "hull", make: makeHull, frames: [0, 71], intruder: "chalk" },
];

describe("the generator's quick form makes", () => {
  it.each(TAKES)("$name and its truth", async ({ name, make, frames, intruder, darker, light }) => {
    const dir = mkdtempSync(join(tmpdir(), `umber-${name}-`));
    await make({ raw: join(dir, "raw"), takes: dir, truth: dir, quick: true });
    const facts = JSON.parse(readFileSync(join(dir, `${name}.json`), "utf8")) as Facts;
    expect(facts.frames).toBe(2);
    expect(Array.isArray(facts.light.gain)).toBe(light === true);
    const { inView } = facts.intruders[intruder];
    const at = frames.indexOf(inView[0]);
    expect(at).toBeGreaterThanOrEqual(0);
    const take = decodeAll(join(dir, `${name}.mp4`), "gray");
    const matte = decodeAll(join(dir, `${name}-matte-${intruder}.mkv`), "gray");
    const { x, y, width, height } = facts.clean;
    const clean = decodeAll(join(dir, `${name}-clean.mkv`), "gray");
    expect([take.length, matte.length, clean.length]).toEqual([2 * n, 2 * n, 2 * width * height]);
    // where the matte is full the take differs from the truth, and where it is empty (and no shadow can be) much less
    const gain = Array.isArray(facts.light.gain) ? facts.light.gain[at] : 1;
    const [inside, outside] = [[] as number[], [] as number[]];
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        const k = at * n + (y + j) * W + x + i;
        const d = take[k] - gain * clean[at * width * height + j * width + i];
        if (matte[k] > 200) inside.push(d);
        else if (matte[k] === 0) outside.push(d);
      }
    const mean = (v: number[]) => v.reduce((a, b) => a + Math.abs(b), 0) / v.length;
    expect(inside.length).toBeGreaterThan(3);
    expect(mean(inside)).toBeGreaterThan(2.5 * mean(outside));
    if (darker) expect(inside.reduce((a, b) => a + b, 0) / inside.length).toBeLessThan(-30);
    if (name === "office") {
      // the second take: left of the ladder both show the same wall, a third of a stop apart
      const { against } = JSON.parse(readFileSync(join(dir, "office-b.json"), "utf8")) as { against: { gain: number } };
      expect(against.gain).toBeCloseTo(2 ** (-1 / 3 / 2.2), 4);
      const wall = (v: Uint8Array) => {
        let s = 0;
        for (let j = 10; j < 30; j++) for (let i = 5; i < 60; i++) s += v[j * W + i] - 16;
        return s;
      };
      expect(wall(decodeAll(join(dir, "office-b.mp4"), "gray")) / wall(take)).toBeCloseTo(against.gain, 1);
    }
    // a frame that the intruder is not in shows none of it
    for (const [i, f] of frames.entries()) if (!inView.includes(f)) expect(matte.subarray(i * n, (i + 1) * n).every((v) => v < 128)).toBe(true);
  });
});

describe("the rough form", () => {
  beforeAll(buildProgram);

  it("has a variable rate, shakes and breathes as its truth says, and comes through a render with its own times", async () => {
    const dir = mkdtempSync(join(tmpdir(), "umber-rough-"));
    const file = join(dir, "rough.mp4");
    const facts = await makeRough(new URL("../takes/hall.mp4", import.meta.url).pathname, file, 5, 8);
    const times = (f: string) =>
      (ffprobe(f, "-select_streams", "v", "-show_entries", "frame=pts_time").frames as { pts_time: string }[]).map((x) => Number(x.pts_time));
    const gaps = times(file)
      .slice(1)
      .map((t, i) => t - times(file)[i]);
    expect(gaps).toHaveLength(7);
    expect(Math.max(...gaps) - Math.min(...gaps)).toBeGreaterThan(0.01);
    expect(Math.min(...gaps)).toBeGreaterThan(0.01);
    const survey = umber("survey", file, "--json");
    expect(JSON.parse(survey.stdout)).toMatchObject({ frames: 8, width: 1280, height: 720, variableRate: true });
    // the exposure: mean luma of the picture against the first frame's
    const size = 1280 * 720;
    const luma = decodeAll(file, "gray");
    const mean = (k: number) => luma.subarray(k * size, (k + 1) * size).reduce((a, b) => a + b, 0) / size;
    expect(mean(7) / mean(0)).toBeCloseTo(facts.gain[7] / facts.gain[0], 1);
    const recipe = join(dir, "r.json");
    const shape = { kind: "box", op: "add", center: [600, 300], size: [200, 100] };
    const layer = { id: "l", kind: "patch", in: 4, out: 6, source: { plate: "p" }, mask: { shapes: [shape] } };
    writeFileSync(
      recipe,
      JSON.stringify({
        format: "umber-moth/recipe",
        version: 1,
        takes: { a: { path: "rough.mp4" } },
        shot: { take: "a", in: 0, out: 7 },
        plates: { p: { from: { take: "a", frame: 0 }, touches: [] } },
        intruders: [{ id: "i", name: "thing", layers: [layer] }],
      }),
    );
    const out = join(dir, "o.mkv");
    expect(umber("render", recipe, "--out", out, "--codec", "ffv1").status).toBe(0);
    times(out).forEach((t, i) => expect(t).toBeCloseTo(times(file)[i], 2));
    const [before, after] = [file, out].map((f) => decodeAll(f, "yuv420p"));
    const frame = (b: Buffer, k: number) => b.subarray(k * size * 1.5, (k + 1) * size * 1.5);
    for (const k of [0, 3, 7]) expect(frame(after, k).equals(frame(before, k))).toBe(true);
    expect(frame(after, 5).equals(frame(before, 5))).toBe(false);
  });
});
