import { execFileSync } from "node:child_process";
import { mkdtempSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { frames } from "../../demo/make/decode";
import { bytesOf } from "../../src/core/pixels/frame";
import { buildProgram, umber } from "../../testkit/cli";
import { part } from "../../testkit/pictures";
import { Street } from "../../testkit/street";

const [WIDTH, HEIGHT] = [1280, 720];
/** A window that moves over a made-up street. */
const STREET = { wide: 400, high: 250 };
const PART = [STREET.wide - 40, STREET.high - 24] as const;
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

  /** How much of what is the boom or was cut out is both, on each frame of a made-up street. */
  const sharedOf = async (street: Street, corners: (readonly [number, number])[], at: number, walkers = true) => {
    const folder = mkdtempSync(join(tmpdir(), "umber-cutout-"));
    const film = join(folder, "street.mkv");
    const shown = corners.map(([x, y], n) => bytesOf(part(street.frame(n, { walkers }), x, y, ...PART)));
    const input = ["-f", "rawvideo", "-pix_fmt", "yuv420p", "-s", PART.join("x"), "-r", "24", "-i", "-"];
    execFileSync("ffmpeg", ["-v", "error", ...input, "-c:v", "ffv1", film], { input: Buffer.concat(shown) });
    const loop = street.loop(at).map(([x, y]) => `${x - corners[at][0]},${y - corners[at][1]}`);
    const r = umber("cutout", film, "--at", String(at), "--outline", loop.join(" "), "--out", join(folder, "##.png"));
    expect(r.stderr).toBe("");
    const found: number[] = [];
    for (const [n, [x0, y0]] of corners.entries()) {
      const data = await sharp(join(folder, `${String(n).padStart(2, "0")}.png`)).toColourspace("b-w").raw().toBuffer(); // prettier-ignore
      let [both, either] = [0, 0];
      for (let i = 0; i < data.length; i++) {
        const truly = street.covers(n, (i % PART[0]) + x0, Math.floor(i / PART[0]) + y0) > 0.5;
        if (data[i] > 127 && truly) both++;
        if (data[i] > 127 || truly) either++;
      }
      found.push(both / either);
    }
    return found;
  };
  it("follows a boom before a camera that moves, by itself", async () => {
    const corners = Array.from(
      { length: 20 },
      (_, n) => [20 + 2 * Math.round(7 * Math.sin(n / 3)), 12 + 2 * Math.round(5 * Math.cos(n / 2))] as const,
    );
    const found = await sharedOf(new Street(3, STREET), corners, 10, false);
    expect(found.reduce((a, b) => a + b) / found.length).toBeGreaterThan(0.85);
    expect(Math.min(...found)).toBeGreaterThan(0.7);
  });
  it("finds a boom that never leaves by its colours and those about it", async () => {
    class Hanging extends Street {
      override covers(_: number, x: number, y: number) {
        return super.covers(10, x, y);
      }
    }
    const found = await sharedOf(new Hanging(8, STREET, true), Array(12).fill([20, 12]), 10);
    // a third of it is pole beyond the loop, which the plate shows as the ground
    expect(Math.min(...found)).toBeGreaterThan(0.6);
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
