import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ACROSS, box, DOWN, shot } from "../../../testkit/cell-shot";
import { withParts } from "./along";
import { Apart } from "./apart";
import { backgroundOf, type Cells, offBackground } from "../plate/cells";
import { both, count, type Grid, grown, hysteresis, pieces, without } from "../plate/regions";
import { inLightOfPlace } from "./local-light";
import { likeness } from "./present";
import { loopRound, ringsOf, tidyForm } from "./rings";
import { whereSeen } from "./seen";

const grid = (inside: (x: number, y: number) => boolean): Grid => ({
  width: ACROSS,
  height: DOWN,
  data: Uint8Array.from({ length: ACROSS * DOWN }, (_, i) => Number(inside(i % ACROSS, Math.floor(i / ACROSS)))),
});
/** As a cell would be of what was cut up to show it: how much of a grid another covers. */
const covers = (mine: Grid, truth: Grid) => count(both(mine, truth)) / count(truth);
const loop = (x0: number, y0: number, x1: number, y1: number) => [[x0, y0], [x1, y0], [x1, y1], [x0, y1]].map(([x, y]) => [4 * x, 4 * y]); // prettier-ignore

/** Two who walk towards each other over 60 frames, a cell a frame; the second before the first. */
const COATS = [
  [60, 140, 118],
  [200, 110, 140],
] as const;
const first = (f: number, x: number, y: number) => box(x, y, f - 4, 10, f + 4, 30);
const second = (f: number, x: number, y: number) => box(x, y, 56 - f, 12, 65 - f, 30);
const street = () =>
  shot(60, (f, x, y) => {
    const step = (c: readonly [number, number, number], k: number): [number, number, number] => [c[0] + 12 * Math.sin(k * 1.3), c[1], c[2]];
    if (second(f, x, y)) return step(COATS[1], x + f + 0.5 * y);
    if (first(f, x, y)) return step(COATS[0], x - f + 0.5 * y);
    return null;
  });

/** Which cells of a frame differ from what is there most often. */
const differences = (frames: readonly Cells[]) => {
  const b = backgroundOf(frames);
  return frames.map((f) => hysteresis(offBackground(f, b), ACROSS, DOWN, 3.2, 6));
};

describe("two who pass each other", () => {
  it.each([
    ["the one behind", first, second, 10],
    ["the one before", second, first, 10],
  ] as const)("are told apart: %s", (_, thing, other, at) => {
    const { frames } = street();
    const differs = differences(frames);
    const shown = (f: number) => grid((x, y) => thing(f, x, y) && !(other === second && other(f, x, y)));
    const apart = new Apart(frames[at], differs[at], both(differs[at], shown(at)));
    for (let f = at + 1; f < 56; f++) {
      const truth = shown(f);
      const { mask } = apart.next(frames[f], differs[f], 4);
      if (count(truth) < 60) continue;
      expect(count(both(mask!, truth)) / count(truth), `frame ${f}`).toBeGreaterThan(0.85);
      // what is large and faint is found by means of 5 × 5: they reach two cells beyond
      expect(count(without(mask!, grown(truth, 2))) / count(truth), `frame ${f}`).toBeLessThan(0.1);
    }
  });

  it("and each is seen from where it comes to where it goes, not where the other is", () => {
    const { frames } = street();
    const one = whereSeen(frames, 0, 10, loop(5, 9, 15, 31));
    expect(one.first).toBeLessThanOrEqual(1);
    expect(one.last).toBeGreaterThanOrEqual(58);
    // the box of one that walks is as wide as it is
    expect(one.box.x1 - one.box.x0).toBeLessThanOrEqual(4 * 13);
  });
});

