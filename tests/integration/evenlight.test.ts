import { createHash } from "node:crypto";
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { gainsOf, gainsText } from "../../src/core/evenlight/gains";
import type { Survey } from "../../src/core/survey/survey";
import { buildProgram, umber } from "../../testkit/cli";
import { ffmpeg } from "../../testkit/ffmpeg";

/** The flicker of the letter taken off by a layer, and put back, in what the command line renders. */
const folder = mkdtempSync(join(tmpdir(), "umber-even-"));
const TAKE = resolve("demo/takes/letter.mp4");
const [FROM, TO, W, SIZE] = [12, 47, 1600, 1600 * 900];
beforeAll(buildProgram);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const raw = (film: string, filter: string) =>
  ffmpeg(["-i", film, "-vf", filter, "-fps_mode", "passthrough", "-pix_fmt", "yuv420p", "-f", "rawvideo", "pipe:1"]);
const cut = `select=between(n\\,${FROM}\\,${TO})`;
/** Mean luma over black of a part of the desk in which nothing moves, in each frame of 4:2:0 video. */
const lights = (data: Buffer): number[] =>
  Array.from({ length: data.length / (SIZE * 1.5) }, (_, n) => {
    let s = 0;
    for (let y = 90; y < 210; y++) for (let x = 90; x < 250; x++) s += data[n * SIZE * 1.5 + y * W + x] - 16;
    return s / (120 * 160);
  });
/** Power of what differs from the middle of both neighbours, in logarithms. */
function flicker(of: number[]): number {
  const log = of.map(Math.log);
  return log.slice(1, -1).reduce((s, v, k) => s + (v - (log[k] + log[k + 2]) / 2) ** 2, 0) / (log.length - 2);
}

describe("a shot whose light flickers", () => {
  const render = (name: string, layers: object[]) => {
    const recipe = {
      format: "umber-moth/recipe",
      version: 1,
      name: "Letter",
      takes: { a: { path: TAKE } },
      shot: { take: "a", in: 0, out: 59 },
      plates: {},
      intruders: [{ id: "light", name: "Flicker", layers }],
      output: { in: FROM, out: TO },
    };
    writeFileSync(join(folder, `${name}.json`), JSON.stringify(recipe));
    const film = join(folder, `${name}.mkv`);
    const r = umber("render", join(folder, `${name}.json`), "--out", film, "--codec", "ffv1");
    expect(r.status, r.stderr).toBe(0);
    return raw(film, "null");
  };

  it("is steady with less than 3 % of it left, less than ffmpeg's deflicker leaves; and what is put back is the take, sample for sample", () => {
    const survey = JSON.parse(umber("survey", TAKE, "--json").stdout) as Survey;
    const text = gainsText(gainsOf(survey));
    const data = createHash("sha256").update(text).digest("hex");
    mkdirSync(join(folder, "measured"));
    writeFileSync(join(folder, "measured", data), text);
    const layer = (way: string) => ({ id: way, kind: "evenlight", in: 0, out: 59, way, data });

    const taken = raw(TAKE, cut);
    const before = flicker(lights(taken));
    expect(before).toBeGreaterThan(1e-4);
    const steady = flicker(lights(render("steady", [layer("steady")]))) / before;
    const judge = flicker(lights(raw(TAKE, `deflicker=size=9:mode=am,${cut}`))) / before;
    console.log(`flicker left: ${(100 * steady).toFixed(2)} %, of ffmpeg's deflicker ${(100 * judge).toFixed(2)} %`);
    expect(steady).toBeLessThan(0.03);
    expect(steady).toBeLessThan(judge);
    expect(render("back", [layer("steady"), layer("lively")]).equals(taken)).toBe(true);
  });

  it("is refused in a sentence where what was measured of its light is missing", () => {
    writeFileSync(
      join(folder, "none.json"),
      JSON.stringify({ format: "umber-moth/recipe", version: 1, name: "Letter", takes: { a: { path: TAKE } }, shot: { take: "a", in: 0, out: 59 }, plates: {}, intruders: [{ id: "l", name: "Flicker", layers: [{ id: "s", kind: "evenlight", in: 0, out: 9, data: "0".repeat(64) }] }] }), // prettier-ignore
    );
    const r = umber("render", join(folder, "none.json"), "--out", join(folder, "none.mkv"));
    expect(r.status).toBe(2);
    expect(r.stderr).toMatch(/light of the take “00000000…” is missing/);
  });
});
