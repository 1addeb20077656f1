import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { solve } from "../follow/solve";
import { random } from "../random";
import { closedForm } from "./closed-form";

const [W, H] = [12, 9];
/** The rim of the pictures is known, all within is asked for. */
const open = Uint8Array.from({ length: W * H }, (_, i) => {
  const [x, y] = [i % W, Math.floor(i / W)];
  return x > 1 && x < W - 2 && y > 1 && y < H - 2 ? 1 : 0;
});

/** I = αF + (1 − α)B. */
function mixed(alpha: ArrayLike<number>, thing: (x: number, y: number) => number[], rest: (x: number, y: number) => number[]): Float32Array[] {
  return [0, 1, 2].map((p) =>
    Float32Array.from({ length: W * H }, (_, i) => {
      const [x, y] = [i % W, Math.floor(i / W)];
      return alpha[i] * thing(x, y)[p] + (1 - alpha[i]) * rest(x, y)[p];
    }),
  );
}

/** L as it stands in the paper, equation 12, an entry each; ε/|w| the variance by which colours may leave their line. */
function asWritten(planes: Float32Array[], variance: number): Float64Array {
  const n = W * H;
  const out = new Float64Array(n * n);
  for (let y = 1; y < H - 1; y++)
    for (let x = 1; x < W - 1; x++) {
      const at = [-1, 0, 1].flatMap((j) => [-1, 0, 1].map((i) => (y + j) * W + x + i));
      const mean = planes.map((p) => at.reduce((s, i) => s + p[i], 0) / 9);
      const spread = new Float64Array(9);
      for (let a = 0; a < 3; a++)
        for (let b = 0; b < 3; b++)
          spread[3 * a + b] = at.reduce((s, i) => s + (planes[a][i] - mean[a]) * (planes[b][i] - mean[b]), 0) / 9 + (a === b ? variance : 0);
      for (const i of at)
        for (const j of at) {
          const by = Float64Array.from(planes, (p, a) => p[j] - mean[a]);
          expect(solve(spread.slice(), by, 3)).toBe(true);
          const q = planes.reduce((s, p, a) => s + (p[i] - mean[a]) * by[a], 0);
          out[i * n + j] += (i === j ? 1 : 0) - (1 + q) / 9;
        }
    }
  return out;
}

describe("α in closed form (Levin, Lischinski & Weiss 2008)", () => {
  it("is what the equations of the paper give, written out and solved at once (property)", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const rnd = random(seed);
        const planes = [0, 1, 2].map(() => Float32Array.from({ length: W * H }, () => 40 + 160 * rnd()));
        const known = Float32Array.from({ length: W * H }, () => Math.round(rnd()));
        const L = asWritten(planes, 6);
        const asked = [...open.keys()].filter((i) => open[i]);
        const m = asked.length;
        const A = new Float64Array(m * m);
        const b = new Float64Array(m);
        asked.forEach((i, r) => {
          asked.forEach((j, c) => (A[r * m + c] = L[i * W * H + j]));
          for (let j = 0; j < W * H; j++) if (!open[j]) b[r] -= L[i * W * H + j] * known[j];
        });
        expect(solve(A, b, m)).toBe(true);
        const found = closedForm(planes, W, H, known, open);
        asked.forEach((i, r) => expect(Math.abs(found[i] - Math.min(1, Math.max(0, b[r])))).toBeLessThan(2e-3));
      }),
      { numRuns: 10 },
    );
  });
  it("is found again where the colours of thing and rest lie on a line each (theorem 1)", () => {
    const alpha = Float32Array.from({ length: W * H }, (_, i) => Math.min(1, Math.max(0, 0.5 + ((i % W) - 5.3 + 0.3 * Math.floor(i / W)) / 5)));
    const planes = mixed(
      alpha,
      (x) => [200 - x, 90 + x, 60],
      (_, y) => [60 + 2 * y, 80 + y, 150 + y],
    );
    const known = alpha.map((v, i) => (open[i] ? 0 : v));
    const found = closedForm(planes, W, H, known, open);
    for (let i = 0; i < alpha.length; i++) expect(Math.abs(found[i] - alpha[i])).toBeLessThan(0.03);
  });
  it("follows an edge in noise, and leaves what is known", () => {
    const normal = normals(4);
    const alpha = Float32Array.from({ length: W * H }, (_, i) => Math.min(1, Math.max(0, ((i % W) - 4.25) / 2)));
    const planes = mixed(
      alpha,
      () => [180, 100, 140],
      () => [70, 130, 120],
    ).map((p) => p.map((v) => v + 2 * normal()));
    const known = alpha.map((v, i) => (open[i] ? 0 : v));
    const found = closedForm(planes, W, H, known, open);
    for (let i = 0; i < alpha.length; i++) expect(Math.abs(found[i] - alpha[i])).toBeLessThan(open[i] ? 0.12 : 1e-9);
  });
});
