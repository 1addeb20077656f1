import { createHash } from "node:crypto";
import { mkdtempSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import type { Layer } from "../../src/core/document/layer";
import { bytesOf } from "../../src/core/pixels/frame";
import { FrameStore } from "../../src/engine/media/frame-store";
import { ingest } from "../../src/engine/media/ingest";
import { composed } from "../../src/engine/render/composer";
import { render } from "../../src/engine/render/render";
import type { RenderSpec } from "../../src/engine/render/spec";
import { findWindow } from "../../src/engine/render/windowed";
import { decodeAll, ffmpeg, ffprobe } from "../../testkit/ffmpeg";
import { recipeWith } from "../../testkit/pictures";

/** Renders whose pictures go from decoder to encoder without us, but for the rectangle that changes: every sample must still be the composer's. */
const dir = mkdtempSync(join(tmpdir(), "umber-window-"));
const file = (n: string) => join(dir, n);
const store = new FrameStore(file("store"), 1e9);
const N = 40;
const TAGS = "-color_range tv -colorspace bt709 -color_primaries bt709 -color_trc bt709 -chroma_sample_location left".split(" ");

const make = (name: string, pixFmt: string, more: string[] = []) =>
  ffmpeg([
    ...["-y", "-f", "lavfi", "-i", "testsrc2=s=192x108:r=25:d=1.6,noise=alls=20:allf=t", "-f", "lavfi", "-i", "sine=d=1.6"],
    ...["-pix_fmt", pixFmt, ...more, file(name)],
  ]);

const moving = (a: number[], b: number[]) => ({
  keys: [
    { f: 0, v: a },
    { f: 20, v: b },
  ],
});
const brush = { size: 16, hardness: 0.5, opacity: 1, flow: 1, spacing: 0.1 };
const patches: Layer[] = [
  {
    id: "l",
    kind: "patch",
    in: 5,
    out: 33,
    source: { plate: "p" },
    fadeIn: 3,
    mask: { shapes: [{ kind: "ellipse", op: "add", center: [70.3, 51.9], radii: [31, 20] }], feather: 11 },
  },
  {
    id: "m",
    kind: "patch",
    in: 0,
    out: 20,
    source: { take: "a", slip: 4 },
    mask: { shapes: [{ kind: "box", op: "add", center: moving([20, 20], [60, 30]), size: [13, 9] }] },
  },
  {
    id: "n",
    kind: "paint",
    in: 0,
    out: N - 1,
    touches: [
      {
        id: "u",
        kind: "uncover",
        frames: [8, 12],
        brush,
        path: [
          [64, 40],
          [80, 44],
        ],
        source: { slip: 3 },
      },
      { id: "h", kind: "heal", frames: [10, 10], brush, path: [[70, 60]], offset: [-30, 4] },
      { id: "r", kind: "restore", frames: [11, 11], brush, path: [[60, 50]] },
    ],
  },
];
const recipe = (from: number, to: number) =>
  recipeWith(structuredClone(patches), {
    shot: { take: "a", in: 0, out: N - 1 },
    output: { in: from, out: to },
    plates: { p: { from: { take: "a", frame: 3 }, touches: [] } },
  });

const spec = async (name: string, from: number, to: number, out: string): Promise<RenderSpec> => ({
  recipe: recipe(from, to),
  takes: { a: { id: name.replace(/\W/g, ""), index: await ingest(file(name)) } },
  out: file(out),
  codec: "ffv1",
  preset: "medium",
  crf: 18,
});

const sum = (b: Uint8Array) => createHash("md5").update(b).digest("hex");

beforeAll(() => {
  const x264 = ["-c:v", "libx264", "-bf", "2", "-g", "15", "-c:a", "aac", ...TAGS];
  make("420.mp4", "yuv420p", [...x264, "-timecode", "01:00:00:00"]);
  make("422.mkv", "yuv422p", ["-c:v", "ffv1", "-c:a", "flac"]);
  make("444.mkv", "yuv444p", ["-c:v", "ffv1", "-an"]);
  make("full.mp4", "yuvj420p", ["-c:v", "libx264", "-an"]);
  make("rgb.mkv", "gbrp", ["-c:v", "libx264rgb", "-qp", "0", "-c:a", "aac"]);
});

describe("a render by its window", () => {
  for (const [name, from, to] of [
    ["420.mp4", 0, N - 1],
    ["420.mp4", 17, 38],
    ["422.mkv", 2, 30],
    ["444.mkv", 0, N - 1],
    ["rgb.mkv", 0, 25],
  ] as const)
    it(`${name}, frames ${from} to ${to}: each picture is the composer's, sample for sample`, async () => {
      const s = await spec(name, from, to, `${name}-${from}.mkv`);
      expect(await findWindow(s)).not.toBeNull();
      await render(s, store);
      const want: string[] = [];
      for await (const { frame } of composed(s, store, {})) want.push(sum(bytesOf(frame)));
      const { planar } = s.takes.a.index.info;
      const all = decodeAll(s.out, planar);
      const size = all.length / (to - from + 1);
      expect(Array.from(want, (_, n) => sum(all.subarray(n * size, (n + 1) * size)))).toEqual(want);
    });
  it("carries rate, tags, times and sound as a render through us does", async () => {
    const s = await spec("420.mp4", 0, N - 1, "window.mp4");
    await render({ ...s, codec: "h264", preset: "ultrafast" }, store);
    const facts = (f: string) => {
      const { streams } = ffprobe(f, "-show_streams") as { streams: Record<string, unknown>[] };
      return streams
        .filter((x) => x.codec_type !== "data")
        .map((x) =>
          [
            "codec_name",
            "width",
            "height",
            "pix_fmt",
            "r_frame_rate",
            "nb_frames",
            "start_time",
            "color_range",
            "color_space",
            "chroma_location",
          ].map((k) => x[k]),
        );
    };
    expect(facts(s.out)).toEqual(facts(file("420.mp4")));
    const times = (f: string) =>
      (ffprobe(f, "-select_streams", "v:0", "-show_entries", "frame=pts_time").frames as { pts_time: string }[]).map((x) => x.pts_time);
    expect(times(s.out)).toEqual(times(file("420.mp4")));
  });
  it("is not used where pictures could not be kept: 10 bits, full range, most of the picture", async () => {
    make("10.mkv", "yuv420p10le", ["-c:v", "ffv1", "-an"]);
    expect(await findWindow(await spec("10.mkv", 0, 9, "x.mkv"))).toBeNull();
    expect(await findWindow(await spec("full.mp4", 0, 9, "x.mkv"))).toBeNull();
    const wide = await spec("444.mkv", 0, 9, "x.mkv");
    wide.recipe.intruders[0].layers[0] = { ...wide.recipe.intruders[0].layers[1], id: "w", mask: { shapes: [], invert: true } } as never;
    expect(await findWindow(wide)).toBeNull();
  });
  it("stops when asked and leaves no file", async () => {
    const s = await spec("420.mp4", 0, N - 1, "stopped.mkv");
    const stop = new AbortController();
    await expect(render(s, store, { signal: stop.signal, progress: (n) => n === 3 && stop.abort() })).rejects.toThrow("stopped");
    expect(readdirSync(dir).filter((f) => f.includes("stopped"))).toEqual([]);
  });
});
