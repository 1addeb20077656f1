import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import { composeFrame } from "../compose/compose";
import { createFrame, type Frame, type PixelFormat } from "../pixels/frame";
import { planeGrainOver } from "./across-planes";
import { type GrainStatistics, LAGS } from "./grain";
import { measureGrain } from "./measure-grain";

const SIDE = 2 * LAGS + 1;
const covarianceOf = (f: (dx: number, dy: number) => number) =>
  Array.from({ length: SIDE * SIDE }, (_, i) => f((i % SIDE) - LAGS, Math.floor(i / SIDE) - LAGS));
const WHITE = covarianceOf((dx, dy) => Number(dx === 0 && dy === 0));
const SOFT = covarianceOf((dx, dy) => Math.exp(-(dx * dx + dy * dy) / 3));
const GBR: PixelFormat = { ...YUV444, model: "rgb" };

function likeness(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    ab += a[i] * b[i];
    aa += a[i] * a[i];
    bb += b[i] * b[i];
  }
  return ab / Math.sqrt(aa * bb);
}

/** Luma weights of red, green and blue (Recommendation ITU-R BT.709-6, item 3.2), and what colour differences are divided by (3.3). */
const [KR, KG, KB] = [0.2126, 0.7152, 0.0722];
const [CB, CR] = [1.8556, 1.5748];
const POWER = KR * KR + KG * KG + KB * KB;
/** How alike a colour difference and luma are of noise that is as strong in R′, G′ and B′ and in each another one: by the weights alone. */
const ofWeights = (k: number) => (k - POWER) / Math.sqrt(POWER * (1 - 2 * k + POWER));

