import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import type { Recipe } from "../../src/core/document/recipe";
import { bytesOf, frameBytes } from "../../src/core/pixels/frame";
import { random } from "../../src/core/random";
import { spelled } from "../../src/engine/media/arguments";
import { decodeFrames, provenStart } from "../../src/engine/media/decode";
import { FrameStore } from "../../src/engine/media/frame-store";
import type { TakeIndex } from "../../src/engine/media/index-file";
import { ingest } from "../../src/engine/media/ingest";
import type { Codec } from "../../src/wire/formats";
import { render } from "../../src/engine/render/render";
import { decodeAll, ffmpeg, ffprobe } from "../../testkit/ffmpeg";

/**
 * Frames are what they are: for each kind of footage the count and every frame, in random order, against ffmpeg's
 * sequential decode; and an FFV1 render whose untouched samples and tags are those of the take.
 */
const dir = mkdtempSync(join(tmpdir(), "umber-frames-"));
const file = (n: string) => join(dir, n);
const moving = (size: string, n: number, rate = 24) => ["-f", "lavfi", "-i", `testsrc2=s=${size}:r=${rate}:d=${n / rate},noise=alls=10:allf=t`];
const x264 = ["-c:v", "libx264", "-preset", "veryfast"];

interface Kind {
  name: string;
  make: string[][];
  file: string;
  says?: RegExp;
  variable?: boolean;
}

const kinds: Kind[] = [
  {
    name: "a long group of pictures with B-frames",
    file: "gop.mp4",
    make: [[...moving("160x90", 120), ...x264, "-bf", "3", "-g", "250", "-pix_fmt", "yuv420p", "gop.mp4"]],
  },
  {
    name: "a stream-copied trim with an edit list",
    file: "trim.mp4",
    make: [
      [...moving("160x90", 96), ...x264, "-bf", "2", "-g", "24", "-pix_fmt", "yuv420p", "whole.mp4"],
      ["-ss", "1.3", "-i", "whole.mp4", "-c", "copy", "trim.mp4"],
    ],
  },
  {
    name: "pictures that are shown twice, and a stretch that comes again",
    file: "twos.mp4",
    make: [
      [
        ...moving("160x90", 60, 12),
        "-vf",
        "loop=loop=2:size=20:start=15,fps=24",
        ...x264,
        "-qp",
        "0",
        "-g",
        "250",
        "-pix_fmt",
        "yuv420p",
        "twos.mp4",
      ],
    ],
  },
  {
    name: "variable frame rate",
    file: "vfr.mp4",
    variable: true,
    says: /rate varies/,
    make: [
      [
        ...moving("160x90", 90, 30),
        "-vf",
        "select=not(eq(mod(n\\,7)\\,2))*not(eq(mod(n\\,11)\\,5))",
        "-fps_mode",
        "vfr",
        ...x264,
        "-pix_fmt",
        "yuv420p",
        "vfr.mp4",
      ],
    ],
  },
  {
    name: "a start offset",
    file: "late.mkv",
    make: [[...moving("160x90", 60), ...x264, "-pix_fmt", "yuv420p", "-output_ts_offset", "7.5", "late.mkv"]],
  },
  {
    name: "a transport stream, which starts anywhere",
    file: "late.ts",
    make: [[...moving("160x90", 60), ...x264, "-g", "15", "-pix_fmt", "yuv420p", "late.ts"]],
  },
  { name: "odd sizes, 4:2:0", file: "odd.mkv", make: [[...moving("161x91", 30), "-c:v", "ffv1", "-pix_fmt", "yuv420p", "odd.mkv"]] },
  {
    name: "a rotation flag",
    file: "turned.mp4",
    says: /turned/,
    make: [
      [...moving("160x90", 30), ...x264, "-pix_fmt", "yuv420p", "flat.mp4"],
      ["-i", "flat.mp4", "-c", "copy", "-metadata:s:v", "rotate=90", "turned.mp4"],
    ],
  },
  {
    name: "non-square pixels",
    file: "wide.mp4",
    says: /not square/,
    make: [[...moving("180x144", 30), "-vf", "setsar=16/15", ...x264, "-pix_fmt", "yuv420p", "wide.mp4"]],
  },
  {
    name: "interlaced",
    file: "fields.mp4",
    says: /interlaced/,
    make: [[...moving("160x96", 30, 25), ...x264, "-flags", "+ilme+ildct", "-x264-params", "tff=1", "-pix_fmt", "yuv420p", "fields.mp4"]],
  },
  {
    name: "10 bit 4:2:2",
    file: "ten.mov",
    make: [[...moving("160x90", 24), "-c:v", "prores_ks", "-profile:v", "3", "-pix_fmt", "yuv422p10le", "ten.mov"]],
  },
  { name: "12 bit 4:4:4", file: "twelve.mkv", make: [[...moving("160x90", 12), "-c:v", "ffv1", "-pix_fmt", "yuv444p12le", "twelve.mkv"]] },
  { name: "16 bit R′G′B′", file: "sixteen.mkv", make: [[...moving("160x90", 12), "-c:v", "ffv1", "-pix_fmt", "gbrp16le", "sixteen.mkv"]] },
  { name: "8 bit R′G′B′ in PNG", file: "png.mov", make: [[...moving("160x90", 12), "-c:v", "png", "-pix_fmt", "rgb24", "png.mov"]] },
  { name: "grey", file: "grey.mkv", make: [[...moving("160x90", 12), "-c:v", "ffv1", "-pix_fmt", "gray", "grey.mkv"]] },
  {
    name: "full range",
    file: "full.mp4",
    make: [[...moving("160x90", 24), "-vf", "scale=out_range=pc", ...x264, "-pix_fmt", "yuvj420p", "-color_range", "pc", "full.mp4"]],
  },
  {
    name: "BT.2020 with PQ",
    file: "pq.mp4",
    says: /PQ/,
    make: [
      [
        ...moving("160x90", 24),
        "-c:v",
        "libx265",
        "-x265-params",
        "log-level=error",
        "-pix_fmt",
        "yuv420p10le",
        "-colorspace",
        "bt2020nc",
        "-color_primaries",
        "bt2020",
        "-color_trc",
        "smpte2084",
        "-color_range",
        "tv",
        "pq.mp4",
      ],
    ],
  },
  {
    name: "BT.601 with HLG",
    file: "hlg.mkv",
    says: /HLG/,
    make: [
      [
        ...moving("160x90", 24),
        "-c:v",
        "ffv1",
        "-pix_fmt",
        "yuv422p10le",
        "-colorspace",
        "smpte170m",
        "-color_primaries",
        "smpte170m",
        "-color_trc",
        "arib-std-b67",
        "-color_range",
        "tv",
        "hlg.mkv",
      ],
    ],
  },
  {
    name: "alpha, 4:4:4 10 bit",
    file: "alpha.mkv",
    make: [
      [
        ...moving("160x90", 12),
        "-vf",
        "format=yuva444p10le,geq=lum='lum(X,Y)':cb='cb(X,Y)':cr='cr(X,Y)':a='X*6'",
        "-c:v",
        "ffv1",
        "-pix_fmt",
        "yuva444p10le",
        "alpha.mkv",
      ],
    ],
  },
  {
    name: "alpha, R′G′B′",
    file: "rgba.mkv",
    make: [[...moving("160x90", 12), "-vf", "format=gbrap10le", "-c:v", "ffv1", "-pix_fmt", "gbrap10le", "rgba.mkv"]],
  },
  { name: "a single frame", file: "one.mp4", make: [[...moving("160x90", 1), ...x264, "-pix_fmt", "yuv420p", "one.mp4"]] },
];

