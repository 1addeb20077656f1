import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import { composeFrame } from "../compose/compose";
import { FigureTally } from "../compose/figures";
import type { PatchLayer } from "../document/layer";
import { rgbToYcbcr } from "../pixels/colour";
import { createFrame, type Frame, planeShift, type Rect } from "../pixels/frame";
import { random } from "../random";
import { averaged, type GrainStatistics, grainText, kernelOf, LAGS, readGrain, sigmaAt } from "./grain";
import { measureGrain } from "./measure-grain";
import { quietPlane } from "./quiet";
import { surroundOf } from "./ring";
import { grainOver } from "./synthesis";

const SIDE = 2 * LAGS + 1;
const covarianceOf = (f: (dx: number, dy: number) => number) =>
  Array.from({ length: SIDE * SIDE }, (_, i) => f((i % SIDE) - LAGS, Math.floor(i / SIDE) - LAGS));
const WHITE = covarianceOf((dx, dy) => Number(dx === 0 && dy === 0));
/** What a 4:2:0 camera's interpolation and a low-pass leave: falls off with the distance. */
const SOFT = covarianceOf((dx, dy) => Math.exp(-(dx * dx + dy * dy) / 2.6));

/** Mean, variance and likeness at lags of a field. */
function measured(data: Float64Array, w: number, h: number) {
  const mean = data.reduce((a, b) => a + b, 0) / data.length;
  const at = (dx: number, dy: number) => {
    let [s, n] = [0, 0];
    for (let y = 0; y < h - dy; y++) for (let x = 0; x < w - dx; x++, n++) s += (data[y * w + x] - mean) * (data[(y + dy) * w + x + dx] - mean);
    return s / n;
  };
  const variance = at(0, 0);
  return { mean, variance, like: (dx: number, dy: number) => at(dx, dy) / variance };
}

describe("grain that is made", () => {
  const key = { seed: 7, layer: "l", plane: 0, n: 12 };
  const rect = { x0: 100, y0: 40, x1: 500, y1: 340 };
  it.each([
    ["white", WHITE],
    ["soft", SOFT],
    ["sideways", covarianceOf((dx, dy) => Math.exp(-Math.abs(dx) / 1.2) * Number(dy === 0))],
  ])("%s: has mean 0, variance 1 and the likeness of neighbours that is asked for", (_, covariance) => {
    const grain = { sigma: [[0, 1]] as [number, number][], covariance };
    const m = measured(grainOver(grain, { inTime: 0 }, key, rect), 400, 300);
    expect(Math.abs(m.mean)).toBeLessThan(0.02);
    expect(Math.abs(m.variance - 1)).toBeLessThan(0.03);
    for (const [dx, dy] of [
      [1, 0],
      [0, 1],
      [2, 0],
      [0, 2],
      [3, 0],
      [1, 1],
      [4, 0],
    ])
      // prettier-ignore
      expect(Math.abs(m.like(dx, dy) - covariance[(dy + LAGS) * SIDE + dx + LAGS])).toBeLessThan(0.05);
  });

  it("a kernel has unit energy, and that of white noise is a point", () => {
    for (const covariance of [WHITE, SOFT]) expect(kernelOf({ sigma: [[0, 1]], covariance }).reduce((s, k) => s + k * k, 0)).toBeCloseTo(1, 9);
    expect(kernelOf({ sigma: [[0, 1]], covariance: WHITE })[LAGS * SIDE + LAGS]).toBeCloseTo(1, 6);
  });

  it("a sample's grain is the same whatever rectangle is asked for (property)", () => {
    const grain = { sigma: [[0, 1]] as [number, number][], covariance: SOFT };
    const all = grainOver(grain, { inTime: 0.3 }, key, rect);
    const side = fc.integer({ min: 0, max: 60 });
    fc.assert(
      fc.property(side, side, fc.integer({ min: 1, max: 50 }), fc.integer({ min: 1, max: 50 }), (x, y, w, h) => {
        const part = grainOver(grain, { inTime: 0.3 }, key, { x0: 100 + x, y0: 40 + y, x1: 100 + x + w, y1: 40 + y + h });
        for (let j = 0; j < h; j++) for (let i = 0; i < w; i++) expect(part[j * w + i]).toBe(all[(y + j) * 400 + x + i]);
      }),
      { numRuns: 40 },
    );
  });

  it("holds on in time as it is asked to, and is another for each layer, plane and seed", () => {
    const grain = { sigma: [[0, 1]] as [number, number][], covariance: WHITE };
    const like = (a: Float64Array, b: Float64Array) => a.reduce((s, v, i) => s + v * b[i], 0) / a.length;
    for (const rho of [0, 0.3, 0.6]) {
      const [a, b] = [12, 13].map((n) => grainOver(grain, { inTime: rho }, { ...key, n }, rect));
      // eight taps of ρ^k, normalised
      const expected = rho ? (rho * (1 - rho ** 14)) / (1 - rho ** 16) : 0;
      expect(Math.abs(like(a, b) - expected)).toBeLessThan(0.02);
    }
    const a = grainOver(grain, { inTime: 0 }, key, rect);
    for (const other of [{ layer: "k" }, { plane: 1 }, { seed: 8 }, { n: 13 }])
      expect(Math.abs(like(a, grainOver(grain, { inTime: 0 }, { ...key, ...other }, rect)))).toBeLessThan(0.02);
  });

  it("means of its samples have the spread that is said of them", () => {
    const grain = { sigma: [[0, 1]] as [number, number][], covariance: SOFT };
    const field = grainOver(grain, { inTime: 0 }, key, rect);
    for (const m of [2, 4]) {
      const means: number[] = [];
      for (let y = 0; y + m <= 300; y += m)
        for (let x = 0; x + m <= 400; x += m) {
          let s = 0;
          for (let j = 0; j < m; j++) for (let i = 0; i < m; i++) s += field[(y + j) * 400 + x + i];
          means.push(s / (m * m));
        }
      const spread = Math.sqrt(means.reduce((s, v) => s + v * v, 0) / means.length);
      expect(Math.abs(spread / averaged(grain, m) - 1)).toBeLessThan(0.06);
    }
  });

  it("profiles are read as they were kept, between their levels linearly; what is none is refused in a sentence", () => {
    const g: GrainStatistics = { planes: [{ sigma: [[40, 2], [200, 4]], covariance: SOFT }], inTime: 0.1 }; // prettier-ignore
    expect(readGrain(grainText(g))).toEqual(g);
    const s = sigmaAt(g.planes[0], 4);
    expect([0, 160, 480, 800, 1023].map((v) => Math.round(1000 * s(v)) / 1000)).toEqual([8, 8, 12, 16, 16]);
    for (const bad of ["", "{}", "[]", '{"planes":[]}', JSON.stringify({ ...g, inTime: 3 })])
      expect(() => readGrain(bad)).toThrow("measure the grain again");
  });
});

