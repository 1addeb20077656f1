import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { ingest } from "../../src/engine/media/ingest";
import { takeSound } from "../../src/engine/media/take-sound";
import { ffmpeg } from "../../testkit/ffmpeg";

/** What is heard while a stretch plays, against ffmpeg's own decode of the whole track. */
const dir = mkdtempSync(join(tmpdir(), "umber-sound-"));
const file = (n: string) => join(dir, n);
const RATE = 48_000;
const pcm = (bytes: Buffer) => new Int16Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~1)));
const decoded = (input: string) => pcm(ffmpeg(["-i", input, "-f", "s16le", "-ac", "2", "-ar", String(RATE), "pipe:1"]));

/** A film of 60 frames whose sound sweeps upward, so that every moment sounds otherwise. */
function film(name: string, more: string[]): string {
  ffmpeg([
    "-y",
    "-f",
    "lavfi",
    "-i",
    "testsrc2=s=64x48:r=24:d=2.5",
    "-f",
    "lavfi",
    "-i",
    `aevalsrc=0.4*sin(2*PI*(200*t+300*t*t)):s=${RATE}:d=2.5`,
    ...more,
    file(name),
  ]);
  return file(name);
}

describe("the sound of a stretch", () => {
  it("is the very samples of the track, as long as its frames, wherever it begins", async () => {
    const path = film("pcm.mov", ["-c:v", "libx264", "-c:a", "pcm_s16le"]);
    const take = await ingest(path);
    const all = decoded(path);
    for (const [a, b] of [
      [0, 59],
      [10, 20],
      [59, 59],
    ]) {
      // prettier-ignore
      const got = decoded(await written(await takeSound(take, a, b)));
      expect(got.length / 2).toBe(((b - a + 1) * RATE) / 24);
      const from = (2 * a * RATE) / 24;
      let differ = 0;
      for (let i = 0; i < got.length; i++) if (Math.abs(got[i] - (all[from + i] ?? 0)) > 1) differ++;
      expect(differ).toBe(0);
    }
  });

  it("of a coded track lies where it belongs: within a quarter of a millisecond", async () => {
    const path = film("aac.mp4", ["-c:v", "libx264", "-c:a", "aac", "-b:a", "192k"]);
    const take = await ingest(path);
    const got = decoded(await written(await takeSound(take, 24, 47)));
    const all = decoded(path);
    const at = (shift: number) => {
      let s = 0;
      for (let i = 4000; i < 20_000; i += 2) s += got[i] * all[2 * RATE + i + 2 * shift];
      return s;
    };
    const shifts = Array.from({ length: 81 }, (_, i) => i - 40);
    const best = shifts.reduce((m, k) => (at(k) > at(m) ? k : m));
    expect(Math.abs(best)).toBeLessThanOrEqual(12);
  });

  it("is refused with a sentence where there is none, or beyond the take", async () => {
    const path = file("mute.mp4");
    ffmpeg(["-y", "-f", "lavfi", "-i", "testsrc2=s=64x48:r=24:d=0.5", path]);
    const mute = await ingest(path);
    await expect(takeSound(mute, 0, 5)).rejects.toThrow("This take has no sound.");
    const take = await ingest(film("two.mov", ["-c:v", "libx264", "-c:a", "pcm_s16le"]));
    await expect(takeSound(take, 50, 70)).rejects.toThrow(/frames 50 to 70 lie outside the take, which has frames 0 to 59/);
  });
});

async function written(bytes: Buffer): Promise<string> {
  const { writeFile } = await import("node:fs/promises");
  const path = file(`${bytes.length}.flac`);
  await writeFile(path, bytes);
  return path;
}
