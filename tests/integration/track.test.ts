import { readFileSync } from "node:fs";
import { beforeAll, describe, expect, it } from "vitest";
import type { Homography, Place } from "../../src/core/follow/homography";
import { mapped } from "../../src/core/follow/homography";
import type { TrackedFrame } from "../../src/core/follow/track-data";
import { buildProgram, umber } from "../../testkit/cli";

const box = (x: number, y: number, w: number, h: number) => [[x, y], [x + w, y], [x + w, y + h], [x, y + h]].map((p) => p.join(",")).join(" "); // prettier-ignore
const track = (take: string, ...more: string[]): TrackedFrame[] =>
  (JSON.parse(umber("track", `demo/takes/${take}.mp4`, ...more, "--json").stdout) as { frames: TrackedFrame[] }).frames;
const truth = <T>(take: string) => JSON.parse(readFileSync(`demo/truth/${take}.json`, "utf8")) as T;
const known = (frames: TrackedFrame[]) => frames.flatMap((f) => ("matrix" in f ? [f] : []));
/** How far the matrices put a place from where it truly is, 95th percentile. */
function p95(frames: { f: number; matrix: Homography }[], from: Place, truly: (f: number) => Place): number {
  const off = frames.map(({ f, matrix }) => {
    const [q, t] = [mapped(matrix, from)!, truly(f)];
    return Math.hypot(q[0] - t[0], q[1] - t[1]);
  });
  return off.sort((a, b) => a - b)[Math.floor(0.95 * off.length)];
}

beforeAll(() => buildProgram());

describe("umber track", () => {
  it("follows the label of the swaying lantern until the chain passes before it, and says so", () => {
    const { middle, partlyHidden } = truth<{ track: { middle: Place[]; partlyHidden: number[] } }>("lantern").track;
    const frames = track("lantern", "--at", "20", "--from", "10", "--region", box(607, 587, 98, 42));
    const free = known(frames).filter(({ f }) => !partlyHidden.includes(f));
    expect(free.map((f) => f.f)).toEqual(Array.from({ length: partlyHidden[0] - 10 }, (_, i) => 10 + i));
    // drawn before it: 0.1 px is asked for
    expect(p95(free, middle[20], (f) => middle[f])).toBeLessThan(0.15);
    const stopped = frames.filter((f) => "stopped" in f);
    expect(stopped).toEqual([{ f: expect.any(Number) as number, stopped: expect.stringMatching(/hides it/) as string }]);
    expect(Math.abs(stopped[0].f - partlyHidden[0])).toBeLessThanOrEqual(1);
  });

  it("follows a camera that drifts to a twentieth of a pixel", () => {
    const { shift } = truth<{ stillness: { shift: Place[] } }>("hull").stillness;
    const frames = track("hull", "--region", box(500, 290, 90, 90), "--to", "48");
    expect(known(frames)).toHaveLength(49);
    expect(p95(known(frames), [545, 335], (f) => [545 + shift[f][0], 335 + shift[f][1]])).toBeLessThan(0.05);
  });

  it("refuses what it cannot follow in one sentence", () => {
    const refused = (...args: string[]) => {
      const r = umber("track", "demo/takes/hull.mp4", ...args);
      expect(r.status).toBe(2);
      return r.stderr;
    };
    expect(refused("--region", "1,2 3,4")).toMatch(/three corners or more are allowed/);
    expect(refused("--region", box(1200, 0, 200, 50))).toMatch(/leaves the picture, which is 1280×720/);
    expect(refused("--region", box(10, 10, 90, 90), "--model", "bent")).toMatch(/shift, similarity, affine, perspective are allowed/);
    expect(refused("--region", box(10, 10, 3, 3))).toMatch(/too small to be followed/);
  });
});
