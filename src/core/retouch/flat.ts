import { colourOf, plainPlane } from "../plate/colour";
import { type Frame, intersect, type Rect, wholeOf } from "../pixels/frame";
import type { MovedPlane } from "../pixels/resample";
import { over, type Matte } from "../shape/matte";

/** From how near to how far outside an area its colour is taken, in pixels. */
const NEAR = 2;

/** What a flat reads of the picture. */
export function flatReach(r: Rect): Rect {
  const far = farFrom(r);
  return { x0: r.x0 - far, y0: r.y0 - far, x1: r.x1 + far, y1: r.y1 + far };
}

const farFrom = (r: Rect) => Math.round(Math.min(24, Math.max(6, 0.12 * Math.max(r.x1 - r.x0, r.y1 - r.y0)))) + NEAR;

/** The plain or sloping colour of what surrounds an area. @throws RangeError where nothing does. */
export function flatPlanes(work: Frame, m: Matte, plain: boolean): MovedPlane[] {
  const r = intersect(wholeOf(work), flatReach(m));
  const w = r.x1 - r.x0;
  const alpha = over(m, r);
  const near = new Uint8Array(alpha.length);
  for (let i = 0; i < alpha.length; i++) {
    if (!alpha[i]) continue;
    const [x, y] = [i % w, Math.floor(i / w)];
    for (let j = Math.max(0, y - NEAR); j <= Math.min(r.y1 - r.y0 - 1, y + NEAR); j++)
      near.fill(1, j * w + Math.max(0, x - NEAR), j * w + Math.min(w, x + NEAR + 1));
  }
  const colour = colourOf(work, (x, y) => !near[Math.floor(y - r.y0) * w + Math.floor(x - r.x0)], r);
  if (!colour) throw new RangeError("Nothing of the picture lies around this area, so there is no colour to take: make it smaller.");
  const planes = plain ? colour.planes.map(([v]): [number, number, number] => [v, 0, 0]) : colour.planes;
  return work.planes.map((plane, p) => ({ ...plane, whole: null, read: plainPlane({ ...colour, planes }, p, work.format) }));
}
