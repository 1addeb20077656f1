import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { HIGH, LONG, Street, WIDE } from "../../../testkit/street";
import { Colours, EVEN } from "./colours";
import { type Cut, heightOf, signedDistance, widthOf } from "./cut";
import { Cutter } from "./cutter";
import { edgeAlpha } from "./edge";
import { Ground } from "./ground";
import { DIRECTIONS, minCut } from "./min-cut";
import { learnPassing } from "./passing";

describe("the minimum cut", () => {
  const [W, H] = [3, 3];
  /** A grid of nodes, eight neighbours each, with capacities in the order of the arcs. */
  const grid = (caps: readonly number[]) => {
    const near = new Int32Array(8 * W * H).fill(-1);
    const capacity = new Int32Array(8 * W * H);
    for (let i = 0; i < W * H; i++)
      DIRECTIONS.forEach(([dx, dy], d) => {
        const [x, y] = [(i % W) + dx, Math.floor(i / W) + dy];
        if (x < 0 || y < 0 || x >= W || y >= H) return;
        near[8 * i + d] = y * W + x;
        capacity[8 * i + d] = caps[8 * i + d];
      });
    return { near, capacity };
  };
  /** What a division costs: arcs from the source's side to the sink's, what the source loses and the sink. */
  const cost = (side: ArrayLike<number>, near: Int32Array, capacity: Int32Array, terminal: Int32Array) => {
    let sum = 0;
    for (let i = 0; i < W * H; i++) {
      if (side[i] && terminal[i] < 0) sum -= terminal[i];
      if (!side[i] && terminal[i] > 0) sum += terminal[i];
      for (let d = 0; d < 8; d++) if (near[8 * i + d] >= 0 && side[i] && !side[near[8 * i + d]]) sum += capacity[8 * i + d];
    }
    return sum;
  };
  it("costs as little as the best of all divisions, tried one by one (property)", () => {
    const whole = fc.integer({ min: 0, max: 9 });
    fc.assert(
      fc.property(
        fc.array(whole, { minLength: 8 * W * H, maxLength: 8 * W * H }),
        fc.array(fc.integer({ min: -20, max: 20 }), { minLength: W * H, maxLength: W * H }),
        (caps, terms) => {
          const { near, capacity } = grid(caps);
          const terminal = Int32Array.from(terms);
          const found = cost(minCut(near, capacity.slice(), terminal.slice()), near, capacity, terminal);
          let least = Infinity;
          for (let k = 0; k < 1 << (W * H); k++) {
            const side = Array.from({ length: W * H }, (_, i) => (k >> i) & 1);
            least = Math.min(least, cost(side, near, capacity, terminal));
          }
          expect(found).toBe(least);
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe("colours", () => {
  it("have densities that add up to one, and what was never seen is not impossible", () => {
    const c = new Colours();
    for (let k = 0; k < 200; k++) c.add(100 + (k % 7), 120 + (k % 3), 130);
    let sum = 0;
    for (let a = 60; a < 150; a++) for (let b = 100; b < 145; b++) for (let d = 110; d < 150; d++) sum += c.at(a, b, d) - 0.02 * EVEN;
    expect(sum).toBeGreaterThan(0.97);
    expect(sum).toBeLessThan(0.99);
    expect(c.at(240, 20, 20)).toBeCloseTo(0.02 * EVEN, 12);
  });
  it("mix by shares", () => {
    const [a, b] = [new Colours(), new Colours()];
    a.add(50, 128, 128, 10);
    b.add(200, 128, 128, 3);
    a.mix(b, 0.25);
    expect(a.at(200, 128, 128) / a.at(50, 128, 128)).toBeCloseTo(1 / 3, 2);
    expect(a.total).toBe(10);
  });
});

describe("distances from a rim", () => {
  it("are right within a twelfth, less than 0 within (Borgefors 1986: chamfer 3, 4)", () => {
    const [w, h] = [41, 41];
    const disc = Uint8Array.from({ length: w * h }, (_, i) => (Math.hypot((i % w) - 20, Math.floor(i / w) - 20) <= 8 ? 1 : 0));
    const d = signedDistance(disc, w, h, 10);
    for (let i = 0; i < d.length; i++) {
      const truly = Math.hypot((i % w) - 20, Math.floor(i / w) - 20) - 8;
      if (Math.abs(truly) < 9) expect(Math.abs(d[i] - truly)).toBeLessThan(0.7 + 0.084 * Math.abs(truly));
      expect(d[i] < 0).toBe(disc[i] === 1);
    }
  });
});

describe("a boom before a street with walkers", () => {
  /** How much of the boom, or its shadow, and of what was cut out are the same, and how far α is off where either is. */
  const like = (street: Street, n: number, cut: Cut, truth = (x: number, y: number) => street.covers(n, x, y)) => {
    const alpha = edgeAlpha(cut);
    const w = widthOf(cut.rect);
    let [both, either, off] = [0, 0, 0];
    for (let y = 0; y < HIGH; y++)
      for (let x = 0; x < WIDE; x++) {
        const truly = truth(x, y);
        const [u, v] = [x - cut.rect.x0, y - cut.rect.y0];
        const mine = u >= 0 && v >= 0 && u < w && v < heightOf(cut.rect) ? alpha[v * w + u] / 255 : 0;
        if (truly > 0.5 && mine > 0.5) both++;
        if (truly > 0.5 || mine > 0.5) either++;
        off += Math.abs(truly - mine);
      }
    return { iou: both / either, off: off / either };
  };
  it.each([3, 8])("is followed by one rough loop, without its shadow and whoever passes (street %i)", (seed) => {
    const street = new Street(seed);
    const some = [0, 3, 7, 10, 13, 16, 19].map((n) => street.frame(n));
    const ground = new Ground(street.frame(99, { noise: 0, boom: false, walkers: false }), false, some);
    const others = new Colours();
    for (const f of some) learnPassing(others, ground, f);
    const at = 10;
    const found: number[] = [];
    for (const way of [1, -1]) {
      const cutter = new Cutter(ground, street.loop(at), others);
      for (let n = at; n >= 0 && n < LONG; n += way) {
        const { iou, off } = like(street, n, cutter.next(street.frame(n)));
        found.push(iou);
        expect(off).toBeLessThan(0.25);
      }
    }
    expect(found.reduce((a, b) => a + b) / found.length).toBeGreaterThan(0.9);
    expect(Math.min(...found)).toBeGreaterThan(0.75);
  });
  it("is followed from its very form, as somebody has corrected it, and nothing is added to that on its own frame", () => {
    const street = new Street(8);
    const some = [0, 3, 7, 10, 13, 16, 19].map((n) => street.frame(n));
    const ground = new Ground(street.frame(99, { noise: 0, boom: false, walkers: false }), false, some);
    const others = new Colours();
    for (const f of some) learnPassing(others, ground, f);
    // the end of the pole is taken away by hand
    const form = Uint8Array.from({ length: WIDE * HIGH }, (_, i) =>
      Number(i >= 12 * WIDE && street.covers(10, i % WIDE, Math.floor(i / WIDE)) > 0.5),
    );
    const cutter = new Cutter(ground, form, others);
    expect(cutter.next(street.frame(10)).inside).toEqual(form);
    for (let n = 11; n < 15; n++) expect(like(street, n, cutter.next(street.frame(n))).iou).toBeGreaterThan(0.8);
  });
  it.each([3, 8])("its shadow is followed by a rough loop of its own, wherever it falls, without the boom (street %i)", (seed) => {
    const street = new Street(seed, undefined, true);
    const some = [0, 3, 7, 10, 13, 16, 19].map((n) => street.frame(n));
    const ground = new Ground(street.frame(99, { noise: 0, boom: false, walkers: false }), false, some);
    const others = new Colours();
    for (const f of some) learnPassing(others, ground, f);
    const at = 10;
    const found: number[] = [];
    for (const way of [1, -1]) {
      const cutter = new Cutter(ground, street.form(at, 5, true), others, true);
      for (let n = at; n >= 0 && n < LONG; n += way) {
        const cut = cutter.next(street.frame(n));
        // where the boom itself hangs before it, there is no shadow to be seen
        found.push(like(street, n, cut, (x, y) => (street.covers(n, x, y) > 0 ? 0 : street.covers(n, x - 30, y - 6))).iou);
      }
    }
    expect(found.reduce((a, b) => a + b) / found.length).toBeGreaterThan(0.95);
    expect(Math.min(...found)).toBeGreaterThan(0.9);
  });
  it("is not found where nothing differs from the ground", () => {
    const street = new Street(5);
    const clean = street.frame(1, { boom: false, walkers: false });
    const ground = new Ground(street.frame(99, { noise: 0, boom: false, walkers: false }), false, [clean]);
    const cut = new Cutter(ground, [[100, 40], [140, 40], [140, 80], [100, 80]], new Colours()).next(clean); // prettier-ignore
    expect(cut.inside.reduce((a, b) => a + b, 0)).toBeLessThan(20);
  });
});
