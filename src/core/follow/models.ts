import type { TrackModel } from "../document/track";
import type { Homography } from "./homography";

/**
 * The velocities of a point (x, y) of the plane under each model, written from `at` on: ∂/∂p of the map I + Σ p·A, in coordinates about the
 * region's middle; for each degree of freedom to the right and down.
 */
export function writeVelocities(model: TrackModel, x: number, y: number, out: Float64Array, at: number): void {
  out[at] = 1;
  out[at + 3] = 1;
  if (model === "shift") return;
  out[at + 4] = x;
  if (model === "similarity") {
    out[at + 5] = y;
    out[at + 6] = -y;
    out[at + 7] = x;
    return;
  }
  out[at + 7] = x;
  out[at + 8] = y;
  out[at + 11] = y;
  if (model === "affine") return;
  out[at + 12] = -x * x;
  out[at + 13] = -x * y;
  out[at + 14] = -x * y;
  out[at + 15] = -y * y;
}

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
