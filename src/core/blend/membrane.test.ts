import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { random } from "../random";
import { ABSENT, FIXED, FREE, type Grid, spanMembrane } from "./membrane";

/** A grid whose free cells `shape` names; its outermost cells are fixed. */
function grid(
  width: number,
  height: number,
  shape: (x: number, y: number) => boolean,
  absent: (x: number, y: number) => boolean = () => false,
): Grid {
  const kind = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const inner = x > 0 && y > 0 && x < width - 1 && y < height - 1;
      kind[y * width + x] = absent(x, y) ? ABSENT : inner && shape(x, y) ? FREE : FIXED;
    }
  return { width, height, kind };
}

/** The discrete Laplace equation solved directly (Gaussian elimination with pivots): the judge. */
function direct({ width: w, kind }: Grid, rim: Float64Array, reach = Infinity): Float64Array {
  const free = [...kind.keys()].filter((i) => kind[i] === FREE);
  const at = new Map(free.map((i, k) => [i, k]));
  const rows = free.map((i, k) => {
    const row = new Float64Array(free.length + 1);
    row[k] = 1 / (reach * reach); // u − reach²·Δu = 0, over reach²
    for (const j of [i - 1, i + 1, i - w, i + w]) {
      if (kind[j] === ABSENT) continue;
      row[k] += 1;
      if (kind[j] === FREE) row[at.get(j)!] -= 1;
      else row[free.length] += rim[j];
    }
    return row;
  });
  for (let c = 0; c < free.length; c++) {
    let p = c;
    for (let r = c + 1; r < free.length; r++) if (Math.abs(rows[r][c]) > Math.abs(rows[p][c])) p = r;
    [rows[c], rows[p]] = [rows[p], rows[c]];
    for (let r = 0; r < free.length; r++) {
      if (r === c || rows[r][c] === 0) continue;
      const k = rows[r][c] / rows[c][c];
      for (let q = c; q <= free.length; q++) rows[r][q] -= k * rows[c][q];
    }
  }
  const out = rim.slice();
  free.forEach((i, k) => (out[i] = rows[k][free.length] / rows[k][k]));
  return out;
}

const worst = (a: Float64Array, b: Float64Array, kind: Uint8Array) =>
  a.reduce((m, v, i) => (kind[i] === FREE ? Math.max(m, Math.abs(v - b[i])) : m), 0);

describe("a screened membrane", () => {
  const disc = grid(23, 23, (x, y) => (x - 11) ** 2 + (y - 11) ** 2 < 90);
  const open = grid(20, 18, (x, y) => x > 3 && y < 14, (x, y) => y === 0 || x === 19); // prettier-ignore
  it.each([
    ["a disc, far", disc, 12],
    ["a disc, near", disc, 2],
    ["at the picture's border", open, 5],
  ])("%s: is what the equation's direct solution is", (_, g, reach) => {
    const rnd = random(4);
    const rim = Float64Array.from({ length: g.kind.length }, (_, i) => (g.kind[i] === FIXED ? 20 * rnd() - 6 : 0));
    const judge = direct(g, rim.slice(), reach);
    expect(spanMembrane(g, rim, 1e-4, reach)).toBeLessThanOrEqual(1e-4);
    expect(worst(rim, judge, g.kind)).toBeLessThan(5e-3);
  });

  it("lies between 0 and its rim (property)", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1e6 }),
        fc.double({ min: 0.6, max: 300, noNaN: true }),
        fc.double({ min: 0.2, max: 1, noNaN: true }),
        (seed, reach, dense) => {
          const rnd = random(seed);
          const g = grid(14, 12, () => rnd() < dense);
          const rim = Float64Array.from({ length: g.kind.length }, (_, i) => (g.kind[i] === FIXED ? 50 * rnd() - 20 : 0));
          const known = [0, ...rim.filter((_, i) => g.kind[i] === FIXED)];
          spanMembrane(g, rim, 1e-3, reach);
          for (let i = 0; i < rim.length; i++)
            if (g.kind[i] === FREE) {
              expect(rim[i]).toBeGreaterThanOrEqual(Math.min(...known));
              expect(rim[i]).toBeLessThanOrEqual(Math.max(...known));
            }
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe("membrane", () => {
  it.each([
    ["a box", grid(17, 14, () => true)],
    ["a disc", grid(21, 21, (x, y) => (x - 10) ** 2 + (y - 10) ** 2 < 72)],
    ["a thin crooked line", grid(24, 20, (x, y) => Math.abs(x - y - 2 * Math.sin(y)) < 1.6)],
    ["a disc with known spots in it", grid(22, 22, (x, y) => (x - 10) ** 2 + (y - 10) ** 2 < 90 && (x * 7 + y * 3) % 11 > 0)],
    [
      "the picture's corner",
      grid(
        18,
        18,
        (x, y) => x + y < 20,
        (x, y) => x === 0 || y === 0,
      ),
    ],
  ])("is what a direct solution of Laplace's equation gives, over %s", (_, g) => {
    const rnd = random(4);
    const rim = Float64Array.from(g.kind, () => 255 * rnd());
    const judge = direct(g, rim);
    const left = spanMembrane(g, rim, 1e-5);
    expect(left).toBeLessThan(1e-4);
    expect(worst(rim, judge, g.kind)).toBeLessThan(1e-3);
  });

  it("never leaves the range of its rim, whatever the area (maximum principle)", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 8, max: 60 }), fc.integer({ min: 8, max: 60 }), (seed, w, h) => {
        const rnd = random(seed);
        const share = 0.3 + 0.6 * rnd();
        const g = grid(w, h, () => rnd() < share);
        const rim = Float64Array.from(g.kind, (k) => (k === FREE ? 1e9 : 100 * rnd() - 50));
        spanMembrane(g, rim, 0.5);
        let [low, high] = [Infinity, -Infinity];
        g.kind.forEach((k, i) => {
          if (k !== FIXED) return;
          low = Math.min(low, rim[i]);
          high = Math.max(high, rim[i]);
        });
        return g.kind.every((k, i) => k !== FREE || (rim[i] >= low && rim[i] <= high));
      }),
      { numRuns: 60 },
    );
  });

  it("carries on a slope as it is, since a slope is harmonic", () => {
    const g = grid(40, 30, (x, y) => (x - 20) ** 2 / 300 + (y - 15) ** 2 / 150 < 1);
    const slope = (i: number) => 3 * (i % 40) - 2 * Math.floor(i / 40) + 7;
    const v = Float64Array.from(g.kind, (k, i) => (k === FREE ? 0 : slope(i)));
    spanMembrane(g, v, 1e-6);
    g.kind.forEach((k, i) => k === FREE && expect(v[i]).toBeCloseTo(slope(i), 3));
  });

  it("is 0 where nothing around is known, and leaves a grid without free cells alone", () => {
    const g = grid(
      12,
      12,
      () => true,
      (x, y) => x === 0 || y === 0 || x === 11 || y === 11,
    );
    const v = new Float64Array(144).fill(9);
    expect(spanMembrane(g, v)).toBe(0);
    expect(v[5 * 12 + 5]).toBe(0);
    expect(
      spanMembrane(
        grid(5, 5, () => false),
        v,
      ),
    ).toBe(0);
  });
});