describe("what is joined to an outlined thing beyond the loop", () => {
  // a head that swings to the right, on a pole from above, with its shadow apart; and somebody who comes the other way
  const at = 12;
  const head = (f: number, x: number, y: number) => box(x, y, f + 6, 14, f + 14, 20);
  const pole = (f: number, x: number, y: number) => box(x, y, f + 9, 0, f + 11, 14);
  const shade = (f: number, x: number, y: number) => box(x, y, f + 8, 24, f + 16, 28);
  const walker = (f: number, x: number, y: number) => box(x, y, 38 - f, 11, 44 - f, 36);
  const { frames } = shot(30, (f, x, y, ground) => {
    if (head(f, x, y)) return [40 + 8 * ((x - f + y) % 3), 128, 128];
    if (pole(f, x, y)) return [25 + 6 * (y % 3), 128, 128];
    if (walker(f, x, y)) return [190 + 15 * ((x + f + y) % 2), 110, 150];
    if (shade(f, x, y)) return [16 + 0.6 * (ground - 16), 128, 128];
    return null;
  });
  const differs = differences(frames);
  const wanted = grid((x, y) => box(x, y, at + 5, 13, at + 15, 21));
  const hangs = { ...wanted, data: differs[at].data };

  it("is its part where it moves along, joined or apart, and no part where it goes its own way", () => {
    // pole, head and walker are one piece on this frame
    expect(pieces(hangs).some((p) => p.some((i) => pole(at, i % ACROSS, Math.floor(i / ACROSS))) && p.some((i) => walker(at, i % ACROSS, Math.floor(i / ACROSS))))).toBe(true); // prettier-ignore
    const whole = withParts(frames, differs, at, hangs, wanted);
    const seen = (thing: typeof head) => grid((x, y) => thing(at, x, y) && !(thing !== head && thing !== pole && (head(at, x, y) || pole(at, x, y))));
    for (const [thing, least] of [[head, 0.95], [pole, 0.85], [shade, 0.6]] as const) expect(covers(whole, seen(thing))).toBeGreaterThan(least); // prettier-ignore
    const other = grid((x, y) => walker(at, x, y) && !shade(at, x, y) && !box(x, y, at + 3, 11, at + 17, 23));
    expect(covers(whole, other)).toBeLessThan(0.2);
  });

  it("is drawn as one loop round all of it", () => {
    const s = whereSeen(frames, 0, at, loop(at + 5, 13, at + 15, 21));
    expect(s.moves).toBeGreaterThan(4 * 12);
    const ys = s.whole!.map(([, y]) => y);
    expect(Math.min(...ys)).toBeLessThanOrEqual(4);
    expect(s.forms[at].length).toBeGreaterThan(0);
  });
});

describe("a thing under clouds", () => {
  it("is seen for its own frames, though shadows as deep as it pass over the ground", () => {
    // a soft band of shade that goes over the picture, three quarters of the light at its middle
    const shade = (f: number, x: number) => 1 - 0.25 * Math.exp(-(((x - 3 * f + 40) / 26) ** 2)) - 0.2 * Math.exp(-(((x + 2 * f - 90) / 30) ** 2));
    const { frames } = shot(40, (f, x, y, ground) => {
      const lit = (v: number) => 16 + shade(f, x) * (v - 16);
      return f >= 12 && f <= 28 && box(x, y, 24 + (f % 3), 12, 34 + (f % 3), 28) ? lit(60 + 30 * ((x + y) % 2)) : lit(ground);
    });
    const s = whereSeen(frames, 0, 20, loop(22, 10, 38, 30));
    expect([s.never, s.first, s.last]).toEqual([false, 12, 28]);
  });

  it("keeps its own light where all of a block is it: that of the ground about it is taken", () => {
    const { frames } = shot(3, (f, x, y, ground) =>
      f === 1 && box(x, y, 12, 12, 36, 24) ? 90 + 60 * ((x * 7 + y * 3) % 2) : f ? 16 + 0.8 * (ground - 16) : null,
    );
    const { frames: clean } = shot(1, () => null);
    const b = backgroundOf([clean[0], frames[0]]);
    const [under, beside] = [frames[1], frames[2]].map((c) => inLightOfPlace(c, b));
    for (let y = 0; y < DOWN; y++)
      for (let x = 0; x < ACROSS; x++) {
        const i = y * ACROSS + x;
        const inside = box(x, y, 12, 12, 36, 24);
        if (inside) expect(Math.abs(under.planes[0][i] - (16 + (frames[1].planes[0][i] - 16) / 0.8))).toBeLessThan(4);
        expect(Math.abs(beside.planes[0][i] - b.planes[0][i])).toBeLessThan(3);
      }
  });
});

