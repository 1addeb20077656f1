import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, it } from "vitest";
import { decodeAll, ffprobe } from "../../tests/support/ffmpeg";
import { makeHall } from "./hall";

it("the generator's quick form makes take and truth", async () => {
  const dir = mkdtempSync(join(tmpdir(), "umber-hall-"));
  await makeHall({ raw: join(dir, "raw"), takes: dir, truth: join(dir, "truth"), quick: true });
  const [W, H] = [160, 90];
  const take = decodeAll(join(dir, "hall.mp4"), "gray");
  const clean = decodeAll(join(dir, "truth/hall-clean.mkv"), "gray");
  const matte = decodeAll(join(dir, "truth/hall-matte.mkv"), "gray");
  expect([take.length, clean.length, matte.length]).toEqual([2 * W * H, 2 * W * H, 2 * W * H]);
  // in the second frame the boom hangs where the matte says, and is dark; the truth has no boom there
  let [seen, truth, n] = [0, 0, 0];
  for (let i = W * H; i < 2 * W * H; i++)
    if (matte[i] > 200) {
      seen += take[i];
      truth += clean[i];
      n++;
    }
  expect(n).toBeGreaterThan(20);
  expect(truth / n - seen / n).toBeGreaterThan(30);
  expect(matte.subarray(0, W * H).every((v) => v === 0)).toBe(true);
  expect(JSON.parse(readFileSync(join(dir, "truth/hall.json"), "utf8"))).toMatchObject({ frames: 2, intruders: { boom: { inView: [50] } } });
  expect((ffprobe(join(dir, "hall.mp4"), "-show_streams").streams as { codec_type: string }[]).map((s) => s.codec_type)).toContain("audio");
});
