import type { Point } from "../../../core/document/geometry";
import type { PatchLayer } from "../../../core/document/layer";
import { mapped } from "../../../core/follow/homography";
import type { EditorState } from "../state/editor";
import { trackPathIn } from "../actions/following";

/** How a patch's mask is carried to the frame that is shown, near its region: x′ = a·x + c·y + e, y′ = b·x + d·y + f. */
export type Carry = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

/** The carry of a patch's mask at the frame that is shown; null where it stays, or its track is not there yet. */
export function carryOf(s: Pick<EditorState, "recipe" | "tracks" | "frame">, layer: PatchLayer | null): Carry | null {
  const id = layer?.tied?.mask ?? null;
  const path = trackPathIn(s, id);
  if (!path || id === null) return null;
  const m = path.map(s.frame);
  const { region } = s.recipe.tracks![id];
  const [x, y] = region.reduce((v, p) => [v[0] + p[0] / region.length, v[1] + p[1] / region.length], [0, 0]);
  const at = mapped(m, [x, y]);
  if (!at) return null;
  const w = m[6] * x + m[7] * y + m[8];
  const [a, c] = [(m[0] - at[0] * m[6]) / w, (m[1] - at[0] * m[7]) / w];
  const [b, d] = [(m[3] - at[1] * m[6]) / w, (m[4] - at[1] * m[7]) / w];
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
