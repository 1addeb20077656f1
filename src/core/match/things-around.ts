import { median } from "../motion/gray";
import { type AreaLight, areaAt, areaLights, type LightRing } from "./light-ring";
import { isRatio } from "./patch-light";

/** Codes by which the tint of an area may differ from that of the whole, and standard errors: what differs by more is a thing, not light. */
const TINT = 2;
const SURE = 3;

/**
 * Where around a patch something stands or passes that is no light: the tint of an area differs from that of the whole by more than light
 * makes it, though its brightness may not. Light takes luma and colour differences along by one ratio. Areas beside such a one count with
 * it, since the thing may reach into them.
 * @param luma of the ring around the patch @param chroma its colour differences @returns whether a luma pixel lies there; null where there is none
 */
export function thingsAround(luma: LightRing | null, chroma: readonly (LightRing | null)[]): ((x: number, y: number) => boolean) | null {
  const ratioAt = luma ? ratiosOf(luma) : () => 1;
  const found = chroma.flatMap((r) => {
    const there = r && oddTints(r, ratioAt);
    return there ? [{ r, there }] : [];
  });
  if (!found.length) return null;
  return (x, y) => found.some(({ r, there }) => there[areaAt(r.areas, x >> r.plane.shift.sx, y >> r.plane.shift.sy)] === 1);
}

/** The areas whose tint no light explains, and those beside them; null where there are none. @param ratioAt the ratio of luma at a luma pixel */
function oddTints(r: LightRing, ratioAt: (x: number, y: number) => number): Uint8Array | null {
  const { areas, cells, plane } = r;
  const { across, down } = areas;
  const place = ({ area }: AreaLight): [number, number] => [area % across, Math.floor(area / across)];
  const asked = areaLights(r, "offset");
  const off = asked.map((t) => {
    const [x, y] = place(t);
    const mean = t.cells.reduce((m, k) => m + cells.x[k] / t.cells.length, 0);
    const ratio = ratioAt((areas.x0 + (x + 0.5) * areas.w) * (1 << plane.shift.sx), (areas.y0 + (y + 0.5) * areas.h) * (1 << plane.shift.sy));
    return t.value - (ratio - 1) * mean;
  });
  const usual = off.length ? median(Float64Array.from(off)) : 0;
  const odd = asked.filter((t, i) => Math.abs(off[i] - usual) > Math.max(TINT * plane.unit, (SURE * t.sigma) / Math.sqrt(t.cells.length)));
  if (!odd.length) return null;
  const there = new Uint8Array(across * down);
  for (const [x, y] of odd.map(place))
    for (let v = Math.max(0, y - 1); v <= Math.min(down - 1, y + 1); v++)
      there.fill(1, v * across + Math.max(0, x - 1), v * across + Math.min(across, x + 2));
  return there;
}

/** The ratio of luma in the area of a luma pixel; 1 where it is not known, or no light. */
function ratiosOf(luma: LightRing): (x: number, y: number) => number {
  const ratios = new Map(areaLights(luma, "gain").map((t) => [t.area, t.value]));
  return (x, y) => {
    const r = ratios.get(areaAt(luma.areas, Math.floor(x), Math.floor(y))) ?? 1;
    return isRatio(r) ? r : 1;
  };
}
