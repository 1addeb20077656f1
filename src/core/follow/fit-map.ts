import { type Homography, middleOf, normalised, type Place, shiftBy, times } from "./homography";
import { solve } from "./solve";

/**
 * The plane map that takes some points to others: through one point a shift, through two a similarity, through three an affine map,
 * through four or more a projective one, by least squares on points brought to unit size (Hartley 1997).
 * @returns null where the points do not tell one, such as on a line
 */
export function fitMap(from: readonly Place[], to: readonly Place[]): Homography | null {
  const [a, b] = [unitOf(from), unitOf(to)];
  const [ps, qs] = [from.map((p) => at(a, p)), to.map((p) => at(b, p))];
  const free = from.length >= 4 ? 8 : from.length === 3 ? 6 : from.length === 2 ? 4 : 2;
  const A = new Float64Array(free * free);
  const v = new Float64Array(free);
  ps.forEach(([x, y], i) => {
    const [u, w] = qs[i];
    const rows: [number[], number][] =
      free === 8
        ? [
            [[x, y, 1, 0, 0, 0, -u * x, -u * y], u],
            [[0, 0, 0, x, y, 1, -w * x, -w * y], w],
          ]
        : free === 6
          ? [
              [[x, y, 1, 0, 0, 0], u],
              [[0, 0, 0, x, y, 1], w],
            ]
          : free === 4
            ? [
                [[x, -y, 1, 0], u],
                [[y, x, 0, 1], w],
              ]
            : [
                [[1, 0], u - x],
                [[0, 1], w - y],
              ];
    for (const [row, value] of rows)
      for (let r = 0; r < free; r++) {
        v[r] += row[r] * value;
        for (let c = 0; c < free; c++) A[r * free + c] += row[r] * row[c];
      }
  });
  if (!solve(A, v, free)) return null;
  const h: Homography =
    free === 8
      ? [v[0], v[1], v[2], v[3], v[4], v[5], v[6], v[7], 1]
      : free === 6
        ? [v[0], v[1], v[2], v[3], v[4], v[5], 0, 0, 1]
        : free === 4
          ? [v[0], -v[1], v[2], v[1], v[0], v[3], 0, 0, 1]
          : shiftBy(v[0], v[1]);
  return normalised(times(backOf(b), times(h, thereOf(a))));
}

interface Unit {
  x: number;
  y: number;
  s: number;
}

/** The middle of some points and how far they lie from it. */
function unitOf(points: readonly Place[]): Unit {
  const n = points.length;
  const [x, y] = middleOf(points);
  const s = points.reduce((m, p) => m + Math.hypot(p[0] - x, p[1] - y) / n, 0);
  return { x, y, s: s || 1 };
}

const at = ({ x, y, s }: Unit, p: Place): Place => [(p[0] - x) / s, (p[1] - y) / s];
const thereOf = ({ x, y, s }: Unit): Homography => times([1 / s, 0, 0, 0, 1 / s, 0, 0, 0, 1], shiftBy(-x, -y));
const backOf = ({ x, y, s }: Unit): Homography => times(shiftBy(x, y), [s, 0, 0, 0, s, 0, 0, 0, 1]);
