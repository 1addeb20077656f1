import type { Point } from "../../../core/document/geometry";
import type { PatchLayer } from "../../../core/document/layer";
import { middleOf, near } from "../../../core/follow/homography";
import type { EditorState } from "../state/editor";
import { trackPathIn } from "../actions/following";

/** How a patch's mask is carried to the frame that is shown, near its region: x′ = a·x + c·y + e, y′ = b·x + d·y + f. */
export type Carry = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

/** The carry of a patch's mask at the frame that is shown; null where it stays, or its track is not there yet. */
export function carryOf(s: Pick<EditorState, "recipe" | "tracks" | "frame">, layer: PatchLayer | null): Carry | null {
  const id = layer?.tied?.mask ?? null;
  const path = trackPathIn(s, id);
  if (!path || id === null) return null;
  const [x, y] = middleOf(s.recipe.tracks![id].region.map(([px, py]): [number, number] => [px, py]));
  const there = near(path.map(s.frame), [x, y]);
  if (!there) return null;
  const {
    at,
    by: [a, c, b, d],
  } = there;
  return [a, b, c, d, at[0] - a * x - c * y, at[1] - b * x - d * y];
}

/** A point of the mask as it is seen. */
export const carriedTo = ([a, b, c, d, e, f]: Carry, [x, y, ...more]: Point): Point => [a * x + c * y + e, b * x + d * y + f, ...more];

/** A point that is seen as one of the mask. */
export function carriedBack([a, b, c, d, e, f]: Carry, [x, y, ...more]: Point): Point {
  const det = a * d - b * c;
  const [u, v] = [x - e, y - f];
  return [(d * u - c * v) / det, (a * v - b * u) / det, ...more];
}
