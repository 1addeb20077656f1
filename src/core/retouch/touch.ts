import { layOver } from "../blend/over";
import { NotSupportedYet } from "../document/recipe";
import type { Touch } from "../document/touch";
import type { Light } from "../match/light";
import type { SitingName } from "../pixels/colour";
import { copyFrame, type Frame, intersect, isChroma, planeShift, type Rect, union } from "../pixels/frame";
import type { MovedPlane } from "../pixels/resample";
import { clipAlpha, planeAlpha, type PlaneAlpha } from "../shape/chroma";
import type { Matte } from "../shape/matte";
import { touchBounds, touchMatte } from "./area";
import { filledPlanes, fillReach } from "./fill/region";
import { flatPlanes, flatReach } from "./flat";
import { healedPlane } from "./heal";
import { nearOffset, nearReach } from "./near";
import { laidInput, lightOf, sourceRect, takesFromItself, touchInput, type TouchPictures } from "./source";

/** Says by name what of a plate's touch cannot run. */
export function assertTouchRuns(t: Touch): void {
  if (t.frames) throw new NotSupportedYet("A stretch of frames for a plate's touch (a plate is one picture; paint on frames instead)");
}

/** The light a touch gives its source; null where it keeps its own. */
export const touchLight = (t: Touch, input: Frame, p: TouchPictures): Light[] | null =>
  t.light && t.source && input !== p.original ? lightOf(input, p.original) : null;

/** Lays planes over `work` (in place) through `matte`; only within `part` where it is given. Each plane is asked for with its own α. */
export function layPlanes(work: Frame, planes: (p: number, alpha: PlaneAlpha) => MovedPlane, matte: Matte, siting: SitingName, part?: Rect): void {
  let chroma: PlaneAlpha | null = null; // both chroma planes lie alike
  work.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(work.format, p);
    const own = () => planeAlpha(matte, work.format, p, siting, work.width, work.height);
    const alpha = isChroma(work.format, p) ? (chroma ??= own()) : own();
    const only = part && { x0: part.x0 >> sx, y0: part.y0 >> sy, x1: (part.x1 + sx) >> sx, y1: (part.y1 + sy) >> sy };
    layOver(plane, planes(p, alpha), only ? clipAlpha(alpha, only) : alpha, 1);
  });
}

/** Lays the input, moved by the touch's offset, over `work` (in place) through `matte`; only within `part` where it is given. */
export function layTouch(work: Frame, t: Touch, input: Frame, matte: Matte, siting: SitingName, part?: Rect, light: Light[] | null = null): void {
  layPlanes(work, (p) => laidInput(t, input, p, work.format, siting, light), matte, siting, part);
}

/**
 * Applies one touch to `work`, in place; yields how far it is where that takes a while. A touch reads the picture as it was
 * before itself.
 */
export function* touchSteps(work: Frame, t: Touch, pictures: TouchPictures): Generator<number, void> {
  const { siting } = pictures;
  const matte = touchMatte(t, work.width, work.height);
  if (matte.data.length === 0) return;
  if (t.kind === "fill") {
    const planes = yield* filledPlanes(work, t, matte, siting, (pictures.seed ?? 1) + 1_000_003 * (t.seed ?? 0));
    return layPlanes(work, (p) => planes[p] ?? own(work, p), matte, siting);
  }
  if (t.kind === "flat") {
    const planes = flatPlanes(work, matte, t.plain === true);
    return layPlanes(work, (p) => planes[p], matte, siting);
  }
  const input = touchInput(t, takesFromItself(t) ? snapshot(work, t, matte) : work, pictures);
  const light = touchLight(t, input, pictures);
  if (t.kind !== "heal" && t.kind !== "graft") return layTouch(work, t, input, matte, siting, undefined, light);
  let placed = t;
  if (!t.source && !t.offset) {
    const offset = nearOffset(work, matte);
    if (!offset) throw new RangeError(`The ${t.kind} “${t.name || t.id}” finds no texture near it: choose its source, or make it smaller.`);
    placed = { ...t, offset };
  }
  layPlanes(
    work,
    (p, alpha) => healedPlane(work.planes[p], laidInput(placed, input, p, work.format, siting, light), alpha, work.format),
    matte,
    siting,
  );
}

/** Applies one touch to `work`, in place. */
export function applyTouch(work: Frame, t: Touch, pictures: TouchPictures): void {
  const steps = touchSteps(work, t, pictures);
  while (!steps.next().done);
}

const own = (work: Frame, p: number): MovedPlane => {
  const plane = work.planes[p];
  return { ...plane, whole: { x: 0, y: 0 }, read: (x, y) => plane.data[y * plane.width + x] };
};

/** What a touch reads of the picture it is laid on, beside what it covers: null where only that. */
export function touchReads(t: Touch, width: number, height: number): Rect {
  const picture = { x0: 0, y0: 0, x1: width, y1: height };
  const r = touchBounds(t, width, height);
  if (t.kind === "fill") return fillReach(t, r, width, height);
  if (t.kind === "flat") return intersect(picture, flatReach(r));
  const around = { x0: r.x0 - 12, y0: r.y0 - 12, x1: r.x1 + 12, y1: r.y1 + 12 };
  if (!takesFromItself(t)) return intersect(picture, t.kind === "heal" || t.kind === "graft" ? around : r);
  if (t.kind === "heal" && !t.offset) return intersect(picture, nearReach(r));
  return intersect(picture, union(around, clamped(sourceRect(t, r), picture)));
}

/** A rectangle beyond the picture reads its edge. */
function clamped(r: Rect, picture: Rect): Rect {
  const x = (v: number) => Math.min(picture.x1 - 1, Math.max(0, v));
  const y = (v: number) => Math.min(picture.y1 - 1, Math.max(0, v));
  return {
    x0: x(r.x0),
    y0: y(r.y0),
    x1: Math.max(x(r.x0) + 1, r.x1 > picture.x1 ? picture.x1 : r.x1),
    y1: Math.max(y(r.y0) + 1, r.y1 > picture.y1 ? picture.y1 : r.y1),
  };
}

/** A frame to copy into, kept for the next touch of the same picture. */
const spare = new WeakMap<Frame, Frame>();

/** The picture as it is now, as far as a touch will read it. */
function snapshot(work: Frame, t: Touch, matte: Matte): Frame {
  let to = spare.get(work);
  if (!to) spare.set(work, (to = copyFrame(work)));
  const reads = touchReads(t, work.width, work.height);
  const rows = union(reads, matte);
  work.planes.forEach((plane, p) => {
    const { sy } = planeShift(work.format, p);
    const [a, b] = [Math.max(0, (rows.y0 >> sy) - 4), Math.min(plane.height, ((rows.y1 + sy) >> sy) + 4)];
    to.planes[p].data.set(plane.data.subarray(a * plane.width, b * plane.width), a * plane.width);
  });
  return to;
}
