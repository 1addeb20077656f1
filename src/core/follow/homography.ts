/** A place in a picture: across and down. */
export type Place = [number, number];

/** A plane's projective map, rows of a 3 × 3 matrix; of points as columns (x, y, 1). */
export type Homography = [number, number, number, number, number, number, number, number, number];

export const IDENTITY: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** What shifts by so much. */
export const shiftBy = (dx: number, dy: number): Homography => [1, 0, dx, 0, 1, dy, 0, 0, 1];

/** The middle of some corners. */
export const middleOf = (points: readonly Place[]): Place =>
  points.reduce((m, p): Place => [m[0] + p[0] / points.length, m[1] + p[1] / points.length], [0, 0]);

/** a·b: first b, then a. */
export function times(a: Homography, b: Homography): Homography {
  const out = new Array<number>(9);
  for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) out[3 * r + c] = a[3 * r] * b[c] + a[3 * r + 1] * b[3 + c] + a[3 * r + 2] * b[6 + c];
  return out as Homography;
}

/** The same map with 1 at its lower right; null where that is 0. */
export function normalised(m: Homography): Homography | null {
  return Math.abs(m[8]) < 1e-12 ? null : (m.map((v) => v / m[8]) as Homography);
}

/** The inverse, normalised; null where there is none. */
export function inverse(m: Homography): Homography | null {
  const [a, b, c, d, e, f, g, h, i] = m;
  const adjugate: Homography = [e * i - f * h, c * h - b * i, b * f - c * e, f * g - d * i, a * i - c * g, c * d - a * f, d * h - e * g, b * g - a * h, a * e - b * d]; // prettier-ignore
  const det = a * adjugate[0] + b * adjugate[3] + c * adjugate[6];
  return Math.abs(det) < 1e-12 ? null : normalised(adjugate.map((v) => v / det) as Homography);
}

/** Where a point goes; null where it goes beyond the horizon. */
export function mapped(m: Homography, [x, y]: readonly [number, number]): Place | null {
  const w = m[6] * x + m[7] * y + m[8];
  return w <= 1e-9 ? null : [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w];
}

/** Where a point goes, and how its neighbours go: ∂x′/∂x, ∂x′/∂y, ∂y′/∂x, ∂y′/∂y; null where it goes beyond the horizon. */
export function near(m: Homography, [x, y]: readonly [number, number]): { at: Place; by: [number, number, number, number] } | null {
  const at = mapped(m, [x, y]);
  if (!at) return null;
  const w = m[6] * x + m[7] * y + m[8];
  const [u, v] = at;
  return { at, by: [(m[0] - u * m[6]) / w, (m[1] - u * m[7]) / w, (m[3] - v * m[6]) / w, (m[4] - v * m[7]) / w] };
}

/** The map seen from coordinates in which what was (x, y) is (s·x + dx, s·y + dy). */
export function inCoordinates(m: Homography, s: number, dx: number, dy: number): Homography {
  const there: Homography = [s, 0, dx, 0, s, dy, 0, 0, 1];
  const back: Homography = [1 / s, 0, -dx / s, 0, 1 / s, -dy / s, 0, 0, 1];
  return normalised(times(there, times(m, back)))!;
}

/** How far apart two maps put some points, at most; Infinity where one goes beyond the horizon. */
export function apart(a: Homography, b: Homography, points: readonly (readonly [number, number])[]): number {
  return Math.max(
    ...points.map((p) => {
      const [q, r] = [mapped(a, p), mapped(b, p)];
      return q && r ? Math.hypot(q[0] - r[0], q[1] - r[1]) : Infinity;
    }),
  );
}
