/**
 * Curves through points drawn by hand. Source: P. J. Schneider, “An Algorithm for Automatically Fitting Digitized Curves”,
 * *Graphics Gems*, Academic Press 1990: least squares for the arms' lengths along given end directions, the points' places
 * on the curve improved by Newton's method, and where that is not enough the run is cut at its farthest point.
 */
import type { Point } from "../document/geometry";

type Vec = readonly [number, number];
type Cubic = [number, number, number, number, number, number, number, number];

const B = [(t: number) => (1 - t) ** 3, (t: number) => 3 * t * (1 - t) ** 2, (t: number) => 3 * t * t * (1 - t), (t: number) => t ** 3];

/** Places of points along their run, 0–1 by length. */
function byLength(run: readonly Vec[]): number[] {
  const along = [0];
  for (let i = 1; i < run.length; i++) along.push(along[i - 1] + Math.hypot(run[i][0] - run[i - 1][0], run[i][1] - run[i - 1][1]));
  const all = along[along.length - 1] || 1;
  return along.map((v) => v / all);
}

/** The cubic through both ends of a run that leaves along `leave` and arrives from `arrive` (unit vectors away from the ends). */
function bySquares(run: readonly Vec[], at: readonly number[], leave: Vec, arrive: Vec): Cubic {
  const [p, q] = [run[0], run[run.length - 1]];
  let [c00, c01, c11, x0, x1] = [0, 0, 0, 0, 0];
  run.forEach((r, i) => {
    const [b0, b1, b2, b3] = B.map((f) => f(at[i]));
    const [a0x, a0y, a1x, a1y] = [leave[0] * b1, leave[1] * b1, arrive[0] * b2, arrive[1] * b2];
    const [dx, dy] = [r[0] - p[0] * (b0 + b1) - q[0] * (b2 + b3), r[1] - p[1] * (b0 + b1) - q[1] * (b2 + b3)];
    c00 += a0x * a0x + a0y * a0y;
    c01 += a0x * a1x + a0y * a1y;
    c11 += a1x * a1x + a1y * a1y;
    x0 += a0x * dx + a0y * dy;
    x1 += a1x * dx + a1y * dy;
  });
  const det = c00 * c11 - c01 * c01;
  const chord = Math.hypot(q[0] - p[0], q[1] - p[1]);
  let [l, r] = Math.abs(det) > 1e-12 ? [(x0 * c11 - x1 * c01) / det, (c00 * x1 - c01 * x0) / det] : [0, 0];
  // the paper's way out where the squares say nothing of use (Wu & Barsky)
  if (l < 1e-6 * chord || r < 1e-6 * chord || !Number.isFinite(l + r)) l = r = chord / 3;
  return [p[0], p[1], p[0] + leave[0] * l, p[1] + leave[1] * l, q[0] + arrive[0] * r, q[1] + arrive[1] * r, q[0], q[1]];
}

const on = (c: Cubic, t: number): Vec => {
  const b = B.map((f) => f(t));
  return [b[0] * c[0] + b[1] * c[2] + b[2] * c[4] + b[3] * c[6], b[0] * c[1] + b[1] * c[3] + b[2] * c[5] + b[3] * c[7]];
};

/** One step of Newton's method for the place on the curve that lies nearest to a point. */
function nearer(c: Cubic, [x, y]: Vec, t: number): number {
  const d = (k: number) => 3 * ((c[k + 2] - c[k]) * (1 - t) ** 2 + 2 * (c[k + 4] - c[k + 2]) * t * (1 - t) + (c[k + 6] - c[k + 4]) * t * t);
  const dd = (k: number) => 6 * ((c[k + 4] - 2 * c[k + 2] + c[k]) * (1 - t) + (c[k + 6] - 2 * c[k + 4] + c[k + 2]) * t);
  const [qx, qy] = on(c, t);
  const [dx, dy, ex, ey] = [d(0), d(1), dd(0), dd(1)];
  const below = dx * dx + dy * dy + (qx - x) * ex + (qy - y) * ey;
  return Math.abs(below) < 1e-12 ? t : Math.min(1, Math.max(0, t - ((qx - x) * dx + (qy - y) * dy) / below));
}

/** One cubic for a whole run, as good as it gets along its end directions. */
export function fitRun(run: readonly Vec[], leave: Vec, arrive: Vec, rounds = 30): Cubic {
  let at = byLength(run);
  let c = bySquares(run, at, leave, arrive);
  for (let k = 0; k < rounds; k++) {
    at = run.map((p, i) => nearer(c, p, at[i]));
    c = bySquares(run, at, leave, arrive);
  }
  return c;
}

function unit(x: number, y: number): Vec {
  const length = Math.hypot(x, y) || 1;
  return [x / length, y / length];
}

/** The direction of a run about point `i`, from `reach` points before to as many after. */
const along = (run: readonly Vec[], i: number, reach: number): Vec => {
  const [a, b] = [run[Math.max(0, i - reach)], run[Math.min(run.length - 1, i + reach)]];
  return unit(b[0] - a[0], b[1] - a[1]);
};

function fitOpen(run: readonly Vec[], leave: Vec, arrive: Vec, off: number): Cubic[] {
  if (run.length === 2) {
    const [p, q] = run;
    const third = Math.hypot(q[0] - p[0], q[1] - p[1]) / 3;
    return [[p[0], p[1], p[0] + leave[0] * third, p[1] + leave[1] * third, q[0] + arrive[0] * third, q[1] + arrive[1] * third, q[0], q[1]]];
  }
  let at = byLength(run);
  let c = bySquares(run, at, leave, arrive);
  let far = { i: run.length >> 1, d: Infinity };
  for (let k = 0; k < 8; k++) {
    far = { i: run.length >> 1, d: 0 };
    run.forEach((p, i) => {
      const [x, y] = on(c, at[i]);
      const d = Math.hypot(p[0] - x, p[1] - y);
      if (d > far.d && i > 0 && i < run.length - 1) far = { i, d };
    });
    if (far.d <= off) return [c];
    if (far.d > 8 * off) break;
    at = run.map((p, i) => nearer(c, p, at[i]));
    c = bySquares(run, at, leave, arrive);
  }
  const [tx, ty] = along(run, far.i, 3);
  return [...fitOpen(run.slice(0, far.i + 1), leave, [-tx, -ty], off), ...fitOpen(run.slice(far.i), [tx, ty], arrive, off)];
}

