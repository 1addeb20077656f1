import fc from "fast-check";
import sharp from "sharp";
import { describe, expect, it } from "vitest";
import type { Mask } from "../document/mask";
import type { Outline } from "../document/geometry";
import { planeAlpha } from "./chroma";
import { random } from "../random";
import { boundaryOf, winding } from "./boundary";
import { halfContour } from "./contour";
import { coverage } from "./coverage";
import { signedDistance } from "./distance";
import { maskMatte } from "./mask";
import { softEdge } from "./edge";
import { over } from "./matte";
import { boxPolygon, ellipsePolygon, flattenOutline } from "./path";
import { YUV420 } from "../../../testkit/pictures";

const R = (w: number, h: number) => ({ x0: 0, y0: 0, x1: w, y1: h });
const sum = (a: Float64Array) => a.reduce((x, y) => x + y, 0);
const blob: Outline = [
  [30, 20, -14, 4, 16, -6],
  [82, 33, -5, -20, 8, 22],
  [60, 71, 20, 4, -18, -2],
  [22, 58],
];

describe("coverage", () => {
  it("has the closed-form areas: circle, turned ellipse, rounded box, polygon (shoelace)", () => {
    expect(sum(coverage(boundaryOf(ellipsePolygon(50.3, 49.8, 33.7, 33.7, 0)), R(100, 100)))).toBeCloseTo(Math.PI * 33.7 ** 2, 6);
    expect(sum(coverage(boundaryOf(ellipsePolygon(50, 50, 40, 12, 33)), R(100, 100)))).toBeCloseTo(Math.PI * 40 * 12, 6);
    const r = 0.6 * 20;
    expect(sum(coverage(boundaryOf(boxPolygon(50, 50, 60, 40, 20, 0.6)), R(100, 100)))).toBeCloseTo(60 * 40 - (4 - Math.PI) * r * r, 0);
    const tri = Float64Array.of(10.2, 5.1, 80.7, 33.3, 25.5, 90.9);
    const area = Math.abs(10.2 * (33.3 - 90.9) + 80.7 * (90.9 - 5.1) + 25.5 * (5.1 - 33.3)) / 2;
    expect(sum(coverage(boundaryOf(tri), R(100, 100)))).toBeCloseTo(area, 6);
  });
  it("is the same in every tile it is computed in, also where the shape leaves the tile", () => {
    const e = boundaryOf(flattenOutline(blob));
    const whole = coverage(e, R(100, 100));
    for (const t of [
      { x0: 20, y0: 10, x1: 55, y1: 40 },
      { x0: 40, y0: 0, x1: 70, y1: 100 },
      { x0: -10, y0: 30, x1: 30, y1: 60 },
    ]) {
      const part = coverage(e, t);
      const w = t.x1 - t.x0;
      for (let y = Math.max(0, t.y0); y < Math.min(100, t.y1); y++)
        for (let x = Math.max(0, t.x0); x < Math.min(100, t.x1); x++) {
          expect(Math.abs(part[(y - t.y0) * w + x - t.x0] - whole[y * 100 + x])).toBeLessThan(1e-9);
        }
    }
  });
  it("follows the non-zero rule where an outline crosses itself: a pentagram's middle is inside, a doubled loop counts once", () => {
    const star = Float64Array.from({ length: 10 }, (_, i) => {
      const t = (((i >> 1) * 144 - 90) * Math.PI) / 180;
      return 50 + 45 * (i & 1 ? Math.sin(t) : Math.cos(t));
    });
    const c = coverage(boundaryOf(star), R(100, 100));
    expect(c[50 * 100 + 50]).toBe(1);
    // area of {5/2}: 10·tan(π/10) / (3 − tan²(π/10)) · R² (closed form)
    const t = Math.tan(Math.PI / 10);
    expect(sum(c)).toBeCloseTo(((10 * t) / (3 - t * t)) * 45 * 45, 6);
    const eight = flattenOutline([
      [10, 10],
      [90, 90],
      [90, 10],
      [10, 90],
    ]);
    expect(sum(coverage(boundaryOf(eight), R(100, 100)))).toBeCloseTo(80 * 40, 6); // both lobes, though they wind against each other
    const twice = Float64Array.of(10, 10, 40, 10, 40, 40, 10, 40, 10, 10, 40, 10, 40, 40, 10, 40);
    expect(Math.max(...coverage(boundaryOf(twice), R(50, 50)))).toBe(1);
  });
  it("agrees with sharp drawing the same outline as SVG: mean α error below 0.5/255", async () => {
    const [w, h] = [100, 90];
    const d = blob.map((a, i) => {
      const b = blob[(i + 1) % blob.length];
      return `C${a[0] + (a[4] ?? 0)} ${a[1] + (a[5] ?? 0)} ${b[0] + (b[2] ?? 0)} ${b[1] + (b[3] ?? 0)} ${b[0]} ${b[1]}`;
    });
    // drawn at 8× and averaged, since its own anti-aliasing has few levels
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${w * 8}" height="${h * 8}" viewBox="0 0 ${w} ${h}"><path fill="#fff" d="M${blob[0][0]} ${blob[0][1]} ${d.join(" ")}Z"/></svg>`;
    const { data } = await sharp(Buffer.from(svg)).ensureAlpha().extractChannel(3).raw().toBuffer({ resolveWithObject: true });
    const ours = coverage(boundaryOf(flattenOutline(blob)), R(w, h));
    let err = 0;
    let edge = 0;
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        let s = 0;
        for (let j = 0; j < 8; j++) for (let i = 0; i < 8; i++) s += data[(y * 8 + j) * w * 8 + x * 8 + i];
        const e = Math.abs(s / 64 / 255 - ours[y * w + x]);
        err += e;
        if (ours[y * w + x] > 0 && ours[y * w + x] < 1) edge += e;
      }
    expect(err / (w * h)).toBeLessThan(0.5 / 255);
    expect(edge / ours.filter((v) => v > 0 && v < 1).length).toBeLessThan(1 / 255);
  });
});

