import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { random } from "../../src/core/random";
import { FrameStore } from "../../src/engine/media/frame-store";
import { readSource } from "../../src/engine/render/recipe-file";
import { buildProgram, umber } from "../../testkit/cli";
import { decodeAll, ffmpeg, ffprobe } from "../../testkit/ffmpeg";
import { bytesOf } from "../../src/core/pixels/frame";

/** Numbered stills as takes: every kind of still, against what sharp reads from each file by itself. */
const dir = mkdtempSync(join(tmpdir(), "umber-stills-"));
const file = (n: string) => join(dir, n);
const [W, H, N] = [90, 60, 12];

async function stills(folder: string, kind: string, channels: 1 | 3 | 4, bits: 8 | 16): Promise<void> {
  mkdirSync(file(folder));
  const rnd = random(channels * bits);
  for (let n = 0; n < N; n++) {
    const data = new (bits === 8 ? Uint8Array : Uint16Array)(W * H * channels).map(() => Math.floor(rnd() * (1 << bits)));
    const image = sharp(data, { raw: { width: W, height: H, channels } }).toColourspace(space(channels, bits));
    await (kind === "png" ? image.png() : kind === "tif" ? image.tiff({ compression: "lzw" }) : image.jpeg()).toFile(
      join(file(folder), `f.${String(n + 7).padStart(4, "0")}.${kind}`),
    );
  }
}

const space = (channels: number, bits: number) => (channels === 1 ? (bits === 8 ? "b-w" : "grey16") : bits === 8 ? "srgb" : "rgb16");

const recipe = (path: string, name = "r.json") => {
  const layers = [
    {
      id: "l",
      kind: "patch",
      in: 3,
      out: 5,
      source: { take: "a", hold: 0 },
      mask: { shapes: [{ kind: "box", op: "add", center: [20, 20], size: [20, 16] }] },
    },
  ];
  const r = {
    format: "umber-moth/recipe",
    version: 1,
    takes: { a: { path, rate: [12, 1] } },
    shot: { take: "a", in: 0, out: N - 1 },
    plates: {},
    intruders: [{ id: "i", name: "x", layers }],
  };
  writeFileSync(file(name), JSON.stringify(r));
  return file(name);
};
const untouched = [0, 1, 2, 6, 7, 8, 9, 10, 11];

beforeAll(buildProgram);

