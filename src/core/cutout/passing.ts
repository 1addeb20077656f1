import type { Alignment } from "../motion/register";
import type { Frame } from "../pixels/frame";
import type { Colours } from "./colours";
import type { Ground } from "./ground";

/** Standard deviations from which a pixel is surely something. */
const SURELY = 6;
/** Pixels from a rim within which it is seen. */
const RIM = 2;
/** One pixel of so many speaks for those beside it. */
const EVERY = 3;

/** Adds the colours of all that stands or passes before the ground on a frame. @param a how it lies against the plate */
export function learnPassing(into: Colours, ground: Ground, frame: Frame, a?: Alignment): void {
  const { seen, z } = ground.look(frame, { x0: 0, y0: 0, x1: ground.width, y1: ground.height }, a);
  // rims are mixed with the ground, and say nothing of what passes
  const aside = [-RIM, RIM, -RIM * ground.width, RIM * ground.width];
  const deep = (i: number) => z[i] > SURELY && aside.every((d) => z[i + d] > SURELY);
  for (let i = 0; i < z.length; i += EVERY) if (deep(i)) into.add(seen[0][i], seen[1][i], seen[2][i]);
}