/** Points at an even distance along a closed loop, from its first point. */
function evenly(loop: readonly Vec[], apart: number): Vec[] {
  const closed = [...loop, loop[0]];
  const total = closed.slice(1).reduce((s, p, i) => s + Math.hypot(p[0] - closed[i][0], p[1] - closed[i][1]), 0);
  // a small loop gets many points too, else its own roundness would look like corners
  const count = Math.max(60, Math.round(total / apart));
  const out: Vec[] = [];
  let [i, walked] = [0, 0];
  for (let k = 0; k < count; k++) {
    const want = (k * total) / count;
    let step = Math.hypot(closed[i + 1][0] - closed[i][0], closed[i + 1][1] - closed[i][1]);
    while (walked + step < want && i < closed.length - 2) {
      walked += step;
      i++;
      step = Math.hypot(closed[i + 1][0] - closed[i][0], closed[i + 1][1] - closed[i][1]);
    }
    const t = step ? (want - walked) / step : 0;
    out.push([closed[i][0] + (closed[i + 1][0] - closed[i][0]) * t, closed[i][1] + (closed[i + 1][1] - closed[i][1]) * t]);
  }
  return out;
}

/** A turn sharper than this, in degrees, within `CORNER_REACH` even steps to either side is a corner. */
const CORNER = 55;
const CORNER_REACH = 4;

/** Places of a closed loop of even points at which it turns sharply; of neighbours only the sharpest. */
function corners(loop: readonly Vec[]): number[] {
  const n = loop.length;
  const at = (i: number) => loop[((i % n) + n) % n];
  const turn = loop.map((p, i) => {
    const [a, b] = [at(i - CORNER_REACH), at(i + CORNER_REACH)];
    const [ux, uy, vx, vy] = [p[0] - a[0], p[1] - a[1], b[0] - p[0], b[1] - p[1]];
    return Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy)) * (180 / Math.PI);
  });
  const sharpest = (i: number) =>
    Array.from({ length: 2 * CORNER_REACH + 1 }, (_, k) => (i + k - CORNER_REACH + n) % n).every(
      (j) => j === i || turn[j] < turn[i] || (turn[j] === turn[i] && j > i),
    );
  return turn.flatMap((v, i) => (v > CORNER && sharpest(i) ? [i] : []));
}

/**
 * A loop drawn by hand as an outline of a few good curve points; sharp turns stay corners.
 * @param off how far, in pixels, the outline may lie from what was drawn
 * @returns at least three points, or none where the loop is too small to be one
 */
export function fitLoop(drawn: readonly Point[], off: number): number[][] {
  const loop: Vec[] = drawn.filter((p, i) => i === 0 || p[0] !== drawn[i - 1][0] || p[1] !== drawn[i - 1][1]).map((p) => [p[0], p[1]] as const);
  if (loop.length < 3) return [];
  const even = evenly(loop, Math.max(1, off));
  const sharp = corners(even);
  const start = sharp[0] ?? 0;
  const turned = [...even.slice(start), ...even.slice(0, start), even[start]];
  const cuts = [...(sharp.length ? sharp : [0]).map((i) => i - start), turned.length - 1];
  const whole = along([...even.slice(-4), ...even.slice(0, 5)], 4, 3);
  const pieces = cuts.slice(1).flatMap((to, k) => {
    const run = turned.slice(cuts[k], to + 1);
    const leave = sharp.length ? along(run, 0, 3) : whole;
    const arrive = sharp.length ? along(run, run.length - 1, 3) : whole;
    return fitOpen(run, leave, [-arrive[0], -arrive[1]], off);
  });
  if (pieces.length < 3 && !sharp.length) return fitLoopInThirds(even);
  const r = (v: number) => Number(v.toFixed(2));
  const points = pieces.map((c, i) => {
    const before = pieces[(i + pieces.length - 1) % pieces.length];
    return [c[0], c[1], before[4] - before[6], before[5] - before[7], c[2] - c[0], c[3] - c[1]].map(r);
  });
  return points.length >= 3 ? points : fitLoopInThirds(even);
}

/** A loop so simple that two curves would do: three, since an outline has at least three points. */
function fitLoopInThirds(even: readonly Vec[]): number[][] {
  const n = even.length;
  const cuts = [0, Math.round(n / 3), Math.round((2 * n) / 3)];
  const tangent = (i: number) => {
    const [a, b] = [even[(i + n - 2) % n], even[(i + 2) % n]];
    return unit(b[0] - a[0], b[1] - a[1]);
  };
  const pieces = cuts.map((from, k) => {
    const to = cuts[(k + 1) % 3];
    const run = k < 2 ? even.slice(from, to + 1) : [...even.slice(from), even[0]];
    const end = tangent(to);
    return fitRun(run, tangent(from), [-end[0], -end[1]], 4);
  });
  return pieces.map((c, i) => {
    const before = pieces[(i + 2) % 3];
    return [c[0], c[1], before[4] - before[6], before[5] - before[7], c[2] - c[0], c[3] - c[1]].map((v) => Number(v.toFixed(2)));
  });
}
