import { createHash } from "node:crypto";
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import { Truth } from "../../benchmarks/truth/truth";
import { frames } from "../../demo/make/decode";
import { makeRough, type Rough, roughFrame } from "../../demo/make/rough";
import { mapped, type Place } from "../../src/core/follow/homography";
import { type TrackData, trackText } from "../../src/core/follow/track-data";
import { maskMatte } from "../../src/core/shape/mask";
import { over } from "../../src/core/shape/matte";
import type { Mask } from "../../src/core/document/mask";
import { buildProgram, umber } from "../../testkit/cli";

/** A patch on a shot whose camera shakes in a hand: a region near it is followed, and the held picture and its mask go along. */
const [WIDTH, HEIGHT] = [1280, 720];
const COUNT = 60;
const AT = 28;
/** The clock on the wall, near the boom: its hands turn, the rest of it stands. */
const REGION: Place[] = [[740, 120], [870, 120], [870, 250], [740, 250]]; // prettier-ignore
const folder = mkdtempSync(join(tmpdir(), "umber-shaken-"));
const film = join(folder, "hall.mp4");
let rough: Rough;
let track: TrackData;

beforeAll(async () => {
  buildProgram();
  rough = await makeRough("demo/takes/hall.mp4", film, 11, COUNT);
  const r = umber("track", film, "--at", String(AT), "--region", REGION.map((p) => p.join(",")).join(" "), "--model", "shift", "--json");
  track = (JSON.parse(r.stdout) as { frames: TrackData }).frames;
}, 500_000);

describe("a shot from the hand", () => {
  it("is followed to a tenth of a pixel", () => {
    expect(track.filter((t) => "matrix" in t)).toHaveLength(COUNT);
    const middle: Place = [805, 185];
    const off = track.flatMap((t) => {
      if (!("matrix" in t)) return [];
      const [x, y] = mapped(t.matrix, middle)!;
      const [from, to] = [rough.shift[AT], rough.shift[t.f]];
      return [Math.hypot(x - middle[0] - (to[0] - from[0]), y - middle[1] - (to[1] - from[1]))];
    });
    expect(off.toSorted((a, b) => a - b)[Math.floor(0.95 * off.length)]).toBeLessThan(0.1);
  });

  it("is mended by a held frame that goes along, where one that stays does not serve", () => {
    const hash = createHash("sha256").update(trackText(track)).digest("hex");
    mkdirSync(join(folder, "measured"), { recursive: true });
    writeFileSync(join(folder, "measured", hash), trackText(track));
    const recipe = JSON.parse(readFileSync("demo/recipes/hall.json", "utf8")) as {
      takes: { a: { path: string } };
      shot: { out: number };
      intruders: { layers: { mask: Mask; [more: string]: unknown }[] }[];
      [more: string]: unknown;
    };
    recipe.takes.a.path = film;
    recipe.shot.out = COUNT - 1;
    recipe.output = { in: 45, out: 56 };
    const [layer] = recipe.intruders[0].layers;
    Object.assign(layer, { out: COUNT - 1, light: { by: "whole" } });
    const render = (name: string) => {
      writeFileSync(join(folder, `${name}.json`), JSON.stringify(recipe));
      const r = umber("render", join(folder, `${name}.json`), "--out", join(folder, `${name}.mkv`), "--codec", "ffv1");
      expect(r.status, r.stderr).toBe(0);
      return join(folder, `${name}.mkv`);
    };
    const stays = render("stays");
    recipe.tracks = { t: { take: "a", at: AT, region: REGION, model: "shift", in: 0, out: COUNT - 1, data: hash } };
    layer.tied = { mask: "t", to: "t", from: "t" };
    const goes = render("goes");
    const truth = new Truth("hall");
    const box = truth.known;
    const size = WIDTH * HEIGHT * 1.5;
    const matte = over(maskMatte(layer.mask, AT, WIDTH, HEIGHT), { x0: 0, y0: 0, x1: WIDTH, y1: HEIGHT });
    const psnr = (file: string, n: number) => {
      // what the hand would have filmed without the boom
      const [take] = [...frames("demo/takes/hall.mp4", [n], "yuv420p", size)];
      const [clean] = [...truth.clean([n], box)];
      for (let y = box.y0; y < box.y1; y++)
        for (let x = box.x0; x < box.x1; x++) take[y * WIDTH + x] = Math.round(clean.y[(y - box.y0) * (box.x1 - box.x0) + x - box.x0]);
      const wanted = roughFrame(take, WIDTH, HEIGHT, { shift: rough.shift[n], gain: rough.gain[n] });
      const [got] = [...frames(file, [n - 45], "yuv420p", size)];
      let [s, count] = [0, 0];
      for (let y = box.y0 + 8; y < Math.min(box.y1, 320); y++)
        for (let x = 0; x < WIDTH; x++) {
          if (matte[y * WIDTH + x] < 0.99) continue;
          s += (got[y * WIDTH + x] - wanted[y * WIDTH + x]) ** 2;
          count++;
        }
      return 10 * Math.log10((255 * 255 * count) / s);
    };
    for (const n of [46, 50, 55]) {
      const [moved, still] = [psnr(goes, n), psnr(stays, n)];
      console.log(`hall from the hand, frame ${n}: ${still.toFixed(1)} dB held in place, ${moved.toFixed(1)} dB along its track`);
      expect(moved).toBeGreaterThan(38);
      expect(moved).toBeGreaterThan(still + 3);
    }
  });
});
