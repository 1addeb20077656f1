import { mkdtempSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { frames } from "../../demo/make/decode";
import { buildProgram, umber } from "../../testkit/cli";

const [WIDTH, HEIGHT] = [1280, 720];
const LOOP = "600,0 600,70 612,134 700,128 760,70 812,30 812,0";

beforeAll(() => buildProgram());

describe("umber cutout", () => {
  it("writes the matte of the boom for each frame, its shadow left out", async () => {
    const out = mkdtempSync(join(tmpdir(), "umber-cutout-"));
    const r = umber("cutout", "demo/takes/hall.mp4", "--at", "55", "--from", "50", "--to", "58", "--outline", LOOP, "--out", join(out, "###.png"));
    expect(r.stderr).toBe("");
    expect(r.stdout).toContain("Seen on 9 frames");
    const names = readdirSync(out).sort();
    expect(names).toEqual(Array.from({ length: 9 }, (_, i) => `0${50 + i}.png`));
    const list = [50, 55, 58];
    let k = 0;
    for (const truth of frames("demo/truth/hall-matte-boom.mkv", list, "gray", WIDTH * HEIGHT)) {
      const { data, info } = await sharp(join(out, `0${list[k++]}.png`)).toColourspace("b-w").raw().toBuffer({ resolveWithObject: true }); // prettier-ignore
      expect([info.width, info.height, info.channels]).toEqual([WIDTH, HEIGHT, 1]);
      let [both, either] = [0, 0];
      for (let i = 0; i < data.length; i++) {
        if (data[i] > 127 && truth[i] > 127) both++;
        if (data[i] > 127 || truth[i] > 127) either++;
      }
      // the truth's fur is finer than its rim is told: a pixel around a form of 176 × 122 is a tenth of it
      expect(both / either).toBeGreaterThan(0.8);
    }
  });

  it("refuses what it cannot do in one sentence", () => {
    const refused = (...args: string[]) => {
      const r = umber("cutout", "demo/takes/hall.mp4", ...args);
      expect(r.status).toBe(2);
      return r.stderr;
    };
    expect(refused("--outline", "1,2 3,4", "--out", "x/##.png")).toMatch(/three corners or more are allowed/);
    expect(refused("--outline", LOOP, "--out", "x.png")).toMatch(/needs --out with # for the frame's number/);
    expect(refused("--outline", "1290,5 1300,5 1300,9", "--out", "x/##.png")).toMatch(/lies outside the picture, which is 1280×720/);
  });
});