describe("numbered stills", () => {
  for (const [kind, channels, bits, layout] of [
    ["png", 3, 8, "rgb24"],
    ["png", 4, 8, "rgba"],
    ["png", 3, 16, "rgb48le"],
    ["png", 4, 16, "rgba64le"],
    ["png", 1, 8, "gray"],
    ["tif", 3, 16, "rgb48le"],
    ["tif", 3, 8, "rgb24"],
    ["jpg", 3, 8, "yuvj420p"],
  ] as const)
    it(`${kind}, ${channels} channels of ${bits} bits: every frame by random access, and untouched frames after FFV1`, async () => {
      const folder = `${kind}${channels}-${bits}`;
      await stills(folder, kind, channels, bits);
      const pattern = join(file(folder), `f.####.${kind}`);
      const index = await readSource(pattern, [12, 1], file(`${folder}-links`));
      expect([index.info.frames, index.info.width, index.info.height, index.info.rate]).toEqual([N, W, H, [12, 1]]);
      const store = new FrameStore(file(`${folder}-store`), 1e9);
      const each = await Promise.all(
        readdirSync(file(folder)).map((f) =>
          kind === "jpg"
            ? Promise.resolve(ffmpeg(["-i", join(file(folder), f), "-pix_fmt", "yuvj420p", "-f", "rawvideo", "pipe:1"]))
            : sharp(join(file(folder), f))
                .toColourspace(space(channels, bits))
                .raw({ depth: bits === 8 ? "uchar" : "ushort" })
                .toBuffer(),
        ),
      );
      for (const n of [7, 0, 11, 3]) {
        const frame = await store.frame("t", index, n, n === 3);
        if (kind === "jpg") expect(Buffer.from(bytesOf(frame)).equals(each[n])).toBe(true);
        else {
          const px = bits === 8 ? each[n] : new Uint16Array(each[n].buffer, each[n].byteOffset, each[n].length / 2);
          const order = channels === 1 ? [0] : [1, 2, 0, 3].slice(0, channels);
          order.forEach((c, p) => {
            const want = Array.from({ length: W * H }, (_, i) => px[i * channels + c]);
            expect(Buffer.from(Uint16Array.from(frame.planes[p].data).buffer).equals(Buffer.from(Uint16Array.from(want).buffer))).toBe(true);
          });
        }
      }
      const r = umber("render", recipe(join(folder, `f.####.${kind}`)), "--out", file(`${folder}.mkv`), "--codec", "ffv1");
      expect([r.stderr.split("\n")[0], r.status]).toEqual(["12 of 12 frames", 0]);
      const [v] = ffprobe(file(`${folder}.mkv`), "-show_streams").streams as Record<string, string>[];
      expect(v.r_frame_rate).toBe("12/1");
      const after = decodeAll(file(`${folder}.mkv`), layout);
      const size = after.length / N;
      for (const n of untouched) expect(after.subarray(n * size, (n + 1) * size).equals(each[n])).toBe(true);
      expect(after.subarray(4 * size, 5 * size).equals(each[4])).toBe(false);
    });
  it("goes on over missing numbers and names them", () => {
    const r = umber("survey", join(file("png3-8"), "f.####.png"), "--json");
    expect((JSON.parse(r.stdout) as { notes: string[] }).notes.join()).not.toContain("missing");
    mkdirSync(file("gaps"));
    for (const n of [1, 2, 5, 6, 9]) copyFileSync(join(file("png3-8"), "f.0008.png"), join(file("gaps"), `x${n}.png`));
    const gaps = JSON.parse(umber("survey", join(file("gaps"), "x#.png"), "--json").stdout) as { frames: number; notes: string[] };
    expect(gaps.frames).toBe(5);
    expect(gaps.notes.join()).toContain("the numbers 3–4, 7–8 are missing");
  });
  it("refuses stills of unequal size, of another kind, damaged or absent ones, by name", async () => {
    const say = (pattern: string) => {
      const r = umber("survey", file(pattern));
      expect([r.status, r.stderr.trim().split("\n").length]).toEqual([2, 1]);
      return r.stderr;
    };
    rmSync(file("gaps"), { recursive: true });
    mkdirSync(file("gaps"));
    for (const n of [1, 2, 3]) copyFileSync(join(file("png3-8"), "f.0008.png"), join(file("gaps"), `x${n}.png`));
    await sharp(join(file("png3-8"), "f.0008.png"))
      .resize(80, 60)
      .png()
      .toFile(join(file("gaps"), "x4.png"));
    expect(say("gaps/x#.png")).toContain("“x4.png” measures 80×60 and “x1.png” 90×60");
    copyFileSync(join(file("png4-8"), "f.0008.png"), join(file("gaps"), "x4.png"));
    expect(say("gaps/x#.png")).toContain("“x4.png” holds 4 channels of 8 bits and “x1.png” 3 channels");
    writeFileSync(join(file("gaps"), "x4.png"), "");
    expect(say("gaps/x#.png")).toContain("“x4.png” is empty");
    writeFileSync(join(file("gaps"), "x4.png"), "none");
    expect(say("gaps/x#.png")).toContain("“x4.png” cannot be read");
    expect(say("gaps/y#.png")).toContain("There are no stills like “y#.png”");
    expect(say("nowhere/y#.png")).toContain("folder “nowhere”");
    writeFileSync(file("norate.json"), withoutRate);
    const r = umber("render", file("norate.json"), "--out", file("n.mkv"), "--codec", "ffv1");
    expect([r.status, r.stderr]).toEqual([2, expect.stringContaining("takes.a.rate: found nothing")]);
  });
});

const withoutRate = JSON.stringify({
  format: "umber-moth/recipe",
  version: 1,
  takes: { a: { path: "png3-8/f.####.png" } },
  shot: { take: "a", in: 0, out: 3 },
  plates: {},
  intruders: [],
});