describe("grain that is measured", () => {
  const format = { ...YUV420 };
  /** Frames of a still ground with grain of a known kind; from x = 260 on something moves. */
  function footage(o: { sigma: (v: number) => number; covariance: number[]; rho: number; chroma: number; unit?: number }) {
    const unit = o.unit ?? 1;
    const like = unit === 1 ? format : { ...format, bits: 10 };
    const grain = { sigma: [[0, 1]] as [number, number][], covariance: o.covariance };
    const rnd = random(5);
    const phases = Array.from({ length: 100 }, () => 6 * rnd());
    return (n: number): Frame => {
      const f = createFrame(400, 240, like);
      f.planes.forEach((plane, p) => {
        const field = grainOver(
          grain,
          { inTime: o.rho },
          { seed: 3, layer: "x", plane: p, n: 100 + n },
          { x0: 0, y0: 0, x1: plane.width, y1: plane.height },
        );
        for (let y = 0, i = 0; y < plane.height; y++)
          for (let x = 0; x < plane.width; x++, i++) {
            const ground = p ? 126 : 40 + Math.floor(x / 100) * 45 + 8 * Math.sin(y / 11 + x / 7);
            const moves = !p && x >= 260 && y > 120 ? 40 * Math.sin(x / 5 + phases[Math.abs(n) % 100]) : 0;
            const v = ground + moves;
            plane.data[i] = Math.round(unit * (v + (p ? o.chroma : o.sigma(v)) * field[i]));
          }
      });
      return f;
    };
  }
  const pairs = (f: (n: number) => Frame, lag: number) => [0, 11, 23].map((n) => [f(n), f(n + lag)] as const);
  it.each([
    ["white, rising with the light", (v: number) => 1 + v / 60, WHITE, 0, 1],
    ["soft", () => 3, SOFT, 0, 1],
    ["that holds on in time", () => 2.5, WHITE, 0.5, 1],
    ["strong, of 10 bits", () => 8, SOFT, 0.2, 4],
  ])("%s: σ by level, likeness of neighbours and in time come out", (_, sigma, covariance, rho, unit) => {
    const f = footage({ sigma, covariance, rho, chroma: 1.5, unit });
    const g = measureGrain(pairs(f, 40), pairs(f, 1), unit)!;
    for (const [level, s] of g.planes[0].sigma)
      // brighter ones are of what moves as well
      if (level < 130) expect(Math.abs(s / Math.sqrt(sigma(level) ** 2 + 1 / 12 / unit ** 2) - 1)).toBeLessThan(0.07);
    expect(g.planes[0].sigma.length).toBeGreaterThanOrEqual(2);
    expect(Math.abs(g.planes[1].sigma[0][1] - 1.52)).toBeLessThan(0.12);
    for (const [dx, dy] of [
      [1, 0],
      [0, 1],
      [2, 0],
      [1, 1],
      [3, 0],
      [4, 4],
    ])
      // prettier-ignore
      expect(Math.abs(g.planes[0].covariance[(dy + LAGS) * SIDE + dx + LAGS] - covariance[(dy + LAGS) * SIDE + dx + LAGS])).toBeLessThan(0.05);
    expect(Math.abs(g.inTime - rho)).toBeLessThan(0.07);
  });

  it("where all that is bright moves, it is that of what is less bright", () => {
    const still = footage({ sigma: () => 2, covariance: WHITE, rho: 0, chroma: 1 });
    const f = (n: number) => {
      const out = still(n);
      const { data } = out.planes[0];
      for (let y = 0; y < 240; y++) for (let x = 330; x < 400; x++) data[y * 400 + x] = 225 + Math.round(25 * Math.sin((x + 7 * n) / 4 + y / 5));
      return out;
    };
    const [luma] = measureGrain(pairs(f, 40), pairs(f, 1), 1)!.planes;
    for (const v of [60, 120, 225]) expect(Math.abs(sigmaAt(luma, 1)(v) / 2 - 1)).toBeLessThan(0.1);
  });

  it("in a box it is that of the box; a picture without any has none", () => {
    const f = footage({ sigma: (v) => (v < 100 ? 2 : 5), covariance: WHITE, rho: 0, chroma: 1 });
    const g = measureGrain(pairs(f, 40), pairs(f, 1), 1, { x0: 10, y0: 10, x1: 80, y1: 60 })!;
    expect(Math.abs(g.planes[0].sigma[0][1] - 2.02)).toBeLessThan(0.12);
    const flat = footage({ sigma: () => 0, covariance: WHITE, rho: 0, chroma: 0 });
    expect(
      measureGrain(
        pairs(flat, 40).map(([a]) => [a, a] as const),
        [],
        1,
      ),
    ).toBeNull();
  });
});

