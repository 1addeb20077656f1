import { mkdtempSync, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, it } from "vitest";
import { buildProgram, umber } from "../../testkit/cli";
import { decodeAll, ffmpeg, ffprobe } from "../../testkit/ffmpeg";

/** What can be written beside the whole mended film: a stretch, the patches, their matte, converted samples. */
const dir = mkdtempSync(join(tmpdir(), "umber-outputs-"));
const file = (n: string) => join(dir, n);
const [W, H, N] = [96, 64, 40];

const recipe = (take: string, more: object = {}) => {
  const patch = (id: string, inn: number, out: number, mask: object, extra: object = {}) => ({
    id,
    kind: "patch",
    in: inn,
    out,
    source: { take: "a", hold: 2 },
    mask,
    ...extra,
  });
  const ellipse = { shapes: [{ kind: "ellipse", op: "add", center: [40, 30], radii: [20, 16] }], feather: 9 };
  const box = { shapes: [{ kind: "box", op: "add", center: [56, 40], size: [24, 20] }], feather: 5 };
  const layers = [patch("l", 12, 20, ellipse, { opacity: 0.8 }), patch("m", 15, 22, box)];
  const r = {
    format: "umber-moth/recipe",
    version: 1,
    takes: { a: { path: take } },
    shot: { take: "a", in: 0, out: N - 1 },
    plates: {},
    intruders: [{ id: "i", name: "x", layers }],
    ...more,
  };
  writeFileSync(file("r.json"), JSON.stringify(r));
  return file("r.json");
};
const video = (f: string) => (ffprobe(f, "-show_streams").streams as Record<string, string>[]).find((s) => s.codec_type === "video")!;
const tags = "-color_range tv -colorspace bt709 -color_primaries bt709 -color_trc bt709".split(" ");
const make = (name: string, pixFmt: string, codec: string[], more = "") =>
  ffmpeg([
    "-y",
    "-f",
    "lavfi",
    "-i",
    `testsrc2=s=${W}x${H}:r=25:d=1.6,hue=s=0.3,eq=contrast=0.7${more}`,
    "-pix_fmt",
    pixFmt,
    ...codec,
    ...tags,
    file(name),
  ]);

beforeAll(async () => {
  await buildProgram();
  make("take.mkv", "yuv444p", ["-c:v", "ffv1"]);
  make("rgb.mkv", "bgr0", ["-c:v", "ffv1"]);
  make("odd.mkv", "yuv420p", ["-c:v", "ffv1"], ",format=yuv444p,crop=95:63:0:0");
  make("deep.mkv", "yuv422p12le", ["-c:v", "ffv1"]);
  const sounds = [1, 2].flatMap((k) => ["-f", "lavfi", "-i", `sine=frequency=${k * 300}:d=1.6`]);
  const picture = ["-f", "lavfi", "-i", `testsrc2=s=${W}x${H}:r=25:d=1.6`];
  const map = ["-map", "0", "-map", "1", "-map", "2", "-c:a", "aac", "-timecode", "10:00:00:00", "-aspect", "2:1"];
  ffmpeg(["-y", ...picture, ...sounds, ...map, "-pix_fmt", "yuv420p", "-c:v", "libx264", ...tags, file("sound.mp4")]);
});

describe("a review", () => {
  it.each(["take.mkv", "rgb.mkv"])("of %s: before and after side by side, losslessly what they are, with numbers below", (take) => {
    const r = umber("render", recipe(take), "--out", file("review.mkv"), "--codec", "ffv1", "--only", "review");
    expect([r.status, r.stderr.includes("in vain")]).toEqual([0, false]);
    umber("render", recipe(take), "--out", file("plain.mkv"), "--codec", "ffv1");
    const { width, height } = video(file(take)) as unknown as { width: number; height: number };
    const half = width + (width & 1);
    expect(video(file("review.mkv"))).toMatchObject({ width: 2 * half, height });
    const grey = (f: string) => decodeAll(file(f), "gray");
    const [both, own, mended] = [grey("review.mkv"), grey(take), grey("plain.mkv")];
    let off = 0;
    let apart = 0;
    for (const n of [0, 14, 18])
      for (let y = 0; y < height - 20; y++)
        for (let x = 0; x < width; x++) {
          const at = (n * height + y) * 2 * half;
          const i = (n * height + y) * width + x;
          off = Math.max(off, Math.abs(both[at + x] - own[i]), Math.abs(both[at + half + x] - mended[i]));
          if (n === 18) apart = Math.max(apart, Math.abs(both[at + x] - both[at + half + x]));
        }
    expect(off).toBeLessThanOrEqual(1);
    expect(apart).toBeGreaterThan(20);
  });

  it("is a film: stills are refused in a sentence", () => {
    const r = umber("render", recipe("take.mkv"), "--out", file("p/####.png"), "--only", "review");
    expect([r.status, r.stderr.trim()]).toEqual([2, "A review is a film of before and after: choose the codec of a film."]);
  });
});

