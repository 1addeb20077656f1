import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { YUV420 } from "../../../testkit/pictures";
import { createFrame, type Frame } from "../pixels/frame";
import { type GrainStatistics, LAGS } from "./grain";
import { quietPicture, quietPlane } from "./quiet";
import { steadyPart, steadyViews } from "./steady";

const SIDE = 2 * LAGS + 1;
const [W, H] = [600, 330];
const WHITE = Array.from({ length: SIDE * SIDE }, (_, i) => Number(i === LAGS * SIDE + LAGS));
const grain: GrainStatistics = {
  planes: [{ sigma: [[0, 2], [255, 3]], covariance: WHITE, local: { across: 3, down: 2, ratio: [1, 0.7, 1.3, 1.1, 0.9, 1] } }], // prettier-ignore
  inTime: 0,
};

/** A structured ground with noise; in the last third of the picture something passes. */
function scene(seed: number, at: number): Frame {
  const normal = normals(seed);
  const f = createFrame(W, H, YUV420);
  f.planes.forEach(({ data, width }, p) => {
    for (let i = 0; i < data.length; i++) {
      const [x, y] = [(i % width) << (p ? 1 : 0), Math.floor(i / width) << (p ? 1 : 0)];
      const passes = x > 400 && Math.hypot(x - at, y - 150) < 40;
      data[i] = (p ? 120 : 100 + 20 * Math.sin(x / 17) * Math.cos(y / 23) + 40 * Number(x % 90 < 30)) + (passes ? 50 : 0) + (p ? 1 : 2) * normal();
    }
  });
  return f;
}
const frames = [scene(1, 700), scene(2, 450), scene(3, 500), scene(4, 550)];
const ask = { grain, others: frames.slice(1), unit: 1, across: 1, full: false };

describe("a picture that is quieted where it is asked for", () => {
  it("is what it is when all of it is quieted at once, and the same whichever part is asked for first", () => {
    for (const p of [0, 1]) {
      const views = steadyViews(frames[0], frames.slice(1), p, grain, ask);
      const whole = quietPlane(steadyPart(views, { x0: 0, y0: 0, x1: views.width, y1: views.height }), views.sigma);
      // all of it row by row, and with a sample in the middle before everything else
      const got = [[], [[270, 140]]].map((first) => {
        const quiet = quietPicture({ ...frames[0] }, p, ask);
        for (const [x, y] of first) quiet.index(x >> p, y >> p);
        for (let y = 0; y < views.height; y++) for (let x = 0; x < views.width; x++) quiet.index(x, y);
        return quiet;
      });
      let [worst, differ] = [0, 0];
      for (let i = 0; i < whole.data.length; i++) {
        worst = Math.max(worst, Math.abs(got[0].data[i] - whole.data[i]), Math.abs(got[0].left[i] - whole.left[i]));
        if (got[1].data[i] !== got[0].data[i] || got[1].left[i] !== got[0].left[i]) differ++;
      }
      // sums that begin elsewhere are rounded elsewhere
      expect(worst).toBeLessThan(1e-4);
      expect(differ).toBe(0);
    }
  });

  it("costs what its part costs: squares that are not asked for stay as they were", () => {
    const { data, index } = quietPicture({ ...frames[0] }, 0, ask);
    expect(index(20, 20)).toBe(20 * W + 20);
    expect(data[20 * W + 20]).toBeGreaterThan(0);
    expect(data[20 * W + 500]).toBe(0);
  });

  it("for a picture that plays, squares are quieted in turn; until then they show it as it is, with all its noise", () => {
    const quiet = quietPicture({ ...frames[0] }, 0, { ...ask, others: [], quickly: true });
    const rect = { x0: 10, y0: 10, x1: 150, y1: 100 }; // six squares of 64
    expect(quiet.workOut(rect, 1)).toBe(0);
    const noisy = () => [20, 100, 140].map((x) => quiet.left[90 * W + x] === 1 && quiet.data[90 * W + x] === frames[0].planes[0].data[90 * W + x]);
    expect(quiet.left[20 * W + 20]).toBeLessThan(0.5);
    expect(noisy()).toEqual([true, true, true]);
    expect(quiet.workOut(rect, 4)).toBe(0);
    expect(noisy()).toEqual([false, false, true]);
    expect(quiet.workOut(rect, 4)).toBe(3);
    expect(noisy()).toEqual([false, false, false]);
    expect(quiet.workOut(rect, 4)).toBe(4);
  });
});