describe("grain of planes that have a share in each other's", () => {
  /** A grey ground with noise of σ = 4 codes in R′, G′ and B′ each. */
  function camera(format: PixelFormat, n: number): Frame {
    const f = createFrame(320, 240, format);
    const normal = normals(50 + n);
    const [w, h] = [320, 240];
    const diffs = [1, 2].map(() => new Float64Array(w * h));
    for (let i = 0; i < w * h; i++) {
      const [r, g, b] = [4 * normal(), 4 * normal(), 4 * normal()];
      const y = KR * r + KG * g + KB * b;
      f.planes[0].data[i] = Math.round(110 + y);
      diffs[0][i] = (b - y) / CB;
      diffs[1][i] = (r - y) / CR;
    }
    for (const p of [1, 2]) {
      const plane = f.planes[p];
      const s = w / plane.width;
      for (let y = 0; y < plane.height; y++)
        for (let x = 0; x < plane.width; x++) {
          let sum = 0;
          for (let j = 0; j < s; j++) for (let i = 0; i < s; i++) sum += diffs[p - 1][(y * s + j) * w + x * s + i];
          // of as many samples the mean, made as strong as one, so that rounding hides nothing of it
          plane.data[y * plane.width + x] = Math.round(128 + sum / s);
        }
    }
    return f;
  }

  it.each([
    ["4:4:4", YUV444],
    ["4:2:0", YUV420],
  ])("%s: noise of R′G′B′ gives colour differences what the matrix of BT.709 says of luma's: −0.55 and −0.44", (_, format) => {
    const pairs = [0, 1, 2].map((n) => [camera(format, n), camera(format, n + 40)] as const);
    const g = measureGrain(pairs, pairs, 1)!;
    expect(ofWeights(KB)).toBeCloseTo(-0.55, 2);
    expect(Math.abs(g.planes[1].likeFirst! - ofWeights(KB))).toBeLessThan(0.05);
    expect(Math.abs(g.planes[2].likeFirst! - ofWeights(KR))).toBeLessThan(0.05);
  });

  it("planes that have nothing of each other are told so", () => {
    const frame = (n: number) => {
      const f = createFrame(320, 240, YUV420);
      const normal = normals(900 + n);
      for (const { data } of f.planes) data.forEach((_, i) => (data[i] = Math.round(120 + 3 * normal())));
      return f;
    };
    const g = measureGrain([[frame(0), frame(1)]], [[frame(2), frame(3)]], 1)!;
    expect(g.planes.map((p) => p.likeFirst)).toEqual([undefined, undefined, undefined]);
  });

  it.each([
    ["4:4:4, white", { sx: 0, sy: 0 }, 0.7, WHITE, WHITE],
    ["4:2:0, soft luma", { sx: 1, sy: 1 }, -0.55, SOFT, WHITE],
    ["4:2:2, both soft", { sx: 1, sy: 0 }, 0.4, SOFT, covarianceOf((dx, dy) => Math.exp(-(dx * dx) / 0.8 - (dy * dy) / 3))],
  ])("%s: made noise is as alike, as strong and as soft as it is asked to be", (_, shift, likeFirst, first, own) => {
    const sigma: [number, number][] = [[0, 1]];
    const g: GrainStatistics = { planes: [{ sigma, covariance: first }, { sigma, covariance: own, likeFirst }], inTime: 0 }; // prettier-ignore
    const key = { seed: 3, layer: "l", plane: 0, n: 5 };
    const [w, h] = [240, 200];
    const made = (p: number, of: { sx: number; sy: number }) => {
      const [width, height] = [w << (shift.sx - of.sx), h << (shift.sy - of.sy)];
      const rows = { from: new Int32Array(height), to: new Int32Array(height).fill(width) };
      return planeGrainOver(g, { p, width, height, shift: of }, { ...key, plane: p }, { x0: 0, y0: 0, x1: width, y1: height }, false, rows);
    };
    const luma = made(0, { sx: 0, sy: 0 });
    const colour = made(1, shift);
    const means = Float64Array.from(colour, (_, i) => {
      const [x, y] = [(i % w) << shift.sx, Math.floor(i / w) << shift.sy];
      let s = 0;
      for (let j = 0; j < 1 << shift.sy; j++) for (let k = 0; k < 1 << shift.sx; k++) s += luma[(y + j) * (w << shift.sx) + x + k];
      return s;
    });
    expect(Math.abs(likeness(colour, means) - likeFirst)).toBeLessThan(0.03);
    expect(Math.abs(colour.reduce((s, v) => s + v * v, 0) / colour.length - 1)).toBeLessThan(0.05);
    const beside = likeness(colour.subarray(0, -1), colour.subarray(1));
    expect(Math.abs(beside - own[LAGS * SIDE + LAGS + 1])).toBeLessThan(0.08);
  });

  it.each(["exact", "quick"])("grey grain on a patch over R′G′B′ stays grey: %s", (quality) => {
    /** The same grain in all planes, as film and what was graded to grey have it. */
    const frame = (n: number) => {
      const f = createFrame(320, 240, GBR);
      const normal = normals(70 + n);
      const noise = Float64Array.from({ length: 320 * 240 }, () => 5 * normal());
      for (const { data } of f.planes) data.forEach((_, i) => (data[i] = Math.round(120 + noise[i])));
      return f;
    };
    const measured = measureGrain([[frame(0), frame(1)], [frame(4), frame(5)]], [[frame(2), frame(3)]], 1)!; // prettier-ignore
    const plate = createFrame(320, 240, GBR);
    plate.planes.forEach(({ data }) => data.fill(120));
    const composition = {
      recipe: recipeWith(
        [
          {
            id: "l",
            kind: "patch",
            in: 0,
            out: 9,
            source: { plate: "p" },
            mask: { shapes: [{ kind: "box", op: "add", center: [160, 120], size: [200, 160] }] },
            grain: { profile: "g" },
          },
        ],
        { profiles: { g: { data: "h" } } },
      ),
      n: 4,
      below: frame(8),
      pictures: { take: () => plate, plate: () => plate },
      canvas: { width: 320, height: 240, scale: 1, siting: "left" as const, quick: quality === "quick" },
      grains: new Map([["h", measured]]),
    };
    // quick pictures are quieted bit by bit as they play
    for (let played = 0; played < (quality === "quick" ? 40 : 0); played++) composeFrame(composition);
    const out = composeFrame(composition);
    let [grey, coloured, count] = [0, 0, 0];
    for (let y = 60; y < 180; y++)
      for (let x = 80; x < 240; x++, count++) {
        const [g, b, r] = out.planes.map((p) => p.data[y * 320 + x] - 120);
        grey += ((g + b + r) / 3) ** 2;
        coloured += ((b - g) ** 2 + (r - g) ** 2) / 2;
      }
    expect(Math.sqrt(grey / count)).toBeGreaterThan(4);
    // a seventh of it: what rounding and the likeness of 0.99 leave; independent noise would have 1.4 times as much
    expect(Math.sqrt(coloured / count)).toBeLessThan(1);
  });
});
