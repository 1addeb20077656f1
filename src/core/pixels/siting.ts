import type { SitingName } from "./colour";
import { type PixelFormat, planeShift } from "./frame";
import type { Sited } from "./resample";

/** Per axis, whether a chroma sample is co-sited with an even luma sample or midway between two. */
export function sitedAt(siting: SitingName): { x: "cosited" | "midway"; y: "cosited" | "midway" } {
  return {
    x: siting === "center" ? "midway" : "cosited",
    y: siting === "topleft" ? "cosited" : "midway",
  };
}

/**
 * Weights with which luma-sized α is averaged over the footprint of chroma sample `c`:
 * ¼ ½ ¼ where co-sited, ½ ½ where midway; borders replicate (indices are clamped by the caller).
 */
export function footprint(at: "cosited" | "midway"): { first: number; weights: readonly number[] } {
  return at === "cosited" ? { first: -1, weights: [0.25, 0.5, 0.25] } : { first: 0, weights: [0.5, 0.5] };
}

/** The footprints of a chroma sample along both axes; one sample where an axis is not subsampled. */
export function footprints(siting: SitingName, { sx, sy }: { sx: number; sy: number }) {
  const at = sitedAt(siting);
  const one = { first: 0, weights: [1] };
  return { fx: sx ? footprint(at.x) : one, fy: sy ? footprint(at.y) : one };
}

/**
 * The mean of a full-size plane over the footprint of a chroma sample, by its place in the chroma plane; the borders of the
 * picture replicate.
 * @param read the full-size plane at (x, y), asked only within `width` × `height`
 */
export function overFootprint(
  siting: SitingName,
  { sx, sy }: { sx: number; sy: number },
  width: number,
  height: number,
  read: (x: number, y: number) => number,
): (x: number, y: number) => number {
  const { fx, fy } = footprints(siting, { sx, sy });
  return (x, y) => {
    let sum = 0;
    for (let j = 0; j < fy.weights.length; j++) {
      const yy = Math.min(height - 1, Math.max(0, (y << sy) + fy.first + j));
      for (let i = 0; i < fx.weights.length; i++)
        sum += fx.weights[i] * fy.weights[j] * read(Math.min(width - 1, Math.max(0, (x << sx) + fx.first + i)), yy);
    }
    return sum;
  };
}

/** Where samples of a plane lie, for frames of this layout. */
export function sitedPlane(f: PixelFormat, p: number, siting: SitingName): Sited {
  const { sx, sy } = planeShift(f, p);
  const at = sitedAt(siting);
  return { sx, sy, x0: sx && at.x === "midway" ? 1 : 0.5, y0: sy && at.y === "midway" ? 1 : 0.5 };
}