describe("the patches alone", () => {
  it("as stills with straight alpha: laid over the footage by sharp they give the mended picture, within three code values where R′G′B′ holds its colours", async () => {
    const r = umber("render", recipe("take.mkv"), "--out", file("p/####.png"), "--only", "patch");
    expect(r.stderr).toContain("The patches alone");
    expect(umber("render", file("r.json"), "--out", file("w/####.png")).status).toBe(0);
    umber("render", recipe("take.mkv", { intruders: [] }), "--out", file("o/####.png"));
    for (const n of [0, 13, 17, 21]) {
      const name = `${String(n).padStart(4, "0")}.png`;
      const laid = await sharp(file(`o/${name}`))
        .composite([{ input: file(`p/${name}`) }])
        .removeAlpha()
        .raw()
        .toBuffer();
      const whole = await sharp(file(`w/${name}`))
        .raw()
        .toBuffer();
      let far = 0;
      for (let i = 0; i < whole.length; i++) far = Math.max(far, Math.abs(whole[i] - laid[i]));
      expect(far).toBeLessThanOrEqual(3);
      const { channels } = await sharp(file(`p/${name}`)).stats();
      expect(channels[3].max > 0).toBe(n > 0);
    }
  });
  it("as matte: grey and alpha alike, of the size the masks have (TIFF, 16 bits)", async () => {
    expect(umber("render", recipe("take.mkv"), "--out", file("m/####.tif"), "--only", "matte").stderr).toContain("The matte alone");
    const raw = await sharp(file("m/0021.tif")).toColourspace("rgb16").raw({ depth: "ushort" }).toBuffer();
    const px = new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
    let area = 0;
    for (let i = 0; i < W * H; i++) {
      expect([px[4 * i + 1], px[4 * i + 2], px[4 * i + 3]]).toEqual(Array(3).fill(px[4 * i]));
      area += px[4 * i] / 65535;
    }
    expect(Math.abs(area - 24 * 20)).toBeLessThan(6); // a soft edge keeps the area of its outline but for the corners
  });
  it("are refused to a film, in one line, with nothing written", () => {
    const r = umber("render", recipe("take.mkv"), "--out", file("none.mp4"), "--only", "matte");
    expect([r.status, r.stderr]).toEqual([2, "The matte alone is written with transparency, as stills: choose PNG or TIFF.\n"]);
    expect(readdirSync(dir)).not.toContain("none.mp4");
  });
});

describe("the mended stretch", () => {
  it("with handles: its frames only, its own timecode, all sound tracks as long as the picture", () => {
    const r = umber("render", recipe("sound.mp4"), "--out", file("part.mov"), "--codec", "prores", "--handles", "4");
    expect(r.stderr).toContain("19 of 19 frames"); // 12 − 4 … 22 + 4
    const streams = ffprobe(file("part.mov"), "-show_streams").streams as Record<string, string & { timecode?: string }>[];
    const sound = streams.filter((s) => s.codec_type === "audio");
    expect(sound.map((s) => Math.round(Number(s.duration) * 100))).toEqual([76, 76]);
    const v = video(file("part.mov"));
    expect([v.r_frame_rate, v.display_aspect_ratio, v.color_space, v.nb_frames]).toEqual(["25/1", "2:1", "bt709", "19"]);
    expect(streams.map((s) => s.tags as unknown as { timecode?: string }).find((t) => t.timecode)?.timecode).toBe("10:00:00:08");
  });
  it("stays within the shot, and is refused where nothing is mended", () => {
    expect(umber("render", recipe("take.mkv"), "--out", file("all.mkv"), "--codec", "ffv1", "--handles", "500").stderr).toContain("40 of 40 frames");
    const r = umber("render", recipe("take.mkv", { intruders: [] }), "--out", file("none.mkv"), "--codec", "ffv1", "--handles", "5");
    expect([r.status, r.stderr]).toEqual([2, expect.stringContaining("Nothing is mended in this shot")]);
  });
  it("keeps all sound tracks of a whole film as they are", () => {
    expect(umber("render", recipe("sound.mp4"), "--out", file("whole.mp4"), "--preset", "ultrafast").stderr).toContain("Sound copied");
    const hashes = (f: string, k: number) => ffmpeg(["-i", f, "-map", `0:a:${k}`, "-c", "copy", "-f", "md5", "pipe:1"]).toString();
    for (const k of [0, 1]) expect(hashes(file("whole.mp4"), k)).toBe(hashes(file("sound.mp4"), k));
  });
});

describe("what a codec cannot carry", () => {
  it.each([
    ["rgb.mkv", "h264", "mp4", "R′G′B′", "yuv420p"],
    ["odd.mkv", "h264", "mp4", "even picture size", "yuv444p"],
    ["deep.mkv", "h264", "mp4", "carries 10 bits", "yuv422p10le"],
    ["rgb.mkv", "prores", "mov", "R′G′B′", "yuv444p10le"],
    ["rgb.mkv", "vp9", "webm", "R′G′B′", "yuv420p"],
  ])("%s as %s is refused, or converted when asked, and that is said", (take, codec, ext, why, layout) => {
    const r = recipe(take, { intruders: [] });
    const out = file(`${take}-${codec}.${ext}`);
    const refused = umber("render", r, "--out", out, "--codec", codec);
    expect([refused.status, refused.stderr]).toEqual([2, expect.stringContaining(why)]);
    const done = umber("render", r, "--out", out, "--codec", codec, "--preset", "ultrafast", "--crf", "4", "--convert");
    expect(done.stderr).toContain(`to ${layout}, as asked`);
    const v = video(out);
    // ffmpeg reads 4:4:4 ProRes of 10 bits into 12
    expect([v.pix_fmt.replace("12le", "10le"), v.width, v.height]).toEqual([layout, ...(take === "odd.mkv" ? [95, 63] : [W, H])]);
    // looked at as R′G′B′, it is the take's picture
    const rgb = (f: string) => decodeAll(f, "rgb24");
    const [a, b] = [rgb(file(take)), rgb(out)];
    let sum = 0;
    for (let i = 0; i < a.length; i++) sum += Math.abs(a[i] - b[i]);
    expect(sum / a.length).toBeLessThan(6);
  });
});
