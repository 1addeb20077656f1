import { grayOf } from "../../src/core/motion/gray";
import { referenceOf, register } from "../../src/core/motion/register";
import { buildPlate } from "../../src/engine/analysis/build";
import { cellFrames } from "../../src/engine/analysis/cells";
import { whereSeen } from "../../src/core/scout/seen";
import { FrameStore } from "../../src/engine/media/frame-store";
import { ingest } from "../../src/engine/media/ingest";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { against, cli, ff, file, median, repeated, root, type Row } from "../measure";
import { TAKE } from "../take";

const take = (name: string) => join(root, "demo/takes", `${name}.mp4`);

/** One 1080p frame against its reference, and all that a survey does with it. The OpenCV build for JavaScript has no phase correlation to judge by. */
export async function stillness(): Promise<Row[]> {
  const store = new FrameStore(mkdtempSync(join(tmpdir(), "umber-bench-")), 4e9);
  const t = await ingest(take("office"));
  const frames = await Promise.all([0, 1, 2, 3, 4, 5].map((n) => store.frame("t", t, n)));
  const reference = referenceOf(grayOf(frames[0].planes[0], 8));
  const gray = frames.map((f) => grayOf(f.planes[0], 8));
  const ms = 1000 * median(await repeated(20, (i) => register(reference, gray[1 + (i % 5)])));
  // as after a jump: the frame shifted far, so that the start comes from phase correlation
  const far = { ...gray[1], data: gray[1].data.slice(1920 * 60) };
  const jumped = { width: 1920, height: 1080, data: new Uint8Array(1920 * 1080) };
  jumped.data.set(far.data);
  const cold = 1000 * median(await repeated(8, () => register(reference, jumped)));
  return [
    { what: "Stillness, one 1080p frame", ours: `${ms.toFixed(1)} ms`, reach: "< 40 ms", judge: "–", ok: ms < 40 },
    { what: "Stillness, one 1080p frame after a jump of 60 px", ours: `${cold.toFixed(1)} ms`, reach: "–", judge: "–", ok: true },
  ];
}

/** The whole command that surveys 120 frames of 1080p it has never seen, against decoding them. */
export async function survey(): Promise<Row[]> {
  const film = file("survey.mp4");
  ff("-i", TAKE, "-frames:v", "120", "-c:v", "libx264", "-preset", "veryfast", "-crf", "18", film);
  const [ours, judge] = await against(
    () => cli("survey", film, "--json"),
    () => ff("-i", film, "-f", "null", "-"),
    3,
  );
  const fps = 120 / ours;
  return [
    {
      what: "Survey of 120 frames of 1080p, the whole command",
      ours: `${fps.toFixed(1)} fps (${(judge / ours).toFixed(2)} ×)`,
      reach: "≥ 40 fps",
      judge: `ffmpeg decode ${(120 / judge).toFixed(0)} fps`,
      ok: fps >= 40,
    },
  ];
}

/** A plate from 25 frames of 1080p, once they are decoded, against ffmpeg's temporal median of the same count. */
export async function plate(): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), "umber-bench-"));
  const store = new FrameStore(folder, 4e9);
  const t = await ingest(take("office"), { quickFolder: folder });
  const still = { verdict: "locked" as const, maxShift: 0, perFrame: t.hashes.map((): [number, number, number, number] => [0, 0, 0, 1]) };
  await store.block("t", t, 0);
  const [ours, judge] = await against(
    () => buildPlate(store, "t", t, { in: 0, out: 24 }, still, folder),
    () => ff("-i", take("office"), "-frames:v", "1", "-vf", "tmedian=radius=12", "-f", "null", "-"),
    3,
  );
  // the judge decodes: so do we, from nothing
  const whole = median(
    await repeated(3, () => buildPlate(new FrameStore(mkdtempSync(join(tmpdir(), "umber-bench-")), 4e9), "t", t, { in: 0, out: 24 }, still, folder)),
  );
  return [
    { what: "Plate from 25 frames, 1080p, decoded", ours: `${ours.toFixed(2)} s`, reach: "< 2 s", judge: "–", ok: ours < 2 },
    {
      what: "Plate from 25 frames, 1080p, with decoding",
      ours: `${whole.toFixed(2)} s`,
      reach: "–",
      judge: `ffmpeg tmedian with decoding ${judge.toFixed(2)} s`,
      ok: true,
    },
  ];
}

/** From an outline to the band, with what reading the take has left. */
export async function find(): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), "umber-bench-"));
  const rows: Row[] = [];
  const outlines: [string, number, number[][]][] = [
    ["hall", 50, [[470, 130], [640, 4], [1000, 4], [728, 136], [600, 325], [465, 325]]], // prettier-ignore
    ["quay", 29, [[640, 160], [1280, 160], [1280, 600], [640, 600]]], // prettier-ignore
    ["office", 10, [[1360, 1070], [1425, 260], [1604, 170], [1900, 900], [1700, 1070]]], // prettier-ignore
  ];
  for (const [name, at, outline] of outlines) {
    const t = await ingest(take(name), { quickFolder: folder });
    const s = median(await repeated(3, async () => whereSeen(await cellFrames(t, 0, t.info.frames - 1, null, folder, {}), 0, at, outline)));
    rows.push({ what: `Where and when, ${name}`, ours: `${s.toFixed(2)} s`, reach: "< 2 s", judge: "–", ok: s < 2 });
  }
  return rows;
}
