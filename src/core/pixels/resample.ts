import type { Plane } from "./frame";

/** Catmull–Rom weights (a = −½) for the four taps around a position whose fraction is t (Keys 1981). */
export function catmullRom(t: number): [number, number, number, number] {
  const t2 = t * t;
  const t3 = t2 * t;
  return [-0.5 * t + t2 - 0.5 * t3, 1 - 2.5 * t2 + 1.5 * t3, 0.5 * t + 2 * t2 - 1.5 * t3, -0.5 * t2 + 0.5 * t3];
}

/** A plane moved by some of its own samples. */
export interface MovedPlane extends Plane {
  /** Sample (x, y) of the moved picture. */
  read: (x: number, y: number) => number;
  /** For shifts by whole samples: sample (x, y) is the plane's own (x + whole.x, y + whole.y). */
  whole: { x: number; y: number } | null;
}

/**
 * `plane` moved by (dx, dy) of its own samples. Whole shifts copy; others interpolate with Catmull–Rom, edges
 * clamped, the result rounded and clipped to 0 … top.
 */
export function movedPlane(plane: Plane, dx: number, dy: number, top: number): MovedPlane {
  const { width, height, data } = plane;
  const clampX = (x: number) => (x < 0 ? 0 : x >= width ? width - 1 : x);
  const clampY = (y: number) => (y < 0 ? 0 : y >= height ? height - 1 : y);
  const ix = Math.floor(-dx);
  const iy = Math.floor(-dy);
  const fx = -dx - ix;
  const fy = -dy - iy;
  if (fx === 0 && fy === 0) return { ...plane, whole: { x: ix, y: iy }, read: (x, y) => data[clampY(y + iy) * width + clampX(x + ix)] };
  const wx = catmullRom(fx);
  const wy = catmullRom(fy);
  const read = (x: number, y: number) => {
    let sum = 0;
    for (let j = 0; j < 4; j++) {
      const row = clampY(y + iy + j - 1) * width;
      let line = 0;
      for (let i = 0; i < 4; i++) line += wx[i] * data[row + clampX(x + ix + i - 1)];
      sum += wy[j] * line;
    }
    const v = Math.floor(sum + 0.5);
    return v < 0 ? 0 : v > top ? top : v;
  };
  return { ...plane, whole: null, read };
}
