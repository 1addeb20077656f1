import { NotSupportedYet, type Touch } from "../document";
import { layOver } from "../blend/over";
import type { SitingName } from "../pixels/colour";
import { copyFrame, type Frame, maxCode, type Plane, planeShift, type Rect, sameFormat } from "../pixels/frame";
import { movedPlane } from "../pixels/resample";
import { boundaryOf } from "../shape/boundary";
import { clipAlpha, planeAlpha } from "../shape/chroma";
import { coverage } from "../shape/coverage";
import { join, type Matte } from "../shape/matte";
import { flattenOutline } from "../shape/path";
import { strokeMatte } from "./brush";

/** The pictures a touch may read beside the one it works on. */
export interface TouchPictures {
  /** The plate as it came, before any touch. */
  original: Frame;
  /** The picture that the touch's source names. */
  source?: Frame;
  siting: SitingName;
}

/** Says by name what of a touch cannot run yet. */
export function assertTouchRuns(t: Touch): void {
  if (t.kind === "heal" || t.kind === "graft" || t.kind === "fill" || t.kind === "flat") throw new NotSupportedYet(`The touch “${t.kind}”`);
  if (t.scale !== undefined && t.scale !== 1) throw new NotSupportedYet("A scaled source of a touch");
  if (t.angle) throw new NotSupportedYet("A turned source of a touch");
  if (t.mirror) throw new NotSupportedYet("A mirrored source of a touch");
  if (t.frames) throw new NotSupportedYet("A touch on a stretch of frames");
  if (t.outline) throw new NotSupportedYet(`An outline for the touch “${t.kind}”`);
}

/** The picture a touch reads: the work as it was before the touch, its source, or the original. */
export function touchInput(t: Touch, before: Frame, p: TouchPictures): Frame {
  if (t.kind === "restore") return p.original;
  if (t.source) {
    if (!p.source) throw new Error(`The source of the ${t.kind} “${t.name ?? t.id}” is missing; choose its picture again.`);
    return p.source;
  }
  if (t.kind === "uncover") throw new Error(`The uncover “${t.name ?? t.id}” names no source; choose a plate, a frame or a slip.`);
  return before;
}

/** Lays the input, moved by the touch's offset, over `work` (in place) through `matte`; only within `part` where it is given. */
export function layTouch(work: Frame, t: Touch, input: Frame, matte: Matte, siting: SitingName, part?: Rect): void {
  if (!sameFormat(work.format, input.format)) throw new NotSupportedYet("A source whose pixel format differs from the plate's");
  const [ox, oy] = t.kind === "restore" ? [0, 0] : (t.offset ?? [0, 0]);
  work.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(work.format, p);
    const source = movedPlane(input.planes[p] ?? opaque(plane, work.format), -ox / (1 << sx), -oy / (1 << sy), maxCode(work.format));
    const alpha = planeAlpha(matte, work.format, p, siting, work.width, work.height);
    const only = part && { x0: part.x0 >> sx, y0: part.y0 >> sy, x1: (part.x1 + sx) >> sx, y1: (part.y1 + sy) >> sy };
    layOver(plane, source, only ? clipAlpha(alpha, only) : alpha, 1);
  });
}

/** The alpha plane of a source that has none. */
const opaque = (like: Plane, format: Frame["format"]): Plane => ({ ...like, data: like.data.slice().fill(maxCode(format)) });

/** α of a touch, within its fence where it has one. */
export function touchMatte(t: Touch, width: number, height: number): Matte {
  if (!t.brush || !t.path?.length) throw new Error(`The touch “${t.name ?? t.id}” has no stroke.`);
  const m = strokeMatte(t.brush, t.path, width, height);
  return t.fence?.length ? fenced(m, t.fence) : m;
}

/** Keeps a matte inside the outlines of a fence. */
export function fenced(m: Matte, fence: NonNullable<Touch["fence"]>): Matte {
  const rect = { x0: m.x0, y0: m.y0, x1: m.x1, y1: m.y1 };
  const parts = fence.map((o): Matte => ({ ...rect, data: coverage(boundaryOf(flattenOutline(o)), rect), outside: 0 }));
  return join(
    m,
    parts.reduce((a, b) => join(a, b, "add")),
    "cross",
  );
}

/** Applies one touch to `work`, in place. A stroke reads the picture as it was before itself. */
export function applyTouch(work: Frame, t: Touch, p: TouchPictures): void {
  assertTouchRuns(t);
  const readsWork = t.kind === "clone" && !t.source;
  const input = touchInput(t, readsWork ? copyFrame(work) : work, p);
  layTouch(work, t, input, touchMatte(t, work.width, work.height), p.siting);
}
