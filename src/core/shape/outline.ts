import type { Outline, Point } from "../document/geometry";
import { fitRun } from "./fit";

/** A cubic Bézier segment of an outline: its end points and their arms' ends, x and y in turn. */
type Cubic = readonly [number, number, number, number, number, number, number, number];

/** Which arm of a curve point: the one before it, or the one after it. */
export type Arm = "in" | "out";

const HANDS = { in: 2, out: 4 } as const;

/** The segment that leaves point `i` of a closed outline. */
export function segmentOf(points: Outline, i: number): Cubic {
  const a = points[i];
  const b = points[(i + 1) % points.length];
  return [a[0], a[1], a[0] + (a[4] ?? 0), a[1] + (a[5] ?? 0), b[0] + (b[2] ?? 0), b[1] + (b[3] ?? 0), b[0], b[1]];
}

/** The point of a segment at `t` (0–1). */
export function segmentAt([x0, y0, x1, y1, x2, y2, x3, y3]: Cubic, t: number): [number, number] {
  const u = 1 - t;
  const [a, b, c, d] = [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t];
  return [a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3];
}

const isCurved = (p: Point) => p.length > 2 && p.slice(2).some((v) => v !== 0);
/** A point with its arms, zero for a corner. */
const full = (p: Point): number[] => (p.length > 2 ? [...p] : [p[0], p[1], 0, 0, 0, 0]);
/** The short form where a point has no arms. */
const tidy = (p: Point): number[] => (isCurved(p) ? p.map((v) => Number(v.toFixed(3))) : [Number(p[0].toFixed(3)), Number(p[1].toFixed(3))]);

/**
 * Puts a point into the segment after point `i`, at `t` (0–1), so that the outline keeps its shape: the segment is
 * divided by de Casteljau's construction (Farin, *Curves and Surfaces for CAGD*; from memory). The new point is number i + 1.
 */
export function withPoint(points: Outline, i: number, t: number): number[][] {
  const j = (i + 1) % points.length;
  const s = segmentOf(points, i);
  const straight = s[0] === s[2] && s[1] === s[3] && s[4] === s[6] && s[5] === s[7];
  const out = points.map((p) => [...p]);
  if (straight) {
    out.splice(i + 1, 0, tidy(segmentAt(s, t)));
    return out;
  }
  const between = (k: number, l: number): [number, number] => [s[k] + (s[l] - s[k]) * t, s[k + 1] + (s[l + 1] - s[k + 1]) * t];
  const lerp = (a: [number, number], b: [number, number]): [number, number] => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
  const [p01, p12, p23] = [between(0, 2), between(2, 4), between(4, 6)];
  const [p012, p123] = [lerp(p01, p12), lerp(p12, p23)];
  const [x, y] = lerp(p012, p123);
  const [a, b] = [full(points[i]), full(points[j])];
  [a[4], a[5]] = [p01[0] - s[0], p01[1] - s[1]];
  [b[2], b[3]] = [p23[0] - s[6], p23[1] - s[7]];
  out[i] = a;
  out[j] = b;
  out.splice(i + 1, 0, tidy([x, y, p012[0] - x, p012[1] - y, p123[0] - x, p123[1] - y]));
  return out;
}

/**
 * Takes point `i` out. Where its neighbours' segments are curved, their arms are fitted anew (least squares along the old
 * directions, Schneider 1990), so that the outline keeps its shape as well as one segment can.
 * @throws RangeError when fewer than three points would be left
 */
export function withoutPoint(points: Outline, i: number): number[][] {
  const n = points.length;
  if (n <= 3) throw new RangeError("An outline needs at least three points: delete the whole shape instead.");
  const before = (i + n - 1) % n;
  const after = (i + 1) % n;
  const [s, e] = [segmentOf(points, before), segmentOf(points, i)];
  const out = points.map((p) => [...p]);
  const straight = [s, e].every((c) => c[0] === c[2] && c[1] === c[3] && c[4] === c[6] && c[5] === c[7]);
  if (!straight) {
    const run = [s, e].flatMap((c, k) => Array.from({ length: 16 + k }, (_, m) => segmentAt(c, m / 16)));
    const [leave, arrive] = [direction(s), direction([e[6], e[7], e[4], e[5], e[2], e[3], e[0], e[1]])];
    const fitted = fitRun(run, leave, arrive);
    const [a, b] = [full(points[before]), full(points[after])];
    [a[4], a[5]] = [fitted[2] - fitted[0], fitted[3] - fitted[1]];
    [b[2], b[3]] = [fitted[4] - fitted[6], fitted[5] - fitted[7]];
    out[before] = tidy(a);
    out[after] = tidy(b);
  }
  out.splice(i, 1);
  return out;
}