describe("a picture without its noise", () => {
  it("of even ground keeps a fraction of the noise, as much as it says; an edge stays where it is", () => {
    const [w, h] = [200, 120];
    const normal = normals(3);
    const clean = (x: number) => (x < 100 ? 80 : 140);
    const data = Uint8Array.from({ length: w * h }, (_, i) => Math.round(clean(i % w) + 3 * normal()));
    const q = quietPlane({ width: w, height: h, data }, () => 3);
    const rms = (from: number, to: number, of: ArrayLike<number>) => {
      let [s, n] = [0, 0];
      for (let y = 10; y < h - 10; y++) for (let x = from; x < to; x++, n++) s += (of[y * w + x] - clean(x)) ** 2;
      return Math.sqrt(s / n);
    };
    expect(rms(20, 80, q.data)).toBeLessThan(0.2 * rms(20, 80, data));
    let said = 0;
    for (let y = 10; y < h - 10; y++) for (let x = 20; x < 80; x++) said += q.left[y * w + x] / ((h - 20) * 60);
    expect(Math.sqrt(said) / (rms(20, 80, q.data) / 3)).toBeGreaterThan(0.6);
    expect(Math.sqrt(said) / (rms(20, 80, q.data) / 3)).toBeLessThan(1.4);
    // across the edge the step is there within two samples
    const mean = (x: number) => Array.from({ length: 100 }, (_, y) => q.data[(y + 10) * w + x]).reduce((a, b) => a + b, 0) / 100;
    expect(mean(98)).toBeLessThan(84);
    expect(mean(101)).toBeGreaterThan(136);
  });
});

describe("the surroundings of a mask", () => {
  it("are as far as they are: against the distances to all its samples (property)", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 19 }), fc.integer({ min: 0, max: 13 })), { minLength: 1, maxLength: 6 }), (points) => {
        const data = new Float64Array(20 * 14);
        for (const [x, y] of points) data[y * 20 + x] = 0.5;
        const s = surroundOf({ x0: 5, y0: 3, x1: 25, y1: 17, data }, 33, 20, 8);
        for (let y = s.y0; y < s.y1; y++)
          for (let x = s.x0; x < s.x1; x++) {
            const nearest = Math.min(...points.map(([px, py]) => (x - 5 - px) ** 2 + (y - 3 - py) ** 2));
            expect(s.far[(y - s.y0) * (s.x1 - s.x0) + x - s.x0]).toBe(nearest);
          }
      }),
      { numRuns: 60 },
    );
  });
});

