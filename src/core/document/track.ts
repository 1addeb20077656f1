import type { Outline, Point } from "./geometry";

/** How far a track lets its region change from frame to frame. */
export const TRACK_MODELS = ["shift", "similarity", "affine", "perspective"] as const;
export type TrackModel = (typeof TRACK_MODELS)[number];

/** What a region of a take does over time. */
export interface Track {
  /** What somebody calls it. */
  name?: string;
  /** A take of the recipe. */
  take: string;
  /** The frame on which the region was drawn; what was measured leads from there. */
  at: number;
  /** The region on that frame, in take pixels. */
  region: Outline;
  model: TrackModel;
  /** First frame it is measured on. */
  in: number;
  /** Last frame, which is measured as well. */
  out: number;
  /** What was measured, by its hash: for each frame a 3×3 matrix from `at` with its quality 0 … 1, or a gap with its reason. */
  data: string;
  /** Where the region was put by hand: at a frame, as many points as it has. */
  set?: { f: number; points: Point[] }[];
}
