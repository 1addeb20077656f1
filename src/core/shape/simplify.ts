/**
 * Which of `count` points in a row to keep so that none lies farther than `limit` from the line between its kept neighbours
 * (Ramer 1972, Douglas & Peucker 1973). Both ends are kept.
 * @param off how far point i lies from the line between points a and b
 */
export function keptPoints(count: number, limit: number, off: (a: number, b: number, i: number) => number): number[] {
  const keep = new Set([0, count - 1]);
  const split = (a: number, b: number): void => {
    let far = limit;
    let at = -1;
    for (let i = a + 1; i < b; i++) {
      const d = off(a, b, i);
      if (d > far) [far, at] = [d, i];
    }
    if (at < 0) return;
    keep.add(at);
    split(a, at);
    split(at, b);
  };
  split(0, count - 1);
  return [...keep].sort((a, b) => a - b);
}