/** A textured picture in some light: `light` changes what is there, plane by plane, before noise and rounding. */
function scene(format: typeof YUV420, light: (p: number, v: number, x: number, y: number) => number, noise: number, seed: number): Frame {
  const f = createFrame(320, 200, format);
  const normal = normals(seed);
  f.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(format, p);
    for (let y = 0; y < plane.height; y++)
      for (let x = 0; x < plane.width; x++) {
        const [lx, ly] = [x << sx, y << sy];
        const there =
          p === 0 ? 110 + 40 * Math.sin(lx / 23) * Math.cos(ly / 17) + 12 * Math.sin(lx / 3.1 + ly / 2.3) : 120 + 6 * Math.sin(lx / 40 + p);
        plane.data[y * plane.width + x] = Math.min(255, Math.max(0, Math.round(light(p, there, lx, ly) + noise * normal())));
      }
  });
  return f;
}
const SAME = (_: number, v: number) => v;
const box = (more: Partial<PatchLayer>): PatchLayer => ({
  id: "l",
  kind: "patch",
  in: 0,
  out: 9,
  source: { plate: "p" },
  mask: { shapes: [{ kind: "box", op: "add", center: [160, 100], size: [120, 80] }] },
  ...more,
});
/** Mean difference in the patch of what is laid from what would be there, by plane and place: left, middle, right third. */
function off(out: Frame, truth: Frame) {
  return out.planes.map((plane, p) => {
    const { sx, sy } = planeShift(out.format, p);
    return [0, 1, 2].map((third) => {
      let [s, n] = [0, 0];
      for (let y = 65 >> sy; y < 135 >> sy; y++)
        for (let x = (104 + 37 * third) >> sx; x < (104 + 37 * (third + 1)) >> sx; x++, n++)
          s += plane.data[y * plane.width + x] - truth.planes[p].data[y * plane.width + x];
      return s / n;
    });
  });
}
const compose = (l: PatchLayer, below: Frame, plate: Frame, n = 4, grains?: Map<string, GrainStatistics>, tally?: FigureTally) =>
  composeFrame({
    figures: tally && { layer: l.id, tally },
    recipe: recipeWith([l], { profiles: { g: { data: "h" } } }),
    n,
    below,
    pictures: { take: () => plate, plate: () => plate },
    canvas: { width: 320, height: 200, scale: 1, siting: "left" },
    grains,
  });
const worst = (v: number[][]) => Math.max(...v.flat().map(Math.abs));

/**
 * Light that is so many times as strong, and of another tint: R′, G′ and B′ are so many times as strong, and by the linear matrix of
 * BT.709 so are luma about black and its colour differences about their neutral value.
 */
const exposed =
  (gain: number | ((x: number) => number), cb = 0, cr = 0) =>
  (p: number, v: number, x: number) => {
    const g = typeof gain === "number" ? gain : gain(x);
    return p === 0 ? 16 + g * (v - 16) : 128 + g * (v - 128) + (p === 1 ? cb : cr);
  };