const recipe = (t: TakeIndex): Recipe => ({
  format: "umber-moth/recipe",
  version: 1,
  takes: { a: { path: "x" } },
  shot: { take: "a", in: 0, out: t.info.frames - 1 },
  plates: { p: { from: { take: "a", frame: 0 }, touches: [] } },
  intruders: [
    {
      id: "i",
      name: "x",
      layers: [
        {
          id: "l",
          kind: "patch",
          in: Math.floor(t.info.frames / 2),
          out: Math.floor(t.info.frames / 2),
          source: { plate: "p" },
          mask: { shapes: [{ kind: "box", op: "add", center: [40, 40], size: [16, 16] }] },
        },
      ],
    },
  ],
});

beforeAll(() => {
  for (const k of kinds)
    for (const args of k.make)
      ffmpeg(["-y", ...args.map((a, i) => (args[i - 1] === "-i" && /^\w+\.\w+$/.test(a) ? file(a) : a)).slice(0, -1), file(args.at(-1)!)]);
});

describe.each(kinds)("$name", (k) => {
  let t: TakeIndex;
  let all: Buffer;
  let size: number;
  it("is counted and described as ffmpeg's sequential decode has it", async () => {
    t = await ingest(file(k.file));
    all = ffmpeg([
      "-noautorotate",
      "-i",
      file(k.file),
      "-map",
      "0:v:0",
      "-fps_mode",
      "passthrough",
      "-pix_fmt",
      // the decoder's own samples, unless they are interleaved
      /^(yuv|gray|gbr)/.test(t.info.pixelFormat) ? t.info.pixelFormat : t.info.planar,
      "-f",
      "rawvideo",
      "pipe:1",
    ]);
    size = frameBytes(t.info.width, t.info.height, t.info.format);
    expect(t.info.frames).toBe(all.length / size);
    expect(t.info.variableRate).toBe(k.variable ?? false);
    if (k.says) expect(t.info.notes.join(" ")).toMatch(k.says);
  });
  it("gives every frame in random order, from blocks made in random order", async () => {
    const store = new FrameStore(mkdtempSync(join(dir, "store-")), 1e9);
    const rnd = random(17);
    const order = Array.from({ length: t.info.frames }, (_, i) => i).sort(() => rnd() - 0.5);
    for (const n of order) expect(Buffer.from(bytesOf(await store.frame("t", t, n))).equals(all.subarray(n * size, (n + 1) * size))).toBe(true);
  });
  it("renders to FFV1 with its own samples, times and tags", async () => {
    const out = file(`${k.file}.out.mkv`);
    await render(
      { recipe: recipe(t), takes: { a: { id: "t", index: t } }, out, codec: "ffv1" as Codec, preset: "medium", crf: 18 },
      new FrameStore(mkdtempSync(join(dir, "store-")), 1e9),
    );
    const got = decodeAll(out, t.info.planar);
    expect(got.length).toBe(all.length);
    const touched = Math.floor(t.info.frames / 2);
    for (let n = 0; n < t.info.frames; n++)
      if (n !== touched) expect(got.subarray(n * size, (n + 1) * size).equals(all.subarray(n * size, (n + 1) * size))).toBe(true);
    // the patch lies where it should, in its one frame, and nothing else there was touched
    const wide = t.info.format.bits > 8 ? 2 : 1;
    const [w, h] = [t.info.width, t.info.height];
    for (let y = 0; y < h; y++) {
      const row = (n: number, x0: number, x1: number, b: Buffer) => b.subarray(n * size + (y * w + x0) * wide, n * size + (y * w + x1) * wide);
      const inside = y >= 32 && y < 48;
      // a plate's own alpha multiplies the mask, so there it is no plain copy
      if (!(inside && t.info.format.alpha)) expect(row(touched, 32, 48, got).equals(row(inside ? 0 : touched, 32, 48, all))).toBe(true);
      expect(row(touched, 0, 32, got).equals(row(touched, 0, 32, all))).toBe(true);
    }
    const stream = (f: string) => (ffprobe(f, "-select_streams", "v:0", "-show_streams").streams as Record<string, string>[])[0];
    const [a, b] = [stream(file(k.file)), stream(out)];
    for (const tag of ["color_range", "color_space", "color_primaries", "color_transfer", "chroma_location", "sample_aspect_ratio", "field_order"]) {
      const known =
        a[tag] && !["unknown", "unspecified", "progressive"].includes(a[tag]) && !(tag === "sample_aspect_ratio" && /^(0:1|1:1)$/.test(a[tag]));
      // R′G′B′ has no other matrix than its own, and grey none
      if (known && !(t.info.format.model !== "yuv" && /color_space|chroma/.test(tag))) expect([tag, b[tag]]).toEqual([tag, a[tag]]);
    }
    const times = (f: string) => {
      const lines = ffmpeg([
        "-noautorotate",
        "-i",
        f,
        "-map",
        "0:v:0",
        "-fps_mode",
        "passthrough",
        "-enc_time_base",
        "-1",
        "-f",
        "framehash",
        "pipe:1",
      ])
        .toString()
        .split("\n");
      const [, a, b] = /^#tb 0: (\d+)\/(\d+)/.exec(lines.find((l) => l.startsWith("#tb"))!)!;
      return lines.filter((l) => l && !l.startsWith("#")).map((l) => (Number(l.split(",")[2]) * Number(a)) / Number(b));
    };
    const [ta, tb] = [times(file(k.file)), times(out)];
    // Matroska keeps whole milliseconds
    tb.forEach((v, i) => expect(Math.abs(v - tb[0] - (ta[i] - ta[0]))).toBeLessThan(0.0021));
  });
});

