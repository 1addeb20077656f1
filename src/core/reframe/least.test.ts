import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { covers, keptCorners } from "../compose/reframe";
import { costOf, leastReframing, Unwanted } from "./least";

const [W, H] = [320, 180];
const box = (x0: number, y0: number, x1: number, y1: number, room = 0) => {
  const u = new Unwanted(W, H);
  u.add({ x0, y0, x1, y1 }, new Uint8Array((x1 - x0) * (y1 - y0)).fill(1), room);
  return u;
};

describe("the least enlargement that keeps a thing out", () => {
  it("of a boom from above: by what lies below it, and no more (closed form)", () => {
    const f = leastReframing(box(100, 0, 160, 18))!;
    expect(f.scale).toBeCloseTo(H / (H - 18), 3);
    // what is left lies at the lower border, in the middle of the width
    const [[x0, y0], , [x1, y1]] = keptCorners(f, W, H);
    expect(y0).toBeCloseTo(18, 1);
    expect(y1).toBeCloseTo(H, 1);
    expect((x0 + x1) / 2).toBeCloseTo(W / 2, 0);
    expect(costOf(f)).toBeCloseTo(0.1, 3);
  });

  it("of a stand at the side: by the width beside it", () => {
    expect(leastReframing(box(300, 60, 320, 180))!.scale).toBeCloseTo(W / 300, 3);
  });

  it("keeps as much free around it as is asked, also where it reaches beyond the picture", () => {
    expect(leastReframing(box(300, 60, 320, 180, 5))!.scale).toBeCloseTo(W / 295, 3);
    expect(leastReframing(box(100, -12, 160, 18, 4))!.scale).toBeCloseTo(H / (H - 22), 3);
  });

  it("of a corner cut off aslant: less than its box would take, as a picture's corner may pass it", () => {
    const u = new Unwanted(W, H);
    const cut = new Uint8Array(W * H);
    for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) if (W - x + 2 * y < 60) cut[y * W + x] = 1;
    u.add({ x0: 0, y0: 0, x1: W, y1: H }, cut);
    const f = leastReframing(u)!;
    // the upper right corner of what is kept goes left by W − W/s and down by H − H/s at most, and (W − W/s) + 2(H − H/s) has to be 60
    expect(f.scale).toBeCloseTo(1 / (1 - 60 / (W + 2 * H)), 2);
    expect(f.scale).toBeLessThan(Math.min(H / (H - 30), W / (W - 60)));
  });

  it("shows nothing of it, covers the picture, and a little less would show it (property)", () => {
    const where = fc.record({ x: fc.integer({ min: 0, max: W - 20 }), y: fc.integer({ min: 0, max: H - 20 }), w: fc.integer({ min: 4, max: 60 }), h: fc.integer({ min: 4, max: 40 }) }); // prettier-ignore
    fc.assert(
      fc.property(where, ({ x, y, w, h }) => {
        const u = box(x, y, Math.min(W, x + w), Math.min(H, y + h));
        const f = leastReframing(u);
        if (!f) return x > 20 && y > 10; // in the middle nothing helps
        const [[x0, y0], , [x1, y1]] = keptCorners(f, W, H);
        const shows = (a: number, b: number, c: number, d: number) => c > x && a < x + w && d > y && b < y + h;
        const sees = shows(x0 + 1e-6, y0 + 1e-6, x1 - 1e-6, y1 - 1e-6);
        return covers(f, W, H) && !sees;
      }),
      { numRuns: 40 },
    );
  });

  it("is none where nothing is unwanted, and none is found where it stands in the middle", () => {
    expect(leastReframing(new Unwanted(W, H))).toEqual({ x: 0, y: 0, scale: 1, angle: 0 });
    expect(leastReframing(box(140, 80, 180, 100))).toBeNull();
  });
});
