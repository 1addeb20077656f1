import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Survey } from "../../src/core/survey/survey";
import { buildProgram, umber } from "../../testkit/cli";
import { ffmpeg } from "../../testkit/ffmpeg";

/** Surveys and built plates of every kind of samples: a block crosses a textured ground in made-up films whose truth is known. */
const dir = mkdtempSync(join(tmpdir(), "umber-kinds-"));
const file = (n: string) => join(dir, n);
const [W, H, N] = [192, 128, 24];
beforeAll(buildProgram);
afterAll(() => rmSync(dir, { recursive: true, force: true }));

/** Ground with a fine texture; over it a white block that crosses; as grey or R′G′B′ raw video of 8 bits. */
function film(name: string, pixels: string, codec: string[], block = true): string {
  let seed = 7;
  const next = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;
  const ground = Array.from({ length: W * H }, () => [60 + 90 * next(), 60 + 90 * next(), 60 + 90 * next()]);
  const raw = Buffer.alloc(W * H * 3 * N);
  for (let n = 0; n < N; n++)
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const covered = block && y > 40 && y < 90 && x >= n * 7 - 20 && x < n * 7 + 20;
        const v = covered ? [250, 250, 250] : ground[y * W + x];
        for (let c = 0; c < 3; c++) raw[3 * (n * W * H + y * W + x) + c] = v[c] + (next() - 0.5) * 3;
      }
  writeFileSync(file("raw.rgb"), raw);
  const path = file(name);
  ffmpeg(["-f", "rawvideo", "-pix_fmt", "rgb24", "-s", `${W}x${H}`, "-r", "24", "-i", file("raw.rgb"), "-pix_fmt", pixels, ...codec, "-y", path]);
  return path;
}

describe.each([
  ["yuv420p", ["-c:v", "ffv1"]],
  ["yuv422p10le", ["-c:v", "ffv1"]],
  ["yuv444p12le", ["-c:v", "ffv1"]],
  ["gbrp", ["-c:v", "ffv1"]],
  ["gray", ["-c:v", "ffv1"]],
  ["yuvj420p", ["-c:v", "libx264", "-crf", "4"]],
] as [string, string[]][])("%s", (pixels, codec) => {
  it("is surveyed, and a plate built from it shows the ground without the block", async () => {
    const path = film(`${pixels}.mkv`, pixels, codec);
    const s = umber("survey", path, "--json");
    expect(s.status, s.stderr).toBe(0);
    const survey = JSON.parse(s.stdout) as Survey;
    expect(survey.stillness.verdict).toBe("locked");
    expect(survey.light.flicker).toBeLessThan(0.02);
    expect(survey.grain.sigma).toBeGreaterThan(0.3);
    const out = file(`${pixels}.png`);
    const r = umber("plate", path, "--from", "0", "--to", String(N - 1), "--out", out);
    expect(r.status, r.stderr).toBe(0);
    const clean = film(`${pixels}-clean.mkv`, pixels, codec, false);
    // both as R′G′B′ by our own reading, frame 0 of the film without the block
    umber("plate", clean, "--frame", "0", "--out", file("clean.png"));
    const [a, b] = await Promise.all([out, file("clean.png")].map((p) => sharp(p).greyscale().raw().toBuffer()));
    let [s2, worst] = [0, 0];
    for (let i = 0; i < a.length; i++) {
      s2 += (a[i] - b[i]) ** 2;
      worst = Math.max(worst, Math.abs(a[i] - b[i]));
    }
    expect(10 * Math.log10((255 * 255 * a.length) / s2)).toBeGreaterThan(34);
    expect(worst).toBeLessThan(40);
  });
});

describe("wrong use of plate and survey", () => {
  it("gets one line and status 2", () => {
    const path = film("w.mkv", "yuv420p", ["-c:v", "ffv1"]);
    for (const [args, says] of [
      [["plate", path, "--out", file("x.png"), "--from", "5", "--to", "3"], /--to was “3”; a whole number from 5 to 23 is allowed/],
      [["plate", path, "--out", file("x.png"), "--from", "0", "--to", "99"], /--to was “99”; a whole number from 0 to 23/],
      [["plate", path, "--out", file("x.png"), "--frame", "2", "--to", "9"], /either --frame or --from and --to/],
      [["plate", path, "--out", file("x.png"), "--from", "4", "--to", "4"], /at least two/],
      [["survey", file("none.mp4"), "--json"], /none\.mp4/],
    ] as [string[], RegExp][]) {
      const r = umber(...args);
      expect(r.status, args.join(" ")).toBe(2);
      expect(r.stderr).toMatch(says);
      expect(r.stderr.trim().split("\n")).toHaveLength(1);
    }
  });
});