describe("a seek that leads elsewhere", () => {
  it.each(["gop.mp4", "twos.mp4"])("%s: is found out, also among pictures that come more than once", async (name) => {
    const index = await ingest(file(name));
    const truth = decodeAll(file(name), "yuv420p");
    const size = frameBytes(160, 90, index.info.format);
    const frame = (n: number) => truth.subarray(n * size, (n + 1) * size);
    // an index whose times are off by some frames leads every seek to another one
    for (const [off, from] of [
      [-2, 46],
      [1, 100],
    ]) {
      const wrong: TakeIndex = { ...index, times: index.times.map((_, n) => index.times[Math.min(index.times.length - 1, Math.max(0, n + off))]) };
      let n = from;
      for await (const f of decodeFrames(wrong, from, Math.min(from + 4, index.info.frames - 1)))
        expect([off, from, n, Buffer.compare(f, frame(n++))]).toEqual([off, from, n - 1, 0]);
      expect(n).toBe(Math.min(from + 4, index.info.frames - 1) + 1);
      const begin = await provenStart(wrong, from);
      // where it says that a seek leads to a frame, it does
      if (begin) {
        const got = ffmpeg([
          ...spelled(begin),
          "-map",
          "0:v:0",
          "-fps_mode",
          "passthrough",
          "-frames:v",
          "3",
          "-pix_fmt",
          "yuv420p",
          "-f",
          "rawvideo",
          "pipe:1",
        ]);
        expect([off, from, Buffer.compare(got, truth.subarray(from * size, from * size + got.length))]).toEqual([off, from, 0]);
      }
    }
  });
});