describe("a thin wire", () => {
  it("is found whole, though no cell of it differs by much", () => {
    // one cell in four of it is a wire of a contrast of eight codes
    const wire = (f: number, x: number, y: number) => f >= 8 && f <= 40 && y === Math.round(8 + 0.4 * (x - 4) + 0.1 * (f - 20)) && x >= 4 && x < 56;
    const { frames } = shot(50, () => null, 3);
    frames.forEach(({ planes: [luma] }, f) => luma.forEach((_, i) => wire(f, i % ACROSS, Math.floor(i / ACROSS)) && (luma[i] -= 2)));
    const s = whereSeen(frames, 0, 20, [[10, 18], [230, 110], [230, 140], [10, 50]]); // prettier-ignore
    expect(s.never).toBe(false);
    expect(Math.abs(s.first - 8)).toBeLessThanOrEqual(1);
    expect(Math.abs(s.last - 40)).toBeLessThanOrEqual(1);
    const xs = s.forms[20].flat().map(([x]) => x);
    expect(Math.min(...xs)).toBeLessThanOrEqual(4 * 7);
    expect(Math.max(...xs)).toBeGreaterThanOrEqual(4 * 53);
  });
});

describe("what rests for most of the shot and then leaves", () => {
  it("is seen until then, though it is what is there most often", () => {
    const { frames } = shot(60, (f, x, y) => {
      const left = 20 + Math.max(0, 2 * (f - 42));
      return box(x, y, left, 10, left + 12, 26) ? 150 + 9 * ((x - left + y) % 4) : null;
    });
    const s = whereSeen(frames, 0, 15, loop(18, 8, 34, 28));
    expect([s.never, s.first]).toEqual([false, 0]);
    expect(Math.abs(s.last - 59)).toBeLessThanOrEqual(2);
    expect(s.moves).toBeGreaterThan(60);
    // a box of some dozen cells, and no ghost of it where it had stood
    expect(s.box.x1 - s.box.x0).toBeLessThanOrEqual(4 * 17);
  });
});

describe("the outlines of cells", () => {
  it("go round what is set, holes among them, and are off by less than a cell", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(40), fc.nat(25), fc.integer({ min: 4, max: 15 }), fc.integer({ min: 4, max: 12 })), { minLength: 1, maxLength: 4 }),
        (boxes) => {
          const g = grid((x, y) => boxes.some(([u, v, w, h]) => box(x, y, u, v, u + w, v + h)));
          // with the inside on one hand the outlines' signed areas add up to that of the cells, but for the stairs
          const signed = ringsOf(g, 1).reduce(
            (s, r) => s + r.reduce((t, [x, y], i) => t + x * r[(i + 1) % r.length][1] - y * r[(i + 1) % r.length][0], 0) / 2,
            0,
          );
          const rim = ringsOf(g, 1).flat().length;
          expect(Math.abs(signed - count(g))).toBeLessThanOrEqual(0.75 * 4 * rim);
          const [xs, ys] = [0, 1].map((k) => loopRound(g, 1)!.map((p) => p[k]));
          expect(Math.min(...xs)).toBeLessThanOrEqual(Math.min(...boxes.map(([x]) => x)));
          expect(Math.max(...ys)).toBeGreaterThanOrEqual(Math.min(DOWN, Math.max(...boxes.map(([, y, , h]) => y + h))));
        },
      ),
    );
    // what noise leaves out of a form, and adds beside it, is not drawn
    const solid = grid((x, y) => box(x, y, 0, 8, 30, 30));
    const noisy = { ...solid, data: solid.data.map((v, i) => (i % 7 === 3 ? 0 : v)) };
    noisy.data[50] = 1;
    expect(tidyForm(noisy).data).toEqual(solid.data);
    expect(
      loopRound(
        grid(() => false),
        4,
      ),
    ).toBeNull();
    expect(ringsOf(grid((x, y) => box(x, y, 2, 3, 6, 8)), 4).map((r) => r.toSorted((a, b) => a[0] - b[0] || a[1] - b[1]))).toEqual([[[8, 12], [8, 32], [24, 12], [24, 32]]]); // prettier-ignore
  });
});

