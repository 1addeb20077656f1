import type { TrackModel } from "../document/track";
import type { Homography } from "./homography";

/** The velocities of a point (x, y) of the plane under each model: ∂/∂p of the map I + Σ p·A, in coordinates about the region's middle. */
export const VELOCITIES: Record<TrackModel, (x: number, y: number, out: Float64Array) => void> = {
  shift(_x, _y, v) {
    [v[0], v[1], v[2], v[3]] = [1, 0, 0, 1];
  },
  similarity(x, y, v) {
    [v[0], v[1], v[2], v[3], v[4], v[5], v[6], v[7]] = [1, 0, 0, 1, x, y, -y, x];
  },
  affine(x, y, v) {
    [v[0], v[1], v[2], v[3], v[4], v[5], v[6], v[7], v[8], v[9], v[10], v[11]] = [1, 0, 0, 1, x, 0, 0, x, y, 0, 0, y];
  },
  perspective(x, y, v) {
    [v[0], v[1], v[2], v[3], v[4], v[5], v[6], v[7], v[8], v[9], v[10], v[11], v[12], v[13], v[14], v[15]] = [1, 0, 0, 1, x, 0, 0, x, y, 0, 0, y, -x * x, -x * y, -x * y, -y * y]; // prettier-ignore
  },
};

/** Degrees of freedom of a model. */
export const FREEDOM: Record<TrackModel, number> = { shift: 2, similarity: 4, affine: 6, perspective: 8 };

/** The map I + Σ p·A. */
export function small(model: TrackModel, p: Float64Array): Homography {
  if (model === "shift") return [1, 0, p[0], 0, 1, p[1], 0, 0, 1];
  if (model === "similarity") return [1 + p[2], -p[3], p[0], p[3], 1 + p[2], p[1], 0, 0, 1];
  return [1 + p[2], p[4], p[0], p[3], 1 + p[5], p[1], model === "perspective" ? p[6] : 0, model === "perspective" ? p[7] : 0, 1];
}

/** What coarse levels make do with. */
export const SIMPLER: Record<TrackModel, TrackModel> = { shift: "shift", similarity: "shift", affine: "shift", perspective: "similarity" };
