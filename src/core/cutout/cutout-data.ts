import type { Rect } from "../pixels/frame";

/** The number of the method by which things are cut out. */
export const CUTOUT_METHOD = 3;

/** How much of each pixel a thing covers on one frame. */
export interface FrameAlpha {
  /** Where any of it is seen, take pixels. */
  rect: Rect;
  /** 0–255 over the rectangle, row by row; the same array whenever it is asked for. */
  alpha: () => Uint8Array;
}

/** What was cut out, by the frame; where there is none, nothing is seen of it. */
export type CutoutData = ReadonlyMap<number, FrameAlpha>;

/** What was cut out, by its hash. */
export type Cutouts = ReadonlyMap<string, CutoutData>;
