import { ff } from "../../media/arguments";
import type { FilmFormat } from "./format";

/** Layouts that hold the same samples where the encoder does not take ours by name; it would pick another, and change them, without a word. */
const SAME: Record<string, string> = { gbrp: "bgr0", gbrap: "bgra" };

export const ffv1: FilmFormat = {
  encoder: () => ff`-c:v ffv1 -level 3 -g 1 -slices 4 -slicecrc 1 -threads 2`,
  // it carries everything
  nearest: (info) => info.planar,
  carried: (info) => SAME[info.planar] ?? info.planar,
};
