import { spawnSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Survey } from "../../src/core/survey/survey";
import { alignTakes } from "../../src/engine/analysis/align";
import { cellFrames } from "../../src/engine/analysis/cells";
import { whereSeen } from "../../src/core/scout/seen";
import { FrameStore } from "../../src/engine/media/frame-store";
import { surveyFirst, surveyTake } from "../../src/engine/analysis/survey";
import type { TakeIndex } from "../../src/engine/media/index-file";
import { ingest } from "../../src/engine/media/ingest";
import { frames } from "../../demo/make/decode";
import { buildProgram, umber } from "../../testkit/cli";
import { ffmpeg } from "../../testkit/ffmpeg";

/** What is measured about takes, against what the generator put in and against ffmpeg. */
const dir = mkdtempSync(join(tmpdir(), "umber-survey-"));
const file = (n: string) => join(dir, n);
beforeAll(buildProgram);
afterAll(() => rmSync(dir, { recursive: true, force: true }));

const take = (name: string) => `demo/takes/${name}.mp4`;
const truth = (name: string) => JSON.parse(readFileSync(`demo/truth/${name}.json`, "utf8")) as Record<string, never>;
function survey(path: string): Survey & { frames: number; sound: boolean } {
  const r = umber("survey", path, "--json");
  expect(r.status, r.stderr).toBe(0);
  return JSON.parse(r.stdout) as Survey & { frames: number; sound: boolean };
}
/** A take, read once for all tests, with its cells beside it. */
const read = new Map<string, Promise<TakeIndex>>();
function opened(name: string): Promise<TakeIndex> {
  if (!read.has(name)) {
    mkdirSync(file(name));
    read.set(name, ingest(take(name), { quickFolder: file(name) }));
  }
  return read.get(name)!;
}
/** What is measured of it, once for all tests. */
const surveys = new Map<string, Promise<Survey>>();
function measured(name: string): Promise<Survey> {
  if (!surveys.has(name))
    surveys.set(
      name,
      opened(name).then((t) => surveyTake(t)),
    );
  return surveys.get(name)!;
}
const quantile = (v: number[], q: number) => v.toSorted((a, b) => a - b)[Math.min(v.length - 1, Math.floor(q * v.length))];

describe("a survey of a demo take", () => {
  it("follows the hull's drifting camera to a twentieth of a pixel", () => {
    const s = survey(take("hull"));
    const { shift } = truth("hull").stillness as { shift: [number, number][] };
    const off = s.stillness.perFrame.map(([dx, dy], n) => Math.hypot(dx - shift[n][0], dy - shift[n][1]));
    expect(s.stillness.verdict).toBe("drifts");
    expect(quantile(off, 0.5)).toBeLessThan(0.05);
    expect(quantile(off, 0.95)).toBeLessThan(0.1);
    expect(s).toMatchObject({ frames: 72, cuts: [], duplicates: [], bars: { left: 0, top: 0, right: 0, bottom: 0 }, interlaced: { yes: false } });
  });

  it("says that the quay's camera stands still while its clouds pass", async () => {
    const s = await measured("quay");
    expect(s.stillness.verdict).toBe("locked");
    const { gain } = truth("quay").light as { gain: number[] };
    const off = s.light.perFrame.map(([y], n) => Math.abs(y[0] + y[1] / 110 - gain[n] / gain[0]));
    expect(quantile(off, 0.5)).toBeLessThan(0.01);
    expect(s.light.drift).toBeGreaterThan(0.08);
    expect(s.light.flicker).toBeLessThan(0.02);
  });

  it("tells the letter's flicker from a drift, and its last, empty frame from a cut", async () => {
    const s = await measured("letter");
    expect(s.light.flicker).toBeGreaterThan(0.03);
    expect(s.cuts).toEqual([]);
  });
});

