import { execFileSync, spawn, spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { frameBytes } from "../../src/core/pixels/frame";
import { decodeAll, ffmpeg, ffprobe } from "../../testkit/ffmpeg";
import { YUV420 } from "../../testkit/pictures";

/** The command line, as a user has it: the bundled program on real files, judged by ffmpeg and ffprobe. */
const root = new URL("../..", import.meta.url).pathname;
const dir = mkdtempSync(join(tmpdir(), "umber-render-"));
const file = (n: string) => join(dir, n);
const umber = (...args: string[]) => spawnSync(process.execPath, [join(root, "dist", "cli.mjs"), ...args], { encoding: "utf8" });
const [W, H, N] = [192, 108, 48];
const SIZE = frameBytes(W, H, YUV420);

const recipe = (more: object = {}, take = "take.mp4") => ({
  format: "umber-moth/recipe",
  version: 1,
  takes: { a: { path: take } },
  shot: { take: "a", in: 0, out: N - 1 },
  plates: { p: { from: { take: "a", frame: 3 }, touches: [] } },
  intruders: [
    {
      id: "i",
      name: "box",
      layers: [
        {
          id: "l",
          kind: "patch",
          in: 10,
          out: 30,
          source: { plate: "p" },
          mask: { shapes: [{ kind: "box", op: "add", center: [96, 54], size: [64, 40] }] },
        },
      ],
    },
  ],
  ...more,
});
const write = (name: string, r: object) => {
  writeFileSync(file(name), JSON.stringify(r));
  return file(name);
};

beforeAll(async () => {
  const { buildEngine } = (await import(join(root, "scripts/launch/steps.mjs"))) as { buildEngine: (root: string) => Promise<void> };
  await buildEngine(root);
  ffmpeg([
    "-y",
    "-f",
    "lavfi",
    "-i",
    `testsrc2=s=${W}x${H}:r=24:d=2,noise=alls=12:allf=t`,
    "-f",
    "lavfi",
    "-i",
    "sine=frequency=440:sample_rate=48000:d=2",
    "-c:v",
    "libx264",
    "-bf",
    "2",
    "-g",
    "20",
    "-pix_fmt",
    "yuv420p",
    "-color_range",
    "tv",
    "-colorspace",
    "bt709",
    "-color_primaries",
    "bt709",
    "-color_trc",
    "bt709",
    "-chroma_sample_location",
    "left",
    "-c:a",
    "aac",
    "-timecode",
    "01:00:00:00",
    file("take.mp4"),
  ]);
});

describe("render", () => {
  it("FFV1: untouched samples are ffmpeg's decode byte for byte, and under α = 1 they are the held frame's", () => {
    const r = umber("render", write("r.json", recipe()), "--out", file("out.mkv"), "--codec", "ffv1");
    expect(r.stderr).toContain("48 of 48 frames");
    expect(r.status).toBe(0);
    const before = decodeAll(file("take.mp4"), "yuv420p");
    const after = decodeAll(file("out.mkv"), "yuv420p");
    expect(after.length).toBe(before.length);
    const frame = (b: Buffer, n: number) => b.subarray(n * SIZE, (n + 1) * SIZE);
    for (let n = 0; n < N; n++) {
      if (n < 10 || n > 30) expect(frame(after, n).equals(frame(before, n))).toBe(true);
      else
        for (let y = 0; y < H; y++)
          for (let x = 0; x < W; x++) {
            const inside = x >= 64 && x < 128 && y >= 34 && y < 74;
            if (after[n * SIZE + y * W + x] !== (inside ? before[3 * SIZE + y * W + x] : before[n * SIZE + y * W + x]))
              expect(`frame ${n} at ${x}, ${y}`).toBe("equal");
          }
    }
  });
  it("H.264 keeps rate, colour tags, timecode and the sound's own packets", () => {
    expect(umber("render", write("r.json", recipe()), "--out", file("out.mp4"), "--preset", "ultrafast").stderr).toContain("Sound copied.");
    const streams = (f: string) => (ffprobe(f, "-show_streams").streams as Record<string, unknown>[]).filter((s) => s.codec_type !== "data");
    const [a, b] = [streams(file("take.mp4")), streams(file("out.mp4"))];
    for (const k of [
      "width",
      "height",
      "pix_fmt",
      "r_frame_rate",
      "nb_frames",
      "color_range",
      "color_space",
      "color_primaries",
      "color_transfer",
      "chroma_location",
    ])
      expect([k, b[0][k]]).toEqual([k, a[0][k]]);
    const timecode = (f: string) =>
      (ffprobe(f, "-show_streams").streams as { tags?: { timecode?: string } }[]).map((s) => s.tags?.timecode).find(Boolean);
    expect(timecode(file("out.mp4"))).toBe("01:00:00:00");
    const packets = (f: string) =>
      ffmpeg(["-i", f, "-map", "0:a", "-c", "copy", "-f", "framemd5", "pipe:1"])
        .toString()
        .split("\n")
        .filter((l) => l && !l.startsWith("#"))
        .map((l) => l.split(",").at(-1)!.trim());
    expect(packets(file("out.mp4"))).toEqual(packets(file("take.mp4")));
  });
  it("a stretch: exact frames after a seek, sound cut to the sample, timecode of its first frame", () => {
    const r = umber("render", write("r.json", recipe({ output: { in: 31, out: 42 }, intruders: [] })), "--out", file("part.mkv"), "--codec", "ffv1");
    expect(r.stderr).toContain("Sound cut to the sample");
    expect(r.stderr).toContain("01:00:01:07");
    const all = decodeAll(file("take.mp4"), "yuv420p");
    expect(decodeAll(file("part.mkv"), "yuv420p").equals(all.subarray(31 * SIZE, 43 * SIZE))).toBe(true);
    const pcm = (f: string, ...more: string[]) => ffmpeg(["-i", f, "-map", "0:a", ...more, "-f", "s16le", "pipe:1"]);
    const cut = pcm(file("part.mkv"));
    const whole = pcm(file("take.mp4"));
    expect(cut.length / 2).toBe((12 * 48000) / 24);
    const from = (31 * 48000 * 2) / 24;
    let worst = 0;
    for (let i = 0; i < cut.length; i += 2) worst = Math.max(worst, Math.abs(cut.readInt16LE(i) - whole.readInt16LE(from + i)));
    expect(worst).toBeLessThanOrEqual(1); // FLAC keeps 16 bits of the decoder's floats
  });
  it("numbered PNG stills carry the take's numbers and R′G′B′ within one code value of ffmpeg's", async () => {
    expect(umber("render", write("r.json", recipe({ output: { in: 8, out: 11 }, intruders: [] })), "--out", file("stills/####.png")).status).toBe(0);
    expect(readdirSync(file("stills"))).toEqual(["0008.png", "0009.png", "0010.png", "0011.png"]);
    const { data } = await sharp(file("stills/0009.png")).raw().toBuffer({ resolveWithObject: true });
    const theirs = ffmpeg([
      "-i",
      file("take.mp4"),
      "-vf",
      "select=eq(n\\,9),zscale=matrix=gbr:range=full:filter=bilinear:dither=none,format=gbrp,format=rgb24",
      "-frames:v",
      "1",
      "-f",
      "rawvideo",
      "pipe:1",
    ]);
    let sum = 0;
    for (let i = 0; i < data.length; i++) sum += Math.abs(data[i] - theirs[i]);
    expect(sum / data.length).toBeLessThan(1); // zimg, bilinear: its intermediate steps round
  });
  it("slip reads frames before and behind, and is refused outside the take, by the frame's number", () => {
    const slip = (v: number) =>
      recipe({
        intruders: [
          {
            id: "i",
            name: "b",
            layers: [
              {
                id: "l",
                kind: "patch",
                in: 10,
                out: 30,
                source: { take: "a", slip: v },
                mask: { shapes: [{ kind: "box", op: "add", center: [96, 54], size: [192, 108] }] },
              },
            ],
          },
        ],
      });
    expect(umber("render", write("r.json", slip(-5)), "--out", file("slip.mkv"), "--codec", "ffv1").status).toBe(0);
    const all = decodeAll(file("take.mp4"), "yuv420p");
    const out = decodeAll(file("slip.mkv"), "yuv420p");
    for (const n of [10, 17, 30]) expect(out.subarray(n * SIZE, (n + 1) * SIZE).equals(all.subarray((n - 5) * SIZE, (n - 4) * SIZE))).toBe(true);
    const r = umber("render", write("r.json", slip(20)), "--out", file("no.mkv"), "--codec", "ffv1");
    expect([r.status, r.stderr]).toEqual([2, expect.stringMatching(/^Frame 28 needs frame 48 of the take “a”, which has frames 0 to 47: .*\n$/)]);
    expect(existsSync(file("no.mkv"))).toBe(false);
  });
});

describe("other codecs", () => {
  const made = (name: string, ...more: string[]) => {
    const r = umber("render", write("r.json", recipe({ output: { in: 20, out: 25 } })), "--out", file(name), ...more);
    expect([name, r.status]).toEqual([name, 0]);
    return { said: r.stderr, stream: (ffprobe(file(name), "-show_streams").streams as Record<string, string>[])[0] };
  };
  /** Mean difference of decoded luma from the take's own, outside the patch. */
  const away = (name: string) => {
    const [a, b] = [decodeAll(file(name), "yuv420p"), decodeAll(file("take.mp4"), "yuv420p")];
    expect(a.length).toBe(6 * SIZE);
    let sum = 0;
    for (let n = 0; n < 6; n++) for (let i = 0; i < 30 * W; i++) sum += Math.abs(a[n * SIZE + i] - b[(n + 20) * SIZE + i]);
    return sum / (6 * 30 * W);
  };
  it("ProRes: 10 bit 4:2:2, tags kept, the conversion said", () => {
    const { said, stream } = made("out.mov", "--codec", "prores");
    expect(said).toContain("converted from yuv420p to yuv422p10le");
    expect(stream).toMatchObject({ codec_name: "prores", pix_fmt: "yuv422p10le", color_space: "bt709", color_range: "tv", r_frame_rate: "24/1" });
    // no farther from the take than ffmpeg's own encode of it
    ffmpeg([
      "-y",
      "-i",
      file("take.mp4"),
      "-vf",
      "trim=start_frame=20:end_frame=26,setpts=PTS-STARTPTS,format=yuv422p10le",
      "-c:v",
      "prores_ks",
      "-profile:v",
      "3",
      "-an",
      file("plain.mov"),
    ]);
    expect(Math.abs(away("out.mov") - away("plain.mov"))).toBeLessThan(0.05);
  });
  it("VP9: in WebM, the sound as Opus, samples as they are", () => {
    const { said, stream } = made("out.webm", "--codec", "vp9", "--crf", "15");
    expect(said).toContain("Opus");
    expect(stream).toMatchObject({ codec_name: "vp9", pix_fmt: "yuv420p", color_space: "bt709", color_range: "tv" });
    expect(away("out.webm")).toBeLessThan(6);
  });
  it("TIFF with 16 bits, and PNG with 16 where the take has 10, both within a step of zimg's conversion", async () => {
    ffmpeg([
      "-y",
      "-i",
      file("take.mp4"),
      "-vf",
      "format=yuv444p10le",
      "-c:v",
      "ffv1",
      "-color_range",
      "tv",
      "-colorspace",
      "bt709",
      file("ten.mkv"),
    ]);
    const ten = write("ten.json", recipe({ output: { in: 20, out: 20 }, intruders: [] }, "ten.mkv"));
    for (const name of ["t/####.tif", "p/####.png"]) expect(umber("render", ten, "--out", file(name)).status).toBe(0);
    const theirs = ffmpeg([
      "-i",
      file("ten.mkv"),
      "-vf",
      "select=eq(n\\,20),zscale=matrix=gbr:range=full:dither=none,format=gbrp16le",
      "-frames:v",
      "1",
      "-pix_fmt",
      "rgb48le",
      "-f",
      "rawvideo",
      "pipe:1",
    ]);
    const want = new Uint16Array(theirs.buffer, theirs.byteOffset, theirs.length / 2);
    for (const name of ["t/0020.tif", "p/0020.png"]) {
      expect(await sharp(file(name)).metadata()).toMatchObject({ depth: "ushort", width: W, height: H });
      const { data } = await sharp(file(name)).toColourspace("rgb16").raw({ depth: "ushort" }).toBuffer({ resolveWithObject: true });
      const got = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
      let worst = 0;
      for (let i = 0; i < want.length; i++) worst = Math.max(worst, Math.abs(got[i] - want[i]));
      expect(worst).toBeLessThan(66); // a thousandth of the range: its sums are of single precision
    }
  });
});

describe("survey and plate", () => {
  it("survey says size, rate and the true count of frames", () => {
    const r = umber("survey", file("take.mp4"), "--json");
    expect(JSON.parse(r.stdout)).toMatchObject({ frames: N, width: W, height: H, rate: [24, 1], pixelFormat: "yuv420p", sound: true });
  });
  it("counts pictures, not what the container claims: a stream-copied trim", () => {
    ffmpeg(["-y", "-ss", "0.9", "-i", file("take.mp4"), "-c", "copy", file("trim.mp4")]);
    const truth = decodeAll(file("trim.mp4"), "yuv420p").length / SIZE;
    expect(JSON.parse(umber("survey", file("trim.mp4"), "--json").stdout).frames).toBe(truth);
  });
  it("plate writes the frame asked for", async () => {
    expect(umber("plate", file("take.mp4"), "--frame", "20", "--out", file("plate.png")).status).toBe(0);
    expect(await sharp(file("plate.png")).metadata()).toMatchObject({ width: W, height: H, format: "png" });
    expect(umber("plate", file("take.mp4"), "--frame", "99", "--out", file("x.png")).stderr).toMatch(/--frame was 99; .* has frames 0 to 47/);
  });
});

describe("bad input gets one sentence and exit status 2", () => {
  const refused = (what: RegExp, ...args: string[]) => {
    const r = umber(...args);
    expect(r.stderr.trim().split("\n")).toHaveLength(1);
    expect(r.stderr).toMatch(what);
    expect(r.status).toBe(2);
  };
  it("files that are no takes", () => {
    writeFileSync(file("empty.mp4"), "");
    writeFileSync(file("text.mp4"), "Dear Vell,\nthe boat is late.\n");
    writeFileSync(file("list.m3u8"), `#EXTM3U\n#EXTINF:1,\n${file("take.mp4")}\n#EXT-X-ENDLIST\n`);
    writeFileSync(file("list.mp4"), `ffconcat version 1.0\nfile take.mp4\n`);
    writeFileSync(file("cut.mp4"), readFileSync(file("take.mp4")).subarray(0, 30_000));
    ffmpeg(["-y", "-i", file("take.mp4"), "-c", "copy", "-movflags", "+faststart", file("fast.mp4")]);
    writeFileSync(file("cutfast.mp4"), readFileSync(file("fast.mp4")).subarray(0, 90_000));
    ffmpeg(["-y", "-f", "lavfi", "-i", "sine=d=1", file("sound.mp4")]);
    for (const c of [["survey"], ["plate", "--out", file("x.png")]]) {
      refused(/“empty.mp4” is empty \(0 bytes\)/, ...c, file("empty.mp4"));
      refused(/“text.mp4” is not a video file/, ...c, file("text.mp4"));
      refused(/“missing.mp4” was not found/, ...c, file("missing.mp4"));
      refused(/“cut.mp4” is cut off or damaged/, ...c, file("cut.mp4"));
      refused(/“cutfast.mp4” is cut off: only its first \d+ pictures/, ...c, file("cutfast.mp4"));
      refused(/“sound.mp4” holds only sound/, ...c, file("sound.mp4"));
      refused(/“list.m3u8” is not a video file/, ...c, file("list.m3u8"));
      refused(/“list.mp4” is not a video file/, ...c, file("list.mp4"));
      refused(/is an address, not a file/, ...c, "http://127.0.0.1:9/a.mp4");
      refused(/is an address, not a file/, ...c, `concat:${file("take.mp4")}`);
    }
    expect(existsSync(file("x.png"))).toBe(false);
  });
  it("recipes that are none, wrong use, and what is not supported yet", () => {
    writeFileSync(file("broken.json"), "{");
    refused(/is not JSON/, "render", file("broken.json"), "--out", file("y.mp4"));
    refused(/cannot be read/, "render", file("nowhere.json"), "--out", file("y.mp4"));
    refused(/shot\.out: found "x"/, "render", write("bad.json", recipe({ shot: { take: "a", in: 0, out: "x" } })), "--out", file("y.mp4"));
    refused(/“gone.mp4” was not found/, "render", write("bad.json", recipe({}, "gone.mp4")), "--out", file("y.mp4"));
    refused(/--crf was “x”/, "render", write("r.json", recipe()), "--out", file("y.mp4"), "--crf", "x");
    refused(/--codec was “mpeg”/, "render", write("r.json", recipe()), "--out", file("y.mp4"), "--codec", "mpeg");
    refused(/FFV1 is written to .mkv/, "render", write("r.json", recipe()), "--out", file("y.mp4"), "--codec", "ffv1");
    refused(/ProRes is written to .mov/, "render", write("r.json", recipe()), "--out", file("y.mp4"), "--codec", "prores");
    refused(/TIFF is written as numbered stills/, "render", write("r.json", recipe()), "--out", file("y.mp4"), "--codec", "tiff");
    refused(/render needs --out/, "render", write("r.json", recipe()));
    refused(/“nonsense” is no command/, "nonsense");
    expect(readdirSync(dir).filter((f) => f.startsWith("y.") || f.includes(".part."))).toEqual([]);
  });
  it("says what to do when ffmpeg is missing", () => {
    const r = spawnSync(process.execPath, [join(root, "dist", "cli.mjs"), "survey", file("take.mp4")], {
      encoding: "utf8",
      env: { ...process.env, FFPROBE_PATH: "/nowhere/ffprobe" },
    });
    expect([r.status, r.stderr]).toEqual([
      2,
      "ffprobe could not be started at “/nowhere/ffprobe”: install the Debian package ffmpeg, or set FFPROBE_PATH to where it is.\n",
    ]);
  });
  it("a render that is ended leaves no file", async () => {
    const long = recipe({ shot: { take: "a", in: 0, out: N - 1 } });
    const args = ["render", write("r.json", long), "--out", file("z.mp4"), "--preset", "veryslow", "--crf", "0"];
    const child = spawn(process.execPath, [join(root, "dist", "cli.mjs"), ...args], { stdio: ["ignore", "ignore", "pipe"] });
    // ended at the first frames it tells of: then it is in the middle of it
    child.stderr.once("data", () => child.kill("SIGTERM"));
    const status = await new Promise((done) => child.once("close", done));
    const left = readdirSync(dir).filter((f) => f.includes("z.mp4"));
    // where the machine was faster than the signal, the file is whole
    if (status === 0)
      expect([left, ffprobe(file("z.mp4"), "-show_streams")]).toEqual([["z.mp4"], { streams: expect.arrayContaining([expect.objectContaining({ nb_frames: String(N) })]) as unknown }]); // prettier-ignore
    else expect([status, left]).toEqual([2, []]);
  });
});

describe("the import directions", () => {
  it("a planted breach is found by lint", () => {
    const planted = join(root, "src/core/time/planted-breach.ts");
    writeFileSync(planted, 'import { parseRecipe } from "../../recipe/schema";\nexport const x = parseRecipe;\n');
    try {
      expect(() =>
        execFileSync(join(root, "node_modules/.bin/depcruise"), ["--config", ".dependency-cruiser.cjs", "src/core"], {
          cwd: root,
          encoding: "utf8",
          stdio: "pipe",
        }),
      ).toThrow();
    } finally {
      execFileSync("rm", [planted]);
    }
  });
});