describe("the light of a patch", () => {
  // the truth has noise as well: smooth colour that is rounded without any is off by up to half a code in places
  const plate = scene(YUV420, SAME, 0.8, 1);
  for (const gain of [0.6, 0.985, 1.02, 1.3])
    for (const [cb, cr] of [
      [0, 0],
      [-9, 6],
    ])
      // prettier-ignore
      it(`whole: a gain of ${gain} and chroma off by ${cb}, ${cr} are found`, () => {
        const lit = exposed(gain, cb, cr);
        const [below, truth] = [scene(YUV420, lit, 0.8, 2), scene(YUV420, lit, 0.8, 3)];
        // a change of colour by less than half a code is lost where nothing is laid that it could hide in
        for (const by of ["whole", "rim"] as const) {
          const [luma, ...chroma] = off(compose(box({ light: { by } }), below, plate), truth);
          expect(worst([luma])).toBeLessThan(by === "whole" ? 0.25 : 0.4);
          expect(worst(chroma)).toBeLessThan(0.5);
        }
      });

  it("rim: a gain that rises from left to right is followed inside, where that of the whole cannot", () => {
    const lit = exposed((x) => 0.85 + (0.3 * x) / 320);
    const [below, truth] = [scene(YUV444, lit, 0.8, 2), scene(YUV444, lit, 0.8, 3)];
    const flat = scene(YUV444, SAME, 0.8, 1);
    expect(worst(off(compose(box({ light: { by: "rim" } }), below, flat), truth))).toBeLessThan(0.6);
    expect(worst(off(compose(box({ light: { by: "whole" } }), below, flat), truth))).toBeGreaterThan(2);
  });

  it("strong colours keep their hue in other light, whatever their share of the rim: R′G′B′ three quarters as strong, by the matrix of BT.709", () => {
    // blocks of strong colours, of which the patch hides others than most of its rim shows
    const colours = [[180, 60, 50], [60, 150, 70], [50, 70, 170], [170, 160, 60]]; // prettier-ignore
    const blocks = (gain: number, noise: number, seed: number) => {
      const f = createFrame(320, 200, YUV444);
      const normal = normals(seed);
      for (let y = 0, i = 0; y < 200; y++)
        for (let x = 0; x < 320; x++, i++) {
          const [r, g, b] = colours[(x > 110 && x < 210 ? 2 : 0) + (Math.floor(y / 25) % 2)].map((c) => (gain * c) / 255);
          const code = rgbToYcbcr(r, g, b, { matrix: "bt709", range: "limited" }, 8);
          f.planes.forEach((plane, p) => (plane.data[i] = Math.round(code[p] + noise * normal())));
        }
      return f;
    };
    for (const by of ["whole", "rim"] as const)
      expect(worst(off(compose(box({ light: { by } }), blocks(0.75, 0.8, 2), blocks(1, 0.8, 1)), blocks(0.75, 0, 3)))).toBeLessThan(0.6);
  });

  it("somebody who passes before a third of the rim pulls neither", () => {
    const lit = exposed(0.9);
    const [below, truth] = [scene(YUV420, lit, 0.8, 2), scene(YUV420, lit, 0.8, 3)];
    const normal = random(9);
    for (let y = 0; y < 200; y++) for (let x = 200; x < 262; x++) below.planes[0].data[y * 320 + x] = 30 + 60 * normal();
    for (const by of ["whole", "rim"] as const)
      expect(worst(off(compose(box({ light: { by } }), below, plate), truth).map((v) => v.slice(0, 2)))).toBeLessThan(0.6);
  });

  it("a plain coloured thing that stands at the rim leaves no glow in the patch", () => {
    const lit = exposed((x) => 0.85 + (0.2 * x) / 320, 3, 3);
    const [below, truth] = [scene(YUV420, lit, 0.8, 2), scene(YUV420, lit, 0.8, 3)];
    // flat, about as bright as what it hides, and red
    for (const [p, v] of [110, 95, 190].entries()) {
      const k = p ? 1 : 0;
      for (let y = 20 >> k; y < 54 >> k; y++) for (let x = 110 >> k; x < 220 >> k; x++) below.planes[p].data[y * (320 >> k) + x] = v;
    }
    for (const by of ["rim", "whole"] as const) {
      const [, cb, cr] = off(compose(box({ light: { by } }), below, plate), truth);
      expect(worst([cb, cr])).toBeLessThan(0.75);
    }
    expect(worst([off(compose(box({ light: { by: "rim" } }), below, plate), truth)[0]])).toBeLessThan(1.2);
  });

  it("who is held out of the mask has no say, though most of what surrounds the patch is theirs", () => {
    const lit = exposed(0.9);
    const [below, truth] = [scene(YUV420, lit, 0.8, 2), scene(YUV420, lit, 0.8, 3)];
    // a pane that is a third brighter, and shows the like, passes before all of the rim but its left third
    const them: Rect = { x0: 144, y0: 20, x1: 300, y1: 180 };
    const luma = below.planes[0].data;
    for (let y = them.y0; y < them.y1; y++)
      for (let i = y * 320 + them.x0; i < y * 320 + them.x1; i++) luma[i] = Math.round(16 + 1.3 * (luma[i] - 16));
    const alpha = new Uint8Array(156 * 160).fill(255);
    const cutouts = new Map([["h", new Map([[4, { rect: them, alpha: () => alpha }]])]]);
    const mask = (held: boolean): PatchLayer["mask"] => ({
      shapes: [
        { kind: "box", op: "add", center: [160, 100], size: [120, 80] } as const,
        ...(held ? [{ kind: "cutout", op: "cut", data: "h" } as const] : []),
      ],
    });
    const run = (by: "whole" | "rim", held: boolean) =>
      composeFrame({
        recipe: recipeWith([box({ light: { by }, mask: mask(held) })]),
        n: 4,
        below,
        pictures: { take: () => plate, plate: () => plate },
        canvas: { width: 320, height: 200, scale: 1, siting: "left", cutouts },
      });
    // what is left of the patch is its left third
    for (const by of ["whole", "rim"] as const) expect(Math.abs(off(run(by, true), truth)[0][0])).toBeLessThan(0.3);
    expect(Math.abs(off(run("rim", false), truth)[0][0])).toBeGreaterThan(1);
  });

  it("does nothing in the same light, at strength 0, and half of it at half", () => {
    const below = scene(YUV420, SAME, 0.8, 2);
    const truth = scene(YUV420, SAME, 0.8, 3);
    expect(worst(off(compose(box({ light: { by: "whole" } }), below, plate), truth))).toBeLessThan(0.15);
    const brighter = scene(YUV420, exposed(1.2), 0.8, 2);
    const off0 = off(compose(box({ light: { by: "whole", strength: 0 } }), brighter, plate), truth)[0];
    expect(worst([off0])).toBeLessThan(0.15);
    const half = scene(YUV420, exposed(1.1), 0.8, 4);
    expect(worst(off(compose(box({ light: { by: "whole", strength: 0.5 } }), brighter, plate), half))).toBeLessThan(0.4);
  });

  it("of 10 bits is that of 8 bits, four times as fine", () => {
    const format = { ...YUV444, bits: 10 };
    const low = (light: Parameters<typeof scene>[1], seed: number) => {
      const f = createFrame(320, 200, format);
      const eight = scene(YUV444, light, 0.8, seed);
      f.planes.forEach((plane, p) => plane.data.forEach((_, i) => (plane.data[i] = 4 * eight.planes[p].data[i])));
      return f;
    };
    const lit = exposed(0.8, 5, 5);
    expect(worst(off(compose(box({ light: { by: "whole" } }), low(lit, 2), low(SAME, 1)), low(lit, 2)))).toBeLessThan(1.2);
  });
});