describe("distance", () => {
  it("agrees with brute force over finely sampled edges, sign by winding number", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 2, max: 58, noNaN: true }), fc.double({ min: 2, max: 58, noNaN: true })), { minLength: 3, maxLength: 7 }),
        (pts) => {
          const e = boundaryOf(Float64Array.from(pts.flat()));
          const d = signedDistance(e, R(60, 60), 12);
          for (let k = 0; k < 40; k++) {
            const x = (k * 37) % 60;
            const y = (k * 23) % 60;
            let best = 12;
            for (let i = 0; i < e.length; i += 4)
              for (let t = 0; t <= 200; t++) {
                best = Math.min(
                  best,
                  Math.hypot(e[i] + ((e[i + 2] - e[i]) * t) / 200 - x - 0.5, e[i + 1] + ((e[i + 3] - e[i + 1]) * t) / 200 - y - 0.5),
                );
              }
            const inside = winding(e, x + 0.5, y + 0.5) !== 0;
            const got = d[y * 60 + x];
            expect(Math.abs(Math.abs(got) - best)).toBeLessThan(0.2);
            if (best > 0.3) expect(got > 0).toBe(inside);
          }
        },
      ),
      { numRuns: 40, seed: 11 },
    );
  });
  it("is the distance to the nearest edge to the last digit, whatever the tiles leave out", () => {
    // the closed form for a line segment, over whole-numbered polygons: collinear edges, spikes, crossings, edges met twice
    const exact = (e: ArrayLike<number>, x: number, y: number) => {
      let best = Infinity;
      for (let i = 0; i < e.length; i += 4) {
        const [dx, dy] = [e[i + 2] - e[i], e[i + 3] - e[i + 1]];
        const t = Math.min(1, Math.max(0, ((x - e[i]) * dx + (y - e[i + 1]) * dy) / (dx * dx + dy * dy || 1)));
        best = Math.min(best, Math.hypot(e[i] + t * dx - x, e[i + 1] + t * dy - y));
      }
      return best;
    };
    const rnd = random(8);
    const made = Array.from({ length: 60 }, (_, k) => Array.from({ length: 6 + 2 * (k % 6) }, () => Math.floor(rnd() * 13) * 4));
    for (const points of [[40, 34, 12, 38, 4, 22], [8, 8, 40, 8, 24, 8, 24, 40], ...made]) {
      const e = boundaryOf(Float64Array.from(points));
      const d = signedDistance(e, R(52, 52), 90);
      for (let i = 0; i < d.length; i += 7) {
        const want = e.length ? exact(e, (i % 52) + 0.5, Math.floor(i / 52) + 0.5) : 90;
        if (Math.abs(Math.abs(d[i]) - want) > 1e-9) expect([points, i, Math.abs(d[i])]).toEqual([points, i, want]);
      }
    }
  });
  it("is exact for a circle", () => {
    const d = signedDistance(boundaryOf(ellipsePolygon(40, 40, 20, 20, 0)), R(80, 80), 30);
    for (const [x, y] of [
      [40, 40],
      [59, 40],
      [10, 22],
      [70, 70],
      [40, 61],
    ])
      expect(d[y * 80 + x]).toBeCloseTo(Math.max(-30, 20 - Math.hypot(x + 0.5 - 40, y + 0.5 - 40)), 2);
  });
});

