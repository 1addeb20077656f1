import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fitMap } from "./fit-map";
import { apart, type Homography, IDENTITY, mapped, type Place, shiftBy } from "./homography";
import { readTrack, type TrackData, trackText } from "./track-data";
import { trackPath } from "./track-path";

const SQUARE: Place[] = [[10, 10], [50, 10], [50, 40], [10, 40]]; // prettier-ignore
const at = (f: number, dx: number, dy = 0): TrackData[number] => ({ f, matrix: shiftBy(dx, dy), quality: 0.9 });
const near = (a: readonly Place[], b: readonly Place[]) => a.forEach((p, i) => expect(Math.hypot(p[0] - b[i][0], p[1] - b[i][1])).toBeLessThan(1e-6));
const moved = (dx: number, dy = 0) => SQUARE.map(([x, y]): Place => [x + dx, y + dy]);

describe("a map through points", () => {
  const entry = fc.double({ min: -0.4, max: 0.4, noNaN: true });
  it("is the one that put them there, through one, two, three and more (property)", () => {
    fc.assert(
      fc.property(fc.tuple(entry, entry, entry, entry, entry, entry), fc.tuple(entry, entry), (v, [g, h]) => {
        const maps: [number, Homography][] = [
          [1, shiftBy(90 * v[4], 90 * v[5])],
          [2, [1 + v[0], -v[1], 90 * v[4], v[1], 1 + v[0], 90 * v[5], 0, 0, 1]],
          [3, [1 + v[0], v[1], 90 * v[4], v[2], 1 + v[3], 90 * v[5], 0, 0, 1]],
          [4, [1 + v[0], v[1], 90 * v[4], v[2], 1 + v[3], 90 * v[5], 0.01 * g, 0.01 * h, 1]],
        ];
        for (const [count, m] of maps) {
          fc.pre(Math.abs(m[0] * m[4] - m[1] * m[3]) > 0.1);
          const from = SQUARE.slice(0, count);
          const to = from.map((p) => mapped(m, p)!);
          const found = fitMap(from, to)!;
          expect(apart(found, m, [[20, 20], [30, 35]])).toBeLessThan(1e-4); // prettier-ignore
        }
      }),
    );
  });
  it("is none where the points lie on a line", () => {
    const line: Place[] = [[0, 0], [10, 10], [20, 20]]; // prettier-ignore
    expect(fitMap(line, line)).toBeNull();
  });
});

describe("the path of a track", () => {
  const data: TrackData = [at(5, 0), at(6, 2), at(7, 4), { f: 8, stopped: "something hides it on its left" }, at(12, 14)];
  it("is what was measured; straight over gaps, and holds at its ends", () => {
    const p = trackPath({ at: 5, region: SQUARE }, data);
    expect(p.map(6)).toEqual(shiftBy(2, 0));
    near(p.corners(9), moved(8));
    near(p.corners(2), moved(0));
    near(p.corners(40), moved(14));
    expect([5, 6, 8, 9].map(p.quality)).toEqual([0.9, 0.9, null, null]);
  });
  it("bends through where it was put by hand, and is as measured on its own frame", () => {
    const p = trackPath({ at: 5, region: SQUARE, set: [{ f: 7, points: moved(4, 6) }] }, data);
    near(p.corners(5), moved(0));
    near(p.corners(6), moved(2, 3));
    near(p.corners(7), moved(4, 6));
    // what was measured goes on from there
    near(p.corners(12), moved(14, 6));
    expect(apart(p.map(6), shiftBy(2, 3), SQUARE)).toBeLessThan(1e-6);
    expect(p.quality(7)).toBe(1);
  });
  it("goes through corners that were put apart, exactly", () => {
    const points: Place[] = [[14, 12], [57, 9], [52, 49], [11, 41]]; // prettier-ignore
    const p = trackPath({ at: 5, region: SQUARE, set: [{ f: 9, points }] }, data);
    near(p.corners(9), points);
    near(SQUARE.map((q) => mapped(p.map(9), q)!), points); // prettier-ignore
  });
});

describe("what is kept of a track", () => {
  it("comes back as it was, and is refused where it is damaged", () => {
    const data: TrackData = [{ f: 3, matrix: IDENTITY, quality: 1 }, { f: 4, stopped: "it is hidden" }]; // prettier-ignore
    expect(readTrack(trackText(data))).toEqual(data);
    for (const text of ["", "{}", trackText([data[1], data[0]]), '{"frames":[{"f":1,"matrix":[1,2],"quality":1}]}'])
      expect(() => readTrack(text)).toThrow(/damaged/);
  });
});
