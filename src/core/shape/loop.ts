import { keptPoints } from "./simplify";

type At = readonly number[];

/** Of some points how far the i-th lies from the line through two others, or from the first of them where they are one; as `keptPoints` asks. */
export const besideLine =
  (points: readonly At[]) =>
  (a: number, b: number, i: number): number => {
    const [[x0, y0], [x1, y1], [x, y]] = [points[a], points[b], points[i]];
    const [dx, dy] = [x1 - x0, y1 - y0];
    const long = Math.hypot(dx, dy);
    return long > 1e-6 ? Math.abs(dx * (y - y0) - dy * (x - x0)) / long : Math.hypot(x - x0, y - y0);
  };

/** A loop without the corners that stand out by less than a limit; of fewer than three points where nothing of it is left. */
export function simplerLoop<P extends At>(loop: readonly P[], limit: number): P[] {
  const closed = [...loop, loop[0]];
  return keptPoints(closed.length, limit, besideLine(closed))
    .slice(0, -1)
    .map((i) => closed[i]);
}

/** The area of a loop by its corners (the shoelace formula); its sign says which way it goes round. */
export const signedArea = (loop: readonly At[]): number =>
  loop.reduce((s, [x, y], i) => s + x * loop[(i + 1) % loop.length][1] - y * loop[(i + 1) % loop.length][0], 0) / 2;