describe("masks", () => {
  const disc = (r: number, op: "add" | "cut" | "cross" = "add", cx = 50) => ({ kind: "ellipse" as const, op, center: [cx, 50], radii: [r, r] });
  const at = (m: Mask, x: number, y: number, w = 100) => over(maskMatte(m, 0, w, 100), R(w, 100))[y * w + x];
  it("without feather and grow is the coverage", () => {
    expect(over(maskMatte({ shapes: [disc(20)] }, 0, 100, 100), R(100, 100))).toEqual(
      coverage(boundaryOf(ellipsePolygon(50, 50, 20, 20, 0)), R(100, 100)),
    );
  });
  it("softens a shape by the normative curve of its distance", () => {
    const m: Mask = { shapes: [{ ...disc(20), feather: 10, grow: 3 }] };
    for (const x of [52, 66, 69, 72, 75, 79, 90]) {
      const d = 20 - Math.hypot(x + 0.5 - 50, 0.5);
      expect(at(m, x, 50)).toBeCloseTo(softEdge(d, 10, 3), 3);
    }
    expect(softEdge(0, 10, 0)).toBe(0.5);
    expect(softEdge(5, 10, 0)).toBe(1);
    expect(softEdge(-0.25, 0, 0)).toBeCloseTo(0.15625, 9); // a feather below 1 counts as 1
  });
  it("softens the joined mask from its α = ½ contour", () => {
    const m: Mask = { shapes: [disc(20), disc(20, "add", 70)], feather: 8, grow: -2 };
    expect(at(m, 60, 50)).toBe(1); // inside both: no edge between them
    const d = 20 - Math.hypot(30.5 - 50, 0.5);
    expect(at(m, 30, 50)).toBeCloseTo(softEdge(d, 8, -2), 2);
  });
  it("joins in order: add, cut, cross; then turns inside out", () => {
    expect(at({ shapes: [disc(30), disc(10, "cut")] }, 50, 50)).toBe(0);
    expect(at({ shapes: [disc(10, "cut"), disc(30)] }, 50, 50)).toBe(1);
    expect(at({ shapes: [disc(30), disc(30, "cross", 80)] }, 40, 50)).toBe(0);
    expect(at({ shapes: [disc(30), disc(30, "cross", 80)] }, 65, 50)).toBe(1);
    expect(at({ shapes: [disc(30)], invert: true }, 50, 50)).toBe(0);
    expect(at({ shapes: [disc(30)], invert: true }, 2, 2)).toBe(1);
  });
  it("covers the inside of an outline whichever way round it was drawn, and leaves out what is switched off", () => {
    const there: Mask = { shapes: [{ kind: "path", op: "add", points: blob, feather: 6 }] };
    const back = blob.toReversed().map((p) => (p.length === 2 ? [...p] : [p[0], p[1], p[4], p[5], p[2], p[3]]));
    const [a, b] = [there, { shapes: [{ ...there.shapes[0], points: back }] } as Mask].map((m) => over(maskMatte(m, 0, 100, 100), R(100, 100)));
    for (let i = 0; i < a.length; i++) expect(Math.abs(a[i] - b[i])).toBeLessThan(1e-6);
    expect(a[45 * 100 + 50]).toBe(1);
    expect(a[5 * 100 + 5]).toBe(0);
    expect(at({ shapes: [disc(30), { ...disc(10, "cut"), on: false }] }, 50, 50)).toBe(1);
    expect(sum(maskMatte({ shapes: [{ ...disc(30), on: false }] }, 0, 100, 100).data)).toBe(0);
  });
  it("does not take the picture's border for an edge", () => {
    const m: Mask = { shapes: [{ kind: "box", op: "add", center: [0, 50], size: [80, 60] }], feather: 20 };
    expect(at(m, 0, 50)).toBe(1);
    expect(at(m, 10, 50)).toBe(1);
  });
  it("mirrors", () => {
    const a = over(maskMatte({ shapes: [{ kind: "path", op: "add", points: blob, feather: 6 }] }, 0, 100, 100), R(100, 100));
    const mirrored = blob.map((p) => (p.length === 2 ? [100 - p[0], p[1]] : [100 - p[0], p[1], -p[2], p[3], -p[4], p[5]]));
    const b = over(maskMatte({ shapes: [{ kind: "path", op: "add", points: mirrored, feather: 6 }] }, 0, 100, 100), R(100, 100));
    for (let y = 0; y < 100; y++) for (let x = 0; x < 100; x++) expect(Math.abs(a[y * 100 + x] - b[y * 100 + 99 - x])).toBeLessThan(1e-9);
  });
  it("is painted: strokes lie over each other, erasing takes away, stretches of frames hold, at any scale", () => {
    const brush = { size: 20, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 };
    const dab = (x: number, more: object = {}) => ({ brush, path: [[x, 50]], ...more });
    const painted = (...strokes: object[]): Mask => ({ shapes: [{ kind: "painted", op: "add", strokes: strokes as never }] });
    const area = (m: Mask, n = 0, scale = 1) => sum(maskMatte(m, n, 100 * scale, 100 * scale, scale).data);
    expect(area(painted(dab(30), dab(70)))).toBeCloseTo(2 * Math.PI * 100, 5);
    expect(area(painted(dab(30), dab(30, { erase: true })))).toBeLessThan(12); // only the rim's parts are left: a·(1 − a)
    expect(at(painted(dab(30), dab(30, { erase: true })), 30, 50)).toBe(0);
    expect(at(painted(dab(30, { brush: { ...brush, opacity: 0.5 } }), dab(30, { brush: { ...brush, opacity: 0.5 } })), 30, 50)).toBeCloseTo(0.75, 9);
    expect([3, 4, 6, 7].map((n) => area(painted(dab(30, { frames: [4, 6] })), n) > 0)).toEqual([false, true, true, false]);
    expect(area(painted(dab(30)), 0, 2)).toBeCloseTo(4 * Math.PI * 100, 4);
    // a stroke more, on what was painted before, is what all together are
    const strokes = [dab(20), dab(35, { erase: true }), dab(50), dab(64)];
    for (const count of [2, 3, 4, 3]) {
      const fresh = painted(...(JSON.parse(JSON.stringify(strokes.slice(0, count))) as object[]));
      expect(maskMatte(painted(...strokes.slice(0, count)), 0, 100, 100)).toEqual(maskMatte(fresh, 0, 100, 100));
    }
    // grown and feathered from its half contour, like any mask
    const soft: Mask = { shapes: [{ kind: "painted", op: "add", strokes: [dab(50)] as never, grow: 4, feather: 6 }] };
    expect(at(soft, 63, 50)).toBeCloseTo(softEdge(10 - Math.hypot(13.5, 0.5), 6, 4), 1);
  });
  it("finds the ½ contour of a matte as closed edges", () => {
    const m = maskMatte({ shapes: [disc(20)] }, 0, 100, 100);
    const e = halfContour(m);
    let area = 0;
    for (let i = 0; i < e.length; i += 4) area += (e[i] * e[i + 3] - e[i + 2] * e[i + 1]) / 2;
    expect(Math.abs(area)).toBeCloseTo(Math.PI * 400, -1);
  });
});

