import type { Recipe } from "../../core/document/recipe";

/** What the first page tells of a shot. */
export interface Summary {
  /** First and last frame. */
  in: number;
  out: number;
  intruders: number;
  layers: number;
}

/** @param r null, or anything that was stored as a recipe; null where it is none */
export function summaryOf(r: Recipe | null): Summary | null {
  try {
    return { in: r!.shot.in, out: r!.shot.out, intruders: r!.intruders.length, layers: r!.intruders.reduce((n, i) => n + i.layers.length, 0) };
  } catch {
    return null;
  }
}