/** The unit direction in which a segment leaves its first point. */
function direction(c: Cubic): [number, number] {
  for (const k of [2, 4, 6]) {
    const [dx, dy] = [c[k] - c[0], c[k + 1] - c[1]];
    const length = Math.hypot(dx, dy);
    if (length > 1e-9) return [dx / length, dy / length];
  }
  return [1, 0];
}

/** Makes point `i` smooth: arms along the line between its neighbours, each a third as long as its segment (Catmull & Rom 1974). */
export function smoothed(points: Outline, i: number): number[][] {
  const n = points.length;
  const [a, p, b] = [points[(i + n - 1) % n], points[i], points[(i + 1) % n]];
  const across = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  const [ux, uy] = [(b[0] - a[0]) / across, (b[1] - a[1]) / across];
  const [before, after] = [Math.hypot(p[0] - a[0], p[1] - a[1]) / 3, Math.hypot(b[0] - p[0], b[1] - p[1]) / 3];
  return points.map((q, k) => (k === i ? tidy([p[0], p[1], -ux * before, -uy * before, ux * after, uy * after]) : [...q]));
}

/** Makes point `i` a corner: its arms go. */
export const cornered = (points: Outline, i: number): number[][] => points.map((p, k) => (k === i ? [p[0], p[1]] : [...p]));

export const isSmooth = isCurved;

/**
 * Draws an arm of point `i` to (dx, dy) from the point. Together with it the other arm turns so that the curve stays smooth,
 * keeping its own length; `alone` leaves it where it is. A corner gets both arms alike.
 */
export function withArm(points: Outline, i: number, arm: Arm, dx: number, dy: number, alone: boolean): number[][] {
  return points.map((q, k) => {
    if (k !== i) return [...q];
    const p = full(q);
    const [at, other] = [HANDS[arm], HANDS[arm === "in" ? "out" : "in"]];
    const [length, mine] = [Math.hypot(p[other], p[other + 1]), Math.hypot(dx, dy)];
    [p[at], p[at + 1]] = [dx, dy];
    if (!alone && mine > 0) {
      const keep = isCurved(q) ? length : mine;
      [p[other], p[other + 1]] = [(-dx / mine) * keep, (-dy / mine) * keep];
    }
    return tidy(p);
  });
}

/** x′ = a·x + c·y + e, y′ = b·x + d·y + f. */
export type Affine = readonly [number, number, number, number, number, number];

/** Scales by (sx, sy) and turns by `degrees` (clockwise) about a pivot. */
export function scaleTurn(px: number, py: number, sx: number, sy: number, degrees: number): Affine {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const [a, b, cc, d] = [c * sx, s * sx, -s * sy, c * sy];
  return [a, b, cc, d, px - a * px - cc * py, py - b * px - d * py];
}

export const applied = ([a, b, c, d, e, f]: Affine, x: number, y: number): [number, number] => [a * x + c * y + e, b * x + d * y + f];

/** Moves the chosen points of an outline (all without `chosen`), with their arms. */
export function transformed(points: Outline, m: Affine, chosen?: ReadonlySet<number>): number[][] {
  return points.map((p, i) => {
    if (chosen && !chosen.has(i)) return [...p];
    const [x, y] = applied(m, p[0], p[1]);
    if (!isCurved(p)) return tidy([x, y]);
    const arm = (k: number) => [m[0] * p[k] + m[2] * p[k + 1], m[1] * p[k] + m[3] * p[k + 1]];
    return tidy([x, y, ...arm(2), ...arm(4)]);
  });
}

/** The place of an outline that lies nearest to (x, y): its segment, `t` in it, and how far it is. */
export function nearestOn(points: Outline, x: number, y: number): { segment: number; t: number; distance: number; x: number; y: number } {
  let best = { segment: 0, t: 0, distance: Infinity, x: 0, y: 0 };
  for (let i = 0; i < points.length; i++) {
    const s = segmentOf(points, i);
    const off = (t: number) => {
      const [qx, qy] = segmentAt(s, t);
      return Math.hypot(qx - x, qy - y);
    };
    let near = 0;
    const steps = 24;
    for (let k = 0; k <= steps; k++) if (off(k / steps) < off(near)) near = k / steps;
    // between its neighbours the distance has one lowest place: cut the stretch by thirds
    let [lo, hi] = [Math.max(0, near - 1 / steps), Math.min(1, near + 1 / steps)];
    for (let k = 0; k < 40; k++) {
      const [a, b] = [lo + (hi - lo) / 3, hi - (hi - lo) / 3];
      if (off(a) < off(b)) hi = b;
      else lo = a;
    }
    const t = (lo + hi) / 2;
    if (off(t) < best.distance) {
      const [qx, qy] = segmentAt(s, t);
      best = { segment: i, t, distance: off(t), x: qx, y: qy };
    }
  }
  return best;
}