describe("chroma α", () => {
  it("is ¼ ½ ¼ where co-sited and ½ ½ where midway, borders replicated", () => {
    const data = Float64Array.from({ length: 8 * 4 }, (_, i) => ((i * 7) % 13) / 13);
    const m = { ...R(8, 4), data, outside: 0 };
    const left = planeAlpha(m, YUV420, 1, "left", 8, 4);
    const L = (x: number, y: number) => data[y * 8 + Math.max(0, Math.min(7, x))];
    const want = (x: number, y: number) =>
      [0, 1].reduce((s, j) => s + 0.5 * (0.25 * L(2 * x - 1, 2 * y + j) + 0.5 * L(2 * x, 2 * y + j) + 0.25 * L(2 * x + 1, 2 * y + j)), 0);
    for (const [x, y] of [
      [0, 0],
      [1, 1],
      [3, 0],
    ])
      expect(left.data[(y - left.y0) * (left.x1 - left.x0) + x - left.x0]).toBeCloseTo(want(x, y), 12);
    const center = planeAlpha(m, YUV420, 1, "center", 8, 4);
    expect(center.data[1]).toBeCloseTo((data[2] + data[3] + data[10] + data[11]) / 4, 12);
    const top = planeAlpha(m, YUV420, 1, "topleft", 8, 4);
    expect(top.data[0]).toBeCloseTo(
      0.25 * (0.75 * data[0] + 0.25 * data[1]) + 0.75 * 0 + 0.5 * (0.75 * data[0] + 0.25 * data[1]) + 0.25 * (0.75 * data[8] + 0.25 * data[9]),
      12,
    );
  });
});