describe("light where codes go by a logarithm", () => {
  const plate = scene(YUV444, SAME, 0.8, 1);
  const run = (l: PatchLayer, below: Frame, adds: boolean) =>
    composeFrame({
      recipe: recipeWith([l]),
      n: 4,
      below,
      pictures: { take: () => plate, plate: () => plate },
      canvas: { width: 320, height: 200, scale: 1, siting: "left", adds },
    });
  // a stop more or less adds the same to every code; contrast that a lamp takes away lessens them about black
  it.each([
    ["a stop that adds 14 codes", (p: number, v: number) => (p ? v : v + 14)],
    ["one that takes 9 away, with less contrast", (p: number, v: number) => (p ? v - 4 : 16 + 0.8 * (v - 16) - 9)],
  ])("%s is followed as a gain and an offset, where a gain alone is not enough", (_, light) => {
    for (const by of ["whole", "rim"] as const) {
      const below = scene(YUV444, light, 0.8, 2);
      const truth = scene(YUV444, light, 0.8, 1);
      expect(worst(off(run(box({ light: { by } }), below, true), truth))).toBeLessThan(0.3);
      expect(worst(off(run(box({ light: { by: "whole" } }), below, false), truth))).toBeGreaterThan(1.2);
    }
  });
});

describe("the seam of a patch", () => {
  it("a constant difference goes at the rim and, with a long reach, everywhere; with a short one it falls off inward", () => {
    const plate = scene(YUV444, SAME, 0, 1);
    const below = scene(YUV444, (_, v) => v + 6, 0, 1);
    expect(worst(off(compose(box({ seam: { strength: 1, reach: 2000 } }), below, plate), below))).toBeLessThan(0.2);
    const out = compose(box({ seam: { strength: 1, reach: 8 } }), below, plate);
    const at = (x: number) => out.planes[0].data[100 * 320 + x] - plate.planes[0].data[100 * 320 + x];
    // along the middle of a long side u = 6·cosh((y − 100)/λ)/cosh(40/λ), which is 6·e^(−d/λ) near the rim (screened equation in one dimension)
    const across = (y: number) => out.planes[0].data[y * 320 + 160] - plate.planes[0].data[y * 320 + 160];
    for (const d of [1, 4, 8, 16]) expect(Math.abs(across(60 + d) - 6 * Math.exp(-(d + 1) / 8))).toBeLessThan(0.8);
    expect(at(160)).toBe(0);
  });

  it("with the patch's tone kept, the footage gives way as far as the soft edge goes: 6·(1 − α)² of a difference of 6 is left of 6·(1 − α)", () => {
    const plate = scene(YUV444, SAME, 0, 1);
    const below = scene(YUV444, (_, v) => v + 6, 0, 1);
    const soft = (more: Partial<PatchLayer>) => {
      const l = box(more);
      return compose({ ...l, mask: { ...l.mask, feather: 24 } }, below, plate).planes[0].data;
    };
    const [plain, kept] = [soft({}), soft({ seam: { strength: 1, reach: 2000, tone: "patch" } })];
    let between = 0;
    for (let y = 0; y < 200; y += 3)
      for (let x = 0; x < 320; x += 3) {
        const i = y * 320 + x;
        const [d, e] = [plain[i] - plate.planes[0].data[i], kept[i] - plate.planes[0].data[i]];
        if (d > 1 && d < 5) between++;
        // both are rounded
        expect(Math.abs(e - (d * d) / 6)).toBeLessThan(1.6);
      }
    expect(between).toBeGreaterThan(50);
  });

  it("differences below a threshold are left", () => {
    const plate = scene(YUV444, SAME, 0, 1);
    const below = scene(YUV444, (_, v) => v + 3, 0, 1);
    expect(worst(off(compose(box({ seam: { strength: 1, over: 4 } }), below, plate), plate))).toBe(0);
    expect(worst(off(compose(box({ seam: { strength: 1, over: 2, reach: 2000 } }), below, plate), below))).toBeLessThan(0.2);
  });

  it("filled from its rim alone, an even ground comes back, whatever the picture shows", () => {
    const even = scene(YUV444, () => 90, 0, 1);
    const strange = scene(YUV444, (p, v, x, y) => v + 30 * Math.sin(x * y + p), 0, 1);
    expect(worst(off(compose(box({ seam: { fill: "rim" } }), even, strange), even))).toBeLessThan(0.05);
  });
});

