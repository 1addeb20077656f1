import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Truth } from "../../benchmarks/truth/truth";
import { frames } from "../../demo/make/decode";
import { blur } from "../../demo/make/image";
import { makeRough } from "../../demo/make/rough";
import type { Recipe } from "../../src/core/document/recipe";
import { buildProgram, umber } from "../../testkit/cli";

const folder = mkdtempSync(join(tmpdir(), "umber-plate-"));
beforeAll(buildProgram);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const WIDTH = 1280;
const HEIGHT = 720;

/** Luma of a PNG by BT.709-6, 8-bit limited codes. */
async function lumaOf(png: string): Promise<Float32Array> {
  const { data, info } = await sharp(png).raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.height]).toEqual([WIDTH, HEIGHT]);
  const out = new Float32Array(WIDTH * HEIGHT);
  for (let i = 0; i < out.length; i++)
    out[i] = 16 + (219 / 255) * (0.2126 * data[i * info.channels] + 0.7152 * data[i * info.channels + 1] + 0.0722 * data[i * info.channels + 2]);
  return out;
}

/** What is true of the quay: its clean pictures at several moments in one light, and where either fork-lift ever is. */
function quay(list: number[]) {
  const truth = new Truth("quay");
  const box = truth.known;
  const { gain } = truth.facts.light as { gain: number[] };
  const clean = [...truth.clean(list, box)].map((p, k) => p.y.map((v) => 16 + (v - 16) / gain[list[k]]));
  const [w, h] = [box.x1 - box.x0, box.y1 - box.y0];
  const passed = new Uint8Array(w * h);
  const all = Array.from({ length: truth.facts.frames }, (_, i) => i);
  for (const id of Object.keys(truth.facts.intruders))
    for (const m of frames(`demo/truth/quay-matte-${id}.mkv`, all, "gray", WIDTH * HEIGHT))
      for (let i = 0; i < passed.length; i++) if (m[(box.y0 + Math.floor(i / w)) * WIDTH + box.x0 + (i % w)] > 20) passed[i] = 1;
  const low = clean.map((c) => blur(c, w, h, 1, 2));
  // water, foam, the boat and its ropes differ from one moment to another
  const still = Uint8Array.from(passed, (_, i) => {
    const v = low.map((c) => c[i]);
    return Math.max(...v) - Math.min(...v) < 2 ? 1 : 0;
  });
  return { box, w, h, clean, low, passed, still };
}

/** The plate within the box, its light fitted to the truth's over the still area (one gain, one offset). */
function fitted(plate: Float32Array, { box, w, h, clean, still }: ReturnType<typeof quay>): Float32Array {
  const cut = new Float32Array(w * h);
  for (let i = 0; i < cut.length; i++) cut[i] = plate[(box.y0 + Math.floor(i / w)) * WIDTH + box.x0 + (i % w)];
  let [n, sx, sy, sxx, sxy] = [0, 0, 0, 0, 0];
  for (let i = 0; i < cut.length; i++) {
    if (!still[i]) continue;
    n++;
    sx += cut[i];
    sy += clean[0][i];
    sxx += cut[i] * cut[i];
    sxy += cut[i] * clean[0][i];
  }
  const g = (n * sxy - sx * sy) / (n * sxx - sx * sx);
  const o = (sy - g * sx) / n;
  return cut.map((v) => g * v + o);
}

function measured(plate: Float32Array, q: ReturnType<typeof quay>) {
  const mine = fitted(plate, q);
  const low = blur(mine, q.w, q.h, 1, 2);
  let [s, n, left] = [0, 0, 0];
  const off: number[] = [];
  for (let i = 0; i < mine.length; i++) {
    if (q.still[i]) {
      s += (mine[i] - q.clean[0][i]) ** 2;
      n++;
      if (q.passed[i]) off.push(Math.abs(low[i] - q.low[0][i]));
    } else if (q.passed[i]) {
      // living water is like itself at some moment, give or take a crest; a truck is like none of them
      const nearest = Math.min(...q.low.map((c) => Math.abs(low[i] - c[i])));
      if (nearest > 45) left++;
    }
  }
  off.sort((a, b) => a - b);
  return { psnr: 10 * Math.log10((255 * 255 * n) / s), share: n / mine.length, worst: off[Math.floor(0.999 * off.length)], left };
}

describe("a plate built from many frames", () => {
  const q = quay([0, 20, 40, 60, 80, 100, 120, 140]);

  it("shows the quay without either fork-lift, though no single frame does", async () => {
    const out = join(folder, "plate.png");
    const r = umber("plate", "demo/takes/quay.mp4", "--from", "0", "--to", "143", "--out", out);
    expect(r.stderr).toMatch(/Made of \d+ frames/);
    const m = measured(await lumaOf(out), q);
    expect(m.share).toBeGreaterThan(0.5);
    expect(m.psnr).toBeGreaterThan(36);
    expect(m.worst).toBeLessThan(6);
    expect(m.left).toBe(0);
    // the same measure finds the trucks in any frame
    umber("plate", "demo/takes/quay.mp4", "--frame", "90", "--out", out);
    const one = measured(await lumaOf(out), q);
    expect(one.worst).toBeGreaterThan(20);
    expect(one.left).toBeGreaterThan(2000);
  });

  it("mends a shot from a recipe: built, laid over the boom, rendered", async () => {
    const recipe = JSON.parse(readFileSync("demo/recipes/hall.json", "utf8")) as Recipe;
    recipe.takes.a.path = resolve("demo/takes/hall.mp4");
    recipe.plates.p = { from: { take: "a", built: { in: 0, out: 95, at: 28 } }, touches: [] };
    recipe.output = { in: 54, out: 56 };
    writeFileSync(join(folder, "r.json"), JSON.stringify(recipe));
    const film = join(folder, "mended.mkv");
    const r = umber("render", join(folder, "r.json"), "--out", film, "--codec", "ffv1");
    expect(r.status, r.stderr).toBe(0);
    const truth = new Truth("hall");
    const size = WIDTH * HEIGHT;
    // its own luma: asked for grey, ffmpeg would stretch it to the full range
    const [mended] = [...frames(film, [1], "yuv420p", size * 1.5)];
    const [matte] = [...frames("demo/truth/hall-matte-boom.mkv", [55], "gray", size)];
    const [clean] = [...truth.clean([55], truth.known)];
    let [s, n] = [0, 0];
    for (let i = 0; i < size; i++)
      if (matte[i] > 127) {
        s += (mended[i] - clean.y[i]) ** 2;
        n++;
      }
    expect(10 * Math.log10((255 * 255 * n) / s)).toBeGreaterThan(43);
  });

  it("does so from what a phone in a hand gives", async () => {
    const film = join(folder, "rough.mp4");
    await makeRough("demo/takes/quay.mp4", film, 7, 48);
    const out = join(folder, "rough.png");
    umber("plate", film, "--from", "0", "--to", "47", "--out", out);
    const m = measured(await lumaOf(out), q);
    expect(m.psnr).toBeGreaterThan(32);
    expect(m.left).toBe(0);
  });
});