describe("outlines that touch, cross and repeat themselves", () => {
  /** Winding number of a point by the sum of the angles its corners are seen under (Sunday's "angle sum"), independent of edges and their order. */
  const turns = (p: number[][], x: number, y: number) => {
    let sum = 0;
    for (let i = 0; i < p.length; i++) {
      const [ax, ay] = [p[i][0] - x, p[i][1] - y];
      const [bx, by] = [p[(i + 1) % p.length][0] - x, p[(i + 1) % p.length][1] - y];
      sum += Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
    }
    return Math.round(sum / (2 * Math.PI));
  };
  const toSegment = (x: number, y: number, [ax, ay]: number[], [bx, by]: number[]) => {
    const l2 = (bx - ax) ** 2 + (by - ay) ** 2;
    const t = Math.min(1, Math.max(0, l2 ? ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / l2 : 0));
    return Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay));
  };
  const [w, h] = [26, 26];
  const rect = { x0: 0, y0: 0, x1: w, y1: h };
  const mask = (points: number[][], feather: number) => ({ shapes: [{ kind: "path" as const, op: "add" as const, points, feather }] });
  const checked = (points: number[][]) => {
    const edges = boundaryOf(flattenOutline(points));
    const distance = signedDistance(edges, rect, 40);
    const share = coverage(edges, rect);
    const soft = maskMatte(mask(points, 0.001), 0, w, h);
    for (let i = 0; i < w * h; i++) {
      const [x, y] = [(i % w) + 0.5, Math.floor(i / w) + 0.5];
      const inside = turns(points, x, y) !== 0;
      // beside an edge a pixel is partly covered, and on one that runs there and back it is on neither side
      if (points.some((p, k) => toSegment(x, y, p, points[(k + 1) % points.length]) < 0.75)) continue;
      expect([x, y, distance[i] > 0]).toEqual([x, y, inside]);
      expect([x, y, Math.round(share[i])]).toEqual([x, y, inside ? 1 : 0]);
      const at = soft.data[(Math.floor(y) - soft.y0) * (soft.x1 - soft.x0) + Math.floor(x) - soft.x0] ?? 0;
      const within = x > soft.x0 && x < soft.x1 && y > soft.y0 && y < soft.y1;
      expect([x, y, within ? Math.round(at) : 0]).toEqual([x, y, inside ? 1 : 0]);
    }
  };
  it.each([
    ["a loop within a loop, joined at one corner, wound alike", [[2, 2], [22, 2], [22, 22], [2, 22], [2, 2], [12, 4], [12, 12], [4, 12]]],
    ["the same, wound the other way", [[2, 2], [22, 2], [22, 22], [2, 22], [2, 2], [4, 12], [12, 12], [12, 4]]],
    ["two loops side by side that meet at a corner", [[12, 12], [2, 2], [2, 12], [12, 12], [22, 22], [22, 12]]],
    ["a bow tie whose halves meet at a corner of both", [[12, 12], [2, 4], [2, 20], [12, 12], [22, 4], [22, 20]]],
    ["the same outline twice", [[4, 4], [20, 4], [20, 20], [4, 20], [4, 4], [20, 4], [20, 20], [4, 20]]],
    ["an outline there and back again", [[4, 4], [20, 4], [20, 20], [4, 20], [20, 20], [20, 4]]],
    ["a corner on another edge", [[2, 2], [22, 2], [22, 22], [12, 2], [2, 22]]],
  ])("%s", (_, points) => checked(points)); // prettier-ignore
  it("anything on a grid, where corners and edges meet all the time (property)", () => {
    const corner = fc.tuple(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 0, max: 4 })).map(([x, y]) => [1 + 6 * x, 1 + 6 * y]);
    fc.assert(
      fc.property(fc.array(corner, { minLength: 3, maxLength: 12 }), (points) => {
        // a shape that is nothing but lines there and back has no inside, and edges of no length no direction
        const clean = points.filter((p, i) => p.some((v, k) => v !== points[(i + 1) % points.length][k]));
        if (clean.length >= 3) checked(clean);
      }),
      { numRuns: 120 },
    );
  });
});