describe("where a thing is seen", () => {
  it("is measured from the frame it was outlined on, with the cleanest frames before and after", () => {
    // comes down from above between frames 8 and 24, is deepest at 16
    const depth = (f: number) => (f >= 8 && f <= 24 ? 20 - Math.abs(16 - f) * 2 : 0);
    const { frames } = shot(40, (f, x, y) => (y < depth(f) && x > 20 && x < 32 ? 30 : null));
    const s = whereSeen(frames, 100, 114, loop(18, 0, 34, 18));
    expect([s.never, s.first, s.last]).toEqual([false, 108, 124]);
    expect(Math.abs(s.worst - 116)).toBeLessThan(2);
    expect(s.clean.length).toBeGreaterThan(3);
    for (const c of s.clean) expect(c.frame < 108 || c.frame > 124).toBe(true);
    expect(s.clean.filter((c) => c.side === "before").every((c) => c.frame < 108)).toBe(true);
  });

  it("never ends for what never leaves", () => {
    const { frames } = shot(20, (_, x, y) => (box(x, y, 20, 10, 30, 25) ? 200 : null));
    expect(whereSeen(frames, 0, 5, loop(19, 9, 31, 26)).never).toBe(true);
  });

  it("says when something else passes there, and refuses an outline of nothing", () => {
    const { frames } = shot(40, (f, x, y) => (f < 8 && box(x, y, 20, 10, 32, 22) ? 220 : f > 25 && f < 34 && box(x, y, 22, 8, 30, 24) ? 20 : null));
    const s = whereSeen(frames, 0, 3, loop(18, 8, 34, 24));
    expect([s.first, s.last]).toEqual([0, 7]);
    expect(s.others).toEqual([[26, 33]]);
    expect(() => whereSeen(frames, 0, 3, [[1, 1], [1.2, 1], [1, 1.2]])).toThrow(/too small/); // prettier-ignore
  });

  it("knows a thing again where it has moved a little", () => {
    const { frames } = shot(2, (f, x, y) => (box(x, y, 20 + 5 * f, 12, 32 + 5 * f, 24) ? 150 + 8 * ((x - 5 * f) % 5) : null));
    const { frames: without } = shot(1, () => null, 7);
    const mask = {
      width: ACROSS,
      height: DOWN,
      data: Uint8Array.from({ length: ACROSS * DOWN }, (_, i) => (box(i % ACROSS, Math.floor(i / ACROSS), 20, 12, 32, 24) ? 1 : 0)),
    };
    expect(likeness(frames[0], frames[1], mask)).toBeGreaterThan(0.95);
    expect(likeness(frames[0], without[0], mask)).toBeLessThan(0.7);
  });
});

describe("a thing that reaches beyond the loop it was drawn round with", () => {
  it("is named with its frames", () => {
    // it grows to the right and back again
    const { frames } = shot(40, (f, x, y) => (f >= 10 && f <= 30 && box(x, y, 20, 10, 30 + Math.max(0, 10 - Math.abs(f - 20)), 26) ? 210 : null), 9);
    const loop = [[19, 9], [32, 9], [32, 27], [19, 27]].map(([x, y]) => [4 * x, 4 * y]); // prettier-ignore
    const s = whereSeen(frames, 0, 11, loop);
    expect([s.first, s.last]).toEqual([10, 30]);
    expect(s.beyond).toHaveLength(1);
    const [a, b] = s.beyond[0];
    expect(Math.abs(a - 14)).toBeLessThanOrEqual(2);
    expect(Math.abs(b - 26)).toBeLessThanOrEqual(2);
    const wide = [[19, 9], [42, 9], [42, 27], [19, 27]].map(([x, y]) => [4 * x, 4 * y]); // prettier-ignore
    expect(whereSeen(frames, 0, 11, wide).beyond).toEqual([]);
  });
});