describe("the grain of a patch", () => {
  const grain: GrainStatistics = { planes: [{ sigma: [[0, 3]], covariance: WHITE }], inTime: 0 };
  const grains = new Map([["h", grain]]);
  /** Variance in the patch: of the difference from the noiseless scene, and half of that of the differences of two frames. */
  function power(l: PatchLayer, plate: Frame, light = SAME as (p: number, v: number, x: number, y: number) => number) {
    const truth = scene(YUV444, light, 0, 0);
    const [a, b] = [3, 4].map((n) => compose(l, scene(YUV444, light, 3, 10 + n), plate, n, grains).planes[0].data);
    let [space, time, n] = [0, 0, 0];
    for (let y = 65; y < 135; y++)
      for (let x = 105; x < 215; x++, n++) {
        space += (a[y * 320 + x] - truth.planes[0].data[y * 320 + x]) ** 2;
        time += (a[y * 320 + x] - b[y * 320 + x]) ** 2 / 2;
      }
    return { space: space / n / 9, time: time / n / 9 };
  }
  const even = () => 100;

  it("of a held picture it moves, and is as strong as that of the footage, in space and in time", () => {
    const held = scene(YUV444, even, 3, 1);
    const bare = power(box({}), held, even);
    expect(bare.time).toBe(0);
    const p = power(box({ grain: { profile: "g" } }), held, even);
    expect(p.space).toBeGreaterThan(0.9);
    expect(p.space).toBeLessThan(1.1);
    expect(p.time).toBeGreaterThan(0.85);
    expect(p.time).toBeLessThan(1.18);
  });

  it("of a held frame with structure as fine as the grain it moves as well, from the mean of the frames around; what passes there has no part in it", () => {
    const ground = (p: number, v: number, x: number, y: number) =>
      p ? v : 100 + 9 * Math.sin(x * 1.9 + Math.sin(y * 1.3)) + 9 * Math.sin(y * 2.1 + x);
    const l = box({ source: { take: "a", hold: 40 }, in: 0, out: 90, grain: { profile: "g" } });
    const recipe = recipeWith([l], { shot: { take: "a", in: 0, out: 90 }, profiles: { g: { data: "h" } } });
    const film = new Map<number, Frame>();
    const frame = (n: number) => {
      if (!film.has(n)) {
        // in every other frame it is a little brighter, and in some something stands before the left part
        const f = scene(YUV444, (p, v, x, y) => (p ? v : 16 + (n % 2 ? 1.03 : 1) * (ground(p, v, x, y) - 16)), 3, 100 + n);
        if (n === 31 || n === 49) for (let y = 0; y < 200; y++) for (let x = 100; x < 150; x++) f.planes[0].data[y * 320 + x] = 30;
        film.set(n, f);
      }
      return film.get(n)!;
    };
    const canvas = { width: 320, height: 200, scale: 1, siting: "left" as const };
    const [a, b] = [4, 6].map(
      (n) =>
        composeFrame({ recipe, n, below: frame(n), pictures: { take: (_, k) => frame(k), plate: () => frame(0) }, canvas, grains }).planes[0].data,
    );
    const truth = scene(YUV444, ground, 0, 0).planes[0].data;
    for (const [x0, x1] of [
      [105, 145],
      [155, 215],
    ]) {
      // prettier-ignore
      let [time, off, n] = [0, 0, 0];
      for (let y = 65; y < 135; y++)
        for (let x = x0; x < x1; x++, n++) {
          time += (a[y * 320 + x] - b[y * 320 + x]) ** 2 / 2;
          off += (a[y * 320 + x] + b[y * 320 + x]) / 2 - truth[y * 320 + x];
        }
      expect(time / n / 9).toBeGreaterThan(0.75);
      expect(time / n / 9).toBeLessThan(1.1);
      expect(Math.abs(off / n)).toBeLessThan(0.4);
    }
  });

  it("is not doubled on a picture that moves by itself", () => {
    const l = box({ source: { take: "a", slip: 1 }, grain: { profile: "g" } });
    const truth = scene(YUV444, even, 0, 0);
    const out = compose(l, scene(YUV444, even, 3, 13), scene(YUV444, even, 3, 5), 3, grains).planes[0].data;
    let s = 0;
    for (let y = 65; y < 135; y++) for (let x = 105; x < 215; x++) s += (out[y * 320 + x] - truth.planes[0].data[y * 320 + x]) ** 2 / (70 * 110 * 9);
    expect(s).toBeGreaterThan(0.9);
    expect(s).toBeLessThan(1.1);
  });

  it("follows its strength", () => {
    const held = scene(YUV444, even, 0, 1);
    for (const strength of [0, 0.5, 2]) {
      const { time } = power(box({ grain: { profile: "g", strength } }), held, even);
      expect(Math.abs(Math.sqrt(time) - strength)).toBeLessThan(0.08 * Math.max(0.3, strength));
    }
  });
});

