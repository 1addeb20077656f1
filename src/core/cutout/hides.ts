import { grown } from "../plate/regions";
import { Colours } from "./colours";
import type { Sight } from "./ground";

/** Pixels about an outline by whose colours it is told how the ground looks there. */
const NEAR = 30;
/** Nats from which a colour is rather the thing's. */
const RATHER = 1;

/**
 * Pixels of the ground within an outline that look like the thing itself, and unlike what is around: there the plate shows the thing.
 * @param s the whole frame it is outlined on @param something standard deviations from which a pixel is something and not the ground
 */
export function hides(s: Sight, outline: Uint8Array, thing: Colours, something: number): number {
  const [width, height] = [s.rect.x1 - s.rect.x0, s.rect.y1 - s.rect.y0];
  const [a, b, c] = s.ground;
  const near = grown({ width, height, data: outline }, NEAR).data;
  const around = new Colours();
  for (let i = 0; i < near.length; i++) if (near[i] && !outline[i]) around.add(a[i], b[i], c[i]);
  let count = 0;
  for (let i = 0; i < outline.length; i++)
    if (outline[i] && s.z[i] < something && Math.log(thing.at(a[i], b[i], c[i]) / around.at(a[i], b[i], c[i])) > RATHER) count++;
  return count;
}