describe("painted masks at the picture's border", () => {
  const stroke = (y: number) => ({ brush: { size: 40, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 }, path: [[-20, y], [100, y]] }); // prettier-ignore
  const painted = (more: object) => ({ shapes: [{ kind: "painted" as const, op: "add" as const, strokes: [stroke(4), stroke(20)] }], ...more });
  it("is no edge: a feather and a growth inward leave it as it is", () => {
    for (const more of [{ feather: 12 }, { grow: -5 }, { feather: 20, grow: -6 }]) {
      const own = { ...painted({}), shapes: [{ ...painted({}).shapes[0], ...more }] };
      for (const m of [maskMatte(painted(more), 0, 80, 60), maskMatte(own, 0, 80, 60)])
        for (const [x, y] of [[0, 0], [40, 0], [79, 0], [0, 10], [79, 12]]) expect([x, y, m.data[(y - m.y0) * (m.x1 - m.x0) + x - m.x0]]).toEqual([x, y, 1]); // prettier-ignore
    }
  });
});

describe("one feather over several hard shapes", () => {
  const [W, H] = [60, 40];
  const box = (x: number, op: "add" | "cut" | "cross" = "add", w = 20) => ({ kind: "box" as const, op, center: [x, 20], size: [w, 60] });
  /** The softened edge as docs/recipe.md has it, written anew. */
  const edge = (d: number, feather: number, grow: number) => {
    const t = Math.min(1, Math.max(0, (d + grow) / Math.max(feather, 1) + 0.5));
    return t * t * (3 - 2 * t);
  };
  const row = (mask: Mask) => [...over(maskMatte(mask, 0, W, H), R(W, H)).subarray(20 * W, 21 * W)];
  /** Distances to upright sides, positive between them; the boxes are higher than the picture. */
  const inside = (x: number, from: number, to: number) => Math.min(x - from, to - x);

  it.each([[6, 0], [2.5, 0], [0, 0.7], [9, -2]])("an edge with feather %s, growth %s moves by sixteenths of a pixel as smoothly as it is drawn", (feather, grow) => {
    for (let k = 0; k <= 32; k++) {
      const c = 28 + k / 16;
      const got = row({ shapes: [box(c)], feather, grow });
      for (let x = 0; x < W; x++) expect([c, x, got[x]]).toEqual([c, x, expect.closeTo(edge(inside(x + 0.5, c - 10, c + 10), feather, grow), 3)]);
    }
  }); // prettier-ignore

  it("goes by the larger distance where shapes are added, by the smaller where one is cut out or only what both cover stays", () => {
    const far = (x: number) => ({ a: inside(x, 10, 30), b: inside(x, 24, 44) });
    const ways: [string, Mask["shapes"], (d: { a: number; b: number }) => number][] = [
      ["add", [box(20), box(34)], ({ a, b }) => Math.max(a, b)],
      ["cut", [box(20), box(34, "cut")], ({ a, b }) => Math.min(a, -b)],
      ["cross", [box(20), box(34, "cross")], ({ a, b }) => Math.min(a, b)],
      ["a shape grown by itself", [box(20), { ...box(34, "cut"), grow: -2 }], ({ a, b }) => Math.min(a, -(b - 2))],
      ["cut from nothing", [box(34, "cut"), box(20)], ({ a }) => a],
    ];
    for (const [name, shapes, distance] of ways) {
      const got = row({ shapes, feather: 5, grow: 1 });
      for (let x = 0; x < W; x++) expect([name, x, got[x]]).toEqual([name, x, expect.closeTo(edge(distance(far(x + 0.5)), 5, 1), 9)]);
    }
  });

  it("is followed beyond the border of the picture, on every side alike", () => {
    const m = row({ shapes: [box(0)], feather: 8 });
    for (let x = 0; x < W; x++) expect([x, m[x]]).toEqual([x, expect.closeTo(edge(10 - (x + 0.5), 8, 0), 9)]);
  });

  it("has round corners outside that move as smoothly, turned by any angle", () => {
    // the distance to a rectangle: Euclid's beyond a corner, else to the nearest side
    const distance = (x: number, y: number, w: number, h: number) => {
      const [dx, dy] = [Math.abs(x) - w / 2, Math.abs(y) - h / 2];
      return dx > 0 || dy > 0 ? -Math.hypot(Math.max(dx, 0), Math.max(dy, 0)) : -Math.max(dx, dy);
    };
    for (const angle of [0, 17]) {
      const [cos, sin] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
      for (let k = 0; k <= 16; k++) {
        const c = [28 + k / 16, 20 - k / 32];
        const m = over(maskMatte({ shapes: [{ kind: "box", op: "add", center: c, size: [22, 14], angle }], feather: 7 }, 0, W, H), R(W, H));
        for (let i = 0; i < m.length; i++) {
          const [x, y] = [(i % W) + 0.5 - c[0], Math.floor(i / W) + 0.5 - c[1]];
          const d = distance(x * cos + y * sin, y * cos - x * sin, 22, 14);
          if (Math.abs(m[i] - edge(d, 7, 0)) > 1e-3) expect([angle, k, i, m[i]]).toEqual([angle, k, i, edge(d, 7, 0)]);
        }
      }
    }
  });
});