describe("grain that an encoder carries on", () => {
  const rect = { x0: 0, y0: 0, x1: 192, y1: 160 };
  const grain = { sigma: [[0, 2], [255, 2]] as [number, number][], covariance: WHITE }; // prettier-ignore
  const key = { seed: 4, layer: "l", plane: 0 };
  const likeness = (a: Float64Array, b: Float64Array) => a.reduce((s, v, i) => s + v * b[i], 0) / Math.sqrt(a.reduce((s, v) => s + v * v, 0) * b.reduce((s, v) => s + v * v, 0)); // prettier-ignore
  it.each([
    [0.3, 0],
    [0.6, 0.5],
    [0.9, 0.85],
  ])("likeness %s from frame to frame and %s after six: made so, gone after two epochs, of variance 1 in every frame", (inTime, held) => {
    const at = (n: number) => grainOver(grain, { inTime, held }, { ...key, n }, rect);
    for (const from of [0, 13, 23]) {
      const first = at(from);
      expect(Math.abs(first.reduce((s, v) => s + v * v, 0) / first.length - 1)).toBeLessThan(0.03);
      expect(Math.abs(likeness(first, at(from + 1)) - inTime)).toBeLessThan(0.05);
      expect(Math.abs(likeness(first, at(from + 6)) - held)).toBeLessThan(0.1);
      expect(Math.abs(likeness(first, at(from + 60)))).toBeLessThan(0.03);
    }
  });
  it("is found in footage that has it", () => {
    const film = (n: number) => {
      const f = createFrame(192, 160, YUV444);
      const noise = grainOver(grain, { inTime: 0.7, held: 0.6 }, { ...key, n }, rect);
      for (const p of f.planes) for (let i = 0; i < noise.length; i++) p.data[i] = Math.round(120 + 3 * noise[i]);
      return f;
    };
    const pairs = (lag: number) => [0, 7, 15, 31].map((n) => [film(n), film(n + lag)] as const);
    const g = measureGrain(pairs(60), pairs(1), 1, undefined, pairs(6))!;
    expect(Math.abs(g.planes[0].sigma[0][1] - 3)).toBeLessThan(0.2);
    expect(Math.abs(g.inTime - 0.7)).toBeLessThan(0.08);
    expect(Math.abs(g.held! - 0.6)).toBeLessThan(0.1);
    expect(readGrain(grainText(g))).toEqual(g);
  });
});

describe("how far off a patch still is", () => {
  const dimmed = exposed(0.94);
  const grains = new Map([["h", { planes: [{ sigma: [[0, 2], [255, 2]] as [number, number][], covariance: WHITE }], inTime: 0 }]]); // prettier-ignore
  const told = (more: Partial<PatchLayer>) => {
    const tally = new FigureTally();
    compose(box(more), scene(YUV420, dimmed, 2, 5), scene(YUV420, SAME, 2, 1), 4, grains, tally);
    return tally.figures;
  };
  it("says what a light that changed makes of it, and that it is gone once it is followed", () => {
    const bare = told({});
    // 6 % of what lies over black is some 6 codes at this picture's mean
    expect(bare.light).toBeGreaterThan(4);
    expect(bare.edge).toBeGreaterThan(4);
    expect(bare.grain).toBe(0);
    for (const by of ["whole", "rim"] as const) {
      const lit = told({ light: { by } });
      expect(lit.light).toBeLessThan(0.6);
      expect(lit.edge).toBeLessThan(1.6);
    }
    const half = told({ light: { by: "whole", strength: 0.5 } });
    expect(half.light! / bare.light!).toBeGreaterThan(0.4);
    expect(half.light! / bare.light!).toBeLessThan(0.65);
  });
  it("says how much of the grain moves", () => {
    expect(told({ grain: { profile: "g" } }).grain).toBeGreaterThan(0.7);
    expect(told({ grain: { profile: "g", strength: 0.5 } }).grain! / told({ grain: { profile: "g" } }).grain!).toBeCloseTo(0.5, 2);
  });
  it("says that an edge is gone where its seam is taken off, and what it was before", () => {
    const off = told({ seam: { strength: 1 } });
    expect(off.light).toBeGreaterThan(4);
    expect(off.edge).toBeLessThan(1.2);
  });
});
