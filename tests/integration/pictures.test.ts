import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { buildProgram, umber } from "../../testkit/cli";
import { decodeAll, ffmpeg, ffprobe } from "../../testkit/ffmpeg";

/** Pictures that are brought in by a recipe, for plates and for masks, and colour that a recipe sets: judged by ffmpeg and sharp. */
const dir = mkdtempSync(join(tmpdir(), "umber-pictures-"));
const file = (n: string) => join(dir, n);
const [W, H, N] = [96, 64, 4];
const SIZE = W * H * 3;

const recipe = (plate: string, mask: object, take: object = {}) => {
  writeFileSync(
    file("r.json"),
    JSON.stringify({
      format: "umber-moth/recipe",
      version: 1,
      takes: { a: { path: "take.mkv", ...take } },
      shot: { take: "a", in: 0, out: N - 1 },
      plates: { p: { from: { path: plate }, touches: [] } },
      intruders: [{ id: "i", name: "x", layers: [{ id: "l", kind: "patch", in: 0, out: N - 1, source: { plate: "p" }, mask }] }],
    }),
  );
  return file("r.json");
};
const rendered = (r: string) => {
  const done = umber("render", r, "--out", file("out.mkv"), "--codec", "ffv1");
  return { done, frames: () => decodeAll(file("out.mkv"), "yuv444p") };
};
const everywhere = { shapes: [{ kind: "box", op: "add", center: [W / 2, H / 2], size: [W, H] }] };

beforeAll(async () => {
  await buildProgram();
  const tags = "-color_range tv -colorspace bt709 -color_primaries bt709 -color_trc bt709".split(" ");
  const source = `testsrc2=s=${W}x${H}:r=25,noise=alls=30:allf=t`;
  ffmpeg(["-y", "-f", "lavfi", "-i", source, "-frames:v", String(N), "-pix_fmt", "yuv444p", "-c:v", "ffv1", ...tags, file("take.mkv")]);
  ffmpeg(["-y", "-f", "lavfi", "-i", `mandelbrot=s=${W}x${H}`, "-frames:v", "1", "-pix_fmt", "rgb24", file("clean.png")]);
  await sharp(file("clean.png")).toColourspace("rgb16").tiff({ compression: "lzw" }).toFile(file("clean.tif"));
  await sharp(file("clean.png")).jpeg({ quality: 100, chromaSubsampling: "4:4:4" }).toFile(file("clean.jpg"));
});

describe("a plate from a picture", () => {
  it("is converted as ffmpeg's scaler converts it (BT.709, limited), within one code value", () => {
    const filter = "scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+bicubic";
    const judge = ffmpeg(["-i", file("clean.png"), "-vf", filter, "-pix_fmt", "yuv444p", "-f", "rawvideo", "pipe:1"]);
    for (const name of ["clean.png", "clean.tif"]) {
      const { done, frames } = rendered(recipe(name, everywhere));
      expect(done.stderr).toContain("4 of 4 frames");
      const got = frames();
      let far = 0;
      for (let i = 0; i < SIZE; i++) far = Math.max(far, Math.abs(got[2 * SIZE + i] - judge[i]));
      expect(far).toBeLessThanOrEqual(1);
    }
    expect(rendered(recipe("clean.jpg", everywhere)).done.status).toBe(0);
  });
  it("of another size lies at the top left, and its own alpha lets the footage through", async () => {
    const px = Buffer.from(Array.from({ length: 40 * 30 }, (_, i) => [200, 40, 90, i % 40 < 20 ? 255 : 0]).flat());
    await sharp(px, { raw: { width: 40, height: 30, channels: 4 } })
      .png()
      .toFile(file("small.png"));
    const { frames } = rendered(recipe("small.png", everywhere));
    const before = decodeAll(file("take.mkv"), "yuv444p");
    const after = frames();
    const luma = Math.round(16 + (219 * (0.2126 * 200 + 0.7152 * 40 + 0.0722 * 90)) / 255);
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) expect(after[y * W + x]).toBe(x < 20 && y < 30 ? luma : before[y * W + x]);
  });
  it("leaves a colour profile aside, and says so", async () => {
    const icc = await sharp(file("clean.png")).withIccProfile("p3").toColourspace("srgb").png().toBuffer();
    writeFileSync(file("icc.png"), icc);
    expect(rendered(recipe("icc.png", everywhere)).done.stderr).toContain("The colour profile of “icc.png” was left aside");
  });
  it("refuses what is no picture, or not there, in a sentence and with nothing written", () => {
    writeFileSync(file("text.png"), "no picture");
    writeFileSync(file("v.svg"), `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>`);
    for (const [name, why] of [
      ["text.png", "is not a picture that can be read"],
      ["gone.png", "was not found"],
      ["v.svg", "is SVG: give PNG, TIFF or JPEG"],
    ]) {
      const r = umber("render", recipe(name, everywhere), "--out", file("none.mkv"), "--codec", "ffv1");
      expect([r.status, r.stderr.trim().split("\n").length]).toEqual([2, 1]);
      expect(r.stderr).toContain(why);
    }
  });
});

describe("a picture as mask", () => {
  it("lays the plate where it is bright and mixes between, to the sample", async () => {
    const grey = Buffer.from(Array.from({ length: W * H }, (_, i) => (i % W) * 2));
    await sharp(grey, { raw: { width: W, height: H, channels: 1 } })
      .toColourspace("b-w")
      .png()
      .toFile(file("ramp.png"));
    const whole = rendered(recipe("clean.png", everywhere)).frames();
    const before = decodeAll(file("take.mkv"), "yuv444p");
    const after = rendered(recipe("clean.png", { shapes: [{ kind: "picture", op: "add", path: "ramp.png", use: "brightness" }] })).frames();
    for (let i = 0; i < SIZE; i++) {
      const a = Math.round((65535 * ((i % W) * 2)) / 255);
      expect(after[i]).toBe(Math.floor((whole[i] * a + before[i] * (65535 - a) + 32767) / 65535));
    }
  });
});

describe("colour that a recipe sets", () => {
  it("takes the place of the file's tags, in how pictures come in and in what is written", () => {
    const colour = { matrix: "bt601", range: "full", primaries: "smpte170m", transfer: "smpte170m" };
    const { frames } = rendered(recipe("small.png", everywhere, { colour }));
    expect(frames()[0]).toBe(Math.round(0.299 * 200 + 0.587 * 40 + 0.114 * 90));
    const [v] = ffprobe(file("out.mkv"), "-show_streams").streams as Record<string, string>[];
    expect([v.color_space, v.color_range, v.color_primaries, v.color_transfer]).toEqual(["smpte170m", "pc", "smpte170m", "smpte170m"]);
  });
});