describe("two takes that were joined", () => {
  let threads: Survey & { frames: number; sound: boolean };
  let index: TakeIndex;
  let here: Survey;
  const folder = file("joined");
  beforeAll(async () => {
    const cut = (n: number) => `trim=end_frame=${n},setpts=PTS-STARTPTS,scale=640:-2`;
    const filter = `[0:v]${cut(30)}[a];[1:v]${cut(25)}[b];[a][b]concat=n=2:v=1`;
    ffmpeg(["-i", take("hall"), "-i", take("quay"), "-filter_complex", filter, "-c:v", "libx264", "-crf", "20", file("joined.mp4")]);
    threads = survey(file("joined.mp4"));
    mkdirSync(folder);
    index = await ingest(file("joined.mp4"), { quickFolder: folder });
    here = await surveyTake(index);
  });

  it("have a cut where ffmpeg's scdet finds it", () => {
    expect(threads.cuts).toEqual([30]);
    const judge = spawnSync("ffmpeg", ["-hide_banner", "-i", file("joined.mp4"), "-vf", "scdet=threshold=10", "-f", "null", "-"], {
      encoding: "utf8",
    });
    const found = [...judge.stderr.matchAll(/lavfi\.scd\.time: ([\d.]+)/g)].map((m) => Math.round(Number(m[1]) * 24));
    expect(found).toEqual([30]);
    // each shot is measured against its own first frame
    expect(threads.stillness.perFrame[54].slice(0, 2).every((v) => Math.abs(v) < 0.1)).toBe(true);
  });

  it("are found by threads, of a film that was only listed, as by one lane of the take that was read", () => {
    expect({ ...threads.stillness, perFrame: 0 }).toEqual({ ...here.stillness, perFrame: 0, maxShift: expect.closeTo(here.stillness.maxShift, 2) });
    threads.stillness.perFrame.forEach((p, n) => p.forEach((v, i) => expect(v).toBeCloseTo(here.stillness.perFrame[n][i], 1)));
    for (const k of ["cuts", "light", "grain", "bars", "duplicates", "interlaced"] as const) expect(threads[k]).toEqual(here[k]);
  });

  it("are known in part as soon as the take was read: cuts and light, the same", async () => {
    expect(await surveyFirst(index, folder)).toEqual({ cuts: here.cuts, light: here.light });
  });
});

describe("where a thing is seen in a demo take", () => {
  const seen = async (name: string, at: number, outline: number[][]) => {
    const index = await opened(name);
    const cells = await cellFrames(index, 0, index.info.frames - 1, null, file(name), {});
    return whereSeen(cells, 0, at, outline);
  };

  it("finds the hall's boom to the frame, and as its worst frame one in which as much of it is seen as in any, to a hundredth", async () => {
    // prettier-ignore
    const outline = [[470, 130], [520, 80], [610, 50], [640, 0], [1080, 0], [792, 106], [728, 136], [700, 190], [640, 240], [600, 325], [465, 325]];
    const s = await seen("hall", 50, outline);
    const { inView } = (truth("hall").intruders as { boom: { inView: number[] } }).boom;
    expect(Math.abs(s.first - inView[0])).toBeLessThanOrEqual(1);
    expect(Math.abs(s.last - inView.at(-1)!)).toBeLessThanOrEqual(1);
    const list = Array.from({ length: 96 }, (_, n) => n);
    const areas = [...frames("demo/truth/hall-matte-boom.mkv", list, "gray", 1280 * 720)].map((m) => m.reduce((n, v) => n + (v > 127 ? 1 : 0), 0));
    // it hangs there for twenty frames, in which its area changes by a hundredth
    expect(areas[s.worst]).toBeGreaterThan(0.99 * Math.max(...areas));
    expect(s.clean.filter((c) => c.side === "before").every((c) => c.frame < 30 && c.off < 2)).toBe(true);
    expect(s.clean.filter((c) => c.side === "after").every((c) => c.frame > 71 && c.off < 2)).toBe(true);
  });

  it("says that the office's ladder and the hull's chalk never leave", async () => {
    // prettier-ignore
    expect((await seen("office", 10, [[1360, 1070], [1425, 260], [1430, 170], [1604, 170], [1612, 290], [1900, 900], [1700, 1070]])).never).toBe(true);
    expect((await seen("hull", 10, [[510, 300], [830, 300], [830, 460], [510, 460]])).never).toBe(true); // prettier-ignore
  });

  it("takes the letter's last, empty frame as the clean one", async () => {
    const s = await seen("letter", 20, [[250, 150], [1340, 150], [1340, 590], [250, 590]]); // prettier-ignore
    expect([s.never, s.first, s.last]).toEqual([false, 0, 58]);
    expect(s.clean.map((c) => c.frame)).toEqual([59]);
  });
});

describe("another take", () => {
  it("is brought into line to a tenth of a pixel and one part in a hundred of light", async () => {
    const store = new FrameStore(file("frames"), 4e9);
    const [a, b] = [await opened("office"), await opened("office-b")];
    const line = await alignTakes({ id: "a", index: a, store }, 10, { id: "b", index: b, store }, 20, []);
    const { shift, gain } = truth("office-b").against as { shift: [number, number]; gain: number };
    expect(Math.hypot(line.x + shift[0], line.y + shift[1])).toBeLessThan(0.1);
    expect([line.scale, Math.abs(line.angle)]).toEqual([1, 0]);
    for (const [g] of line.light) expect(Math.abs(g * gain - 1)).toBeLessThan(0.01);
    const hull = await opened("hull");
    await expect(alignTakes({ id: "a", index: a, store }, 10, { id: "h", index: hull, store }, 0, [])).rejects.toThrow(/1280×720/);
    const hall = await opened("hall");
    await expect(alignTakes({ id: "h", index: hull, store }, 0, { id: "q", index: hall, store }, 0, [])).rejects.toThrow(/do not show the same view/);
  });
});
