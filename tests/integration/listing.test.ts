import { copyFileSync, mkdirSync, mkdtempSync, statSync, truncateSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import { ingest } from "../../src/engine/media/ingest";
import { listTake } from "../../src/engine/media/listing";
import { knownTake } from "../../src/engine/render/known-take";
import { dataPaths } from "../../src/engine/paths";
import { buildProgram, umber } from "../../testkit/cli";
import { decodeAll, ffmpeg } from "../../testkit/ffmpeg";
import { recipeWith } from "../../testkit/pictures";

/** Takes that are opened by what their containers list: what is rendered must be what a take that was read through gives. */
const dir = mkdtempSync(join(tmpdir(), "umber-listing-"));
const file = (n: string) => join(dir, n);
const N = 90;
const SOURCE = ["-f", "lavfi", "-i", "testsrc2=s=192x108:r=25:d=3.6,noise=alls=20:allf=t"];
const make = (name: string, ...more: string[]) => ffmpeg(["-y", ...SOURCE, "-frames:v", String(N), ...more, file(name)]);

beforeAll(async () => {
  await buildProgram();
  const x264 = ["-c:v", "libx264", "-pix_fmt", "yuv420p"];
  make("open.mp4", ...x264, "-bf", "3", "-g", "30", "-x264-params", "open-gop=1:b-pyramid=2");
  make("one-gop.mp4", ...x264, "-bf", "2", "-g", "250");
  make("film.mkv", ...x264, "-bf", "2", "-g", "20");
  make("film.mov", "-c:v", "prores_ks", "-pix_fmt", "yuv422p10le");
  make("film.avi", "-c:v", "mjpeg", "-q:v", "3");
  make("varies.mkv", ...x264, "-vf", "setpts='(N+gte(N,40)*7)/25/TB'", "-fps_mode", "passthrough", "-enc_time_base", "1/1000");
  ffmpeg(["-y", "-ss", "0.9", "-i", file("one-gop.mp4"), "-c", "copy", file("edit-list.mp4")]);
});

describe("what a container lists", () => {
  for (const name of ["open.mp4", "one-gop.mp4", "film.mkv", "film.mov"])
    it(`of ${name}: count, times and everything else as reading it through finds them`, async () => {
      const [listed, read] = [await listTake(file(name)), await ingest(file(name))];
      expect(listed).not.toBeNull();
      const seconds = (t: typeof read) => t.times.map((v) => (v * t.timeBase[0]) / t.timeBase[1]);
      expect(seconds(listed!).map((v) => v.toFixed(4))).toEqual(seconds(read).map((v) => v.toFixed(4)));
      const facts = ({ seconds: _, ...info }: typeof read.info) => info;
      expect(facts(listed!.info)).toEqual(facts(read.info));
      expect(listed!.hashes).toEqual([]);
    });

  it("is not believed where the container's own count is another: of uneven times, behind an edit list", async () => {
    for (const name of ["varies.mkv", "edit-list.mp4"]) expect(await listTake(file(name)), name).toBeNull();
  });

  it("is not believed where the file is cut off", async () => {
    ffmpeg(["-y", "-i", file("one-gop.mp4"), "-c", "copy", "-movflags", "+faststart", file("cut.mp4")]);
    truncateSync(file("cut.mp4"), Math.floor(statSync(file("cut.mp4")).size * 0.7));
    expect(await listTake(file("cut.mp4"))).toBeNull();
  });
});

describe("a render in one pass", () => {
  const layer = (frame: number) =>
    recipeWith(
      [
        {
          id: "l",
          kind: "patch",
          in: 0,
          out: N - 1,
          source: { take: "a", hold: frame },
          mask: { shapes: [{ kind: "box", op: "add", center: [90, 50], size: [60, 40] }] },
        },
      ],
      { shot: { take: "a", in: 0, out: N - 1 } },
    );
  for (const [name, frame, from, to] of [
    ["open.mp4", 61, 0, N - 1],
    ["one-gop.mp4", 80, 0, N - 1],
    ["film.mkv", 55, 10, 70],
    ["film.mov", 66, 3, 80],
    ["film.avi", 40, 0, 60],
    ["varies.mkv", 50, 0, N - 1],
  ] as const)
    it(`of ${name}, frames ${from} to ${to} with frame ${frame} held: nothing but the box differs, and it is that frame`, () => {
      const recipe = layer(frame);
      recipe.takes.a = { path: name };
      recipe.output = { in: from, out: to };
      writeFileSync(file("r.json"), JSON.stringify(recipe));
      const r = umber("render", file("r.json"), "--out", file(`out-${name}.mkv`), "--codec", "ffv1");
      expect(r.status, r.stderr).toBe(0);
      const layout = name === "film.mov" ? "yuv422p10le" : name === "film.avi" ? "yuvj420p" : "yuv420p";
      const [was, is] = [decodeAll(file(name), layout), decodeAll(file(`out-${name}.mkv`), layout)];
      const size = was.length / N;
      const wide = name === "film.mov" ? 2 : 1;
      expect(is.length / size).toBe(to - from + 1);
      for (let n = from; n <= to; n++)
        for (let y = 0; y < 108; y++)
          for (let x = 0; x < 192 * wide; x++) {
            const at = y * 192 * wide + x;
            const inside = x >= 60 * wide && x < 120 * wide && y >= 30 && y < 70;
            const want = was[(inside ? frame : n) * size + at];
            if (is[(n - from) * size + at] !== want) expect.fail(`frame ${n}, ${x}, ${y}`);
          }
    });

  it("says as a clear sentence which frame a film has not", () => {
    const recipe = layer(20);
    recipe.takes.a = { path: "film.mkv" };
    recipe.shot.out = 200;
    writeFileSync(file("r.json"), JSON.stringify(recipe));
    const r = umber("render", file("r.json"), "--out", file("none.mkv"), "--codec", "ffv1");
    expect(r.status).toBe(2);
    expect(r.stderr).toContain("needs frame 200 of the take “a”, which has frames 0 to 89");
  });
});

describe("a take the application has read", () => {
  it("is known by its index, as long as the file is the one that was read", async () => {
    const data = file("data");
    copyFileSync(file("film.mkv"), file("known.mkv"));
    const index = await ingest(file("known.mkv"));
    mkdirSync(join(data, "takes", "t1"), { recursive: true });
    writeFileSync(join(data, "takes", "t1", "index.json"), JSON.stringify({ ...index, info: { ...index.info, turned: 90 } }));
    const paths = dataPaths(data);
    expect(await knownTake(file("known.mkv"), paths)).toEqual(index);
    expect(await knownTake(file("film.mkv"), paths)).toBeNull();
    const later = new Date(Date.now() + 60_000);
    utimesSync(file("known.mkv"), later, later);
    expect(await knownTake(file("known.mkv"), paths)).toBeNull();
  });
});
