import { chmodSync, mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { random } from "../../src/core/random";
import { ingest } from "../../src/engine/media/ingest";
import { listTake } from "../../src/engine/media/listing";
import { MediaError } from "../../src/engine/media/media-error";
import { probe } from "../../src/engine/media/probe";
import { ffmpeg } from "../../testkit/ffmpeg";

/** Films that lie, are damaged, or were made to do harm: they are read as far as they can be, or refused in a sentence. */
const dir = mkdtempSync(join(tmpdir(), "umber-hostile-"));
const file = (n: string) => join(dir, n);
const KINDS: [name: string, options: string[]][] = [
  ["h264.mp4", ["-c:v", "libx264", "-pix_fmt", "yuv420p", "-c:a", "aac"]],
  ["h264.mkv", ["-c:v", "libx264", "-pix_fmt", "yuv420p", "-c:a", "flac"]],
  ["prores.mov", ["-c:v", "prores_ks", "-pix_fmt", "yuv422p10le", "-c:a", "pcm_s16le"]],
  ["mjpeg.avi", ["-c:v", "mjpeg", "-pix_fmt", "yuvj420p", "-c:a", "pcm_s16le"]],
  ["mpeg2.mxf", ["-c:v", "mpeg2video", "-pix_fmt", "yuv422p", "-c:a", "pcm_s16le", "-ar", "48000"]],
  ["vp9.webm", ["-c:v", "libvpx-vp9", "-deadline", "realtime", "-c:a", "libopus"]],
];
const FRAMES = 12;

beforeAll(() => {
  for (const [name, options] of KINDS) {
    const input = ["-f", "lavfi", "-i", "testsrc2=s=96x64:r=25", "-f", "lavfi", "-i", "sine=r=48000", "-frames:v", String(FRAMES), "-t", "0.48"];
    ffmpeg(["-y", ...input, ...options, file(name)]);
  }
});

/** Either what was found, or a sentence: never another error, nothing that goes on for ever. */
async function survives(path: string): Promise<"read" | "refused"> {
  try {
    const listed = await listTake(path);
    if (listed) expect(listed.info.frames).toBeLessThan(1e6);
    const t = await ingest(path);
    expect(t.info.frames).toBeGreaterThan(0);
    return "read";
  } catch (e) {
    expect(e, String(e)).toBeInstanceOf(MediaError);
    expect((e as Error).message).toMatch(/^[^\n]{10,600}[.:]$/);
    return "refused";
  }
}

describe("a damaged film", () => {
  for (const [name] of KINDS)
    it(`${name}: bits turned over, numbers made huge, pieces cut out`, async () => {
      const sound = readFileSync(file(name));
      const rnd = random(77);
      const whole = (n: number) => Math.floor(n * rnd());
      for (let round = 0; round < 7; round++) {
        const bad = Buffer.from(sound);
        // where containers keep their lists: the head and the tail
        const place = () => (rnd() < 0.5 ? whole(Math.min(2000, bad.length - 8)) : bad.length - 8 - whole(Math.min(3000, bad.length - 8)));
        if (round % 3 === 0) for (let k = 0; k < 12; k++) bad[place()] ^= 1 << whole(8);
        else if (round % 3 === 1) for (let k = 0; k < 4; k++) bad.writeUInt32BE(0x7fffffff - whole(16), place());
        writeFileSync(
          file(`bad-${name}`),
          round % 3 === 2 ? Buffer.concat([bad.subarray(0, whole(bad.length)), bad.subarray(whole(bad.length))]) : bad,
        );
        await survives(file(`bad-${name}`));
      }
      writeFileSync(file(`good-${name}`), sound);
      expect(await survives(file(`good-${name}`))).toBe("read");
    });
});

describe("a film that claims", () => {
  it("a count of samples no film has: neither memory nor time is spent on it", async () => {
    const film = readFileSync(file("h264.mp4"));
    const at = film.indexOf("stsz");
    expect(at).toBeGreaterThan(0);
    film.writeUInt32BE(0x7ffffff0, at + 12); // how many samples there are
    writeFileSync(file("claims.mp4"), film);
    await survives(file("claims.mp4"));
  });

  it("a size beyond all screens: the limits are named", async () => {
    ffmpeg(["-y", "-f", "lavfi", "-i", "color=s=16500x64:r=25", "-frames:v", "1", "-c:v", "ffv1", file("wide.mkv")]);
    await expect(probe(file("wide.mkv"))).rejects.toThrow(/16500×64; pictures of up to 80 megapixels and 16384 pixels a side/);
  });

  it("a rate no camera has: it is not believed", async () => {
    const film = readFileSync(file("mjpeg.avi"));
    const at = film.indexOf("strh");
    film.writeUInt32LE(1, at + 8 + 20); // scale and rate of the first stream
    film.writeUInt32LE(1_000_000_000, at + 8 + 24);
    writeFileSync(file("fast.avi"), film);
    const { rate } = await probe(file("fast.avi"));
    expect(rate[0] / rate[1]).toBeLessThanOrEqual(1000);
  });
});

describe("the programs that read films", () => {
  const real = process.env.FFPROBE_PATH;
  afterAll(() => {
    if (real === undefined) delete process.env.FFPROBE_PATH;
    else process.env.FFPROBE_PATH = real;
    delete process.env.UMBER_ENGINE_SECRET;
  });

  it("know nothing of our secrets", async () => {
    writeFileSync(file("spy"), `#!/bin/sh\nenv > "${file("seen")}"\nexec ffprobe "$@"\n`);
    chmodSync(file("spy"), 0o755);
    process.env.FFPROBE_PATH = file("spy");
    process.env.UMBER_ENGINE_SECRET = "not-for-others";
    await probe(file("h264.mp4"));
    const seen = readFileSync(file("seen"), "utf8");
    expect(seen).toMatch(/^PATH=/m);
    expect(seen).not.toMatch(/UMBER|not-for-others/);
  });
});
