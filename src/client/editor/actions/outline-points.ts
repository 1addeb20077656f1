import { cornered, isSmooth, smoothed, withoutPoint, withPoint } from "../../../core/shape/outline";
import { valueAt } from "../../../core/time/keyed";
import { everyOutline, isDrawn, NOTHING_PICKED } from "../shapes";
import type { EditorCore } from "./core";
import type { MaskChanges } from "./mask-changes";

/** What is done to the points of outlines. */
export function createOutlinePoints(core: EditorCore, { title, current, changeMask, pick }: MaskChanges) {
  const { get, notices } = core;

  /** Puts a point into an outline at a place of it, at every keyframe. */
  function addPoint(shape: number, segment: number, t: number): void {
    const now = current();
    if (!now || now.mask.shapes[shape]?.locked) return;
    changeMask(now.layer, `Add a point to ${title(now.layer)}`, (m) => everyOutline(m.shapes[shape], (o) => withPoint(o, segment, t)));
    pick({ shapes: [], points: [{ shape, index: segment + 1 }] });
  }

  /** Takes the picked points out at every keyframe, or the picked shapes. */
  function deletePicked(): boolean {
    const now = current();
    const { points, shapes } = get().picked;
    if (!now || (!points.length && !shapes.length)) return false;
    if (points.length) {
      const byShape = [...new Set(points.map((p) => p.shape))].map((i) => [i, points.filter((p) => p.shape === i)] as const);
      for (const [i, list] of byShape) {
        const s = now.mask.shapes[i];
        if (s?.kind === "path" && valueAt(s.points, get().frame).length - list.length < 3) {
          notices.said("An outline needs at least three points: pick the whole shape to delete it.");
          return true;
        }
      }
      changeMask(now.layer, `Delete ${points.length} ${points.length === 1 ? "point" : "points"} of ${title(now.layer)}`, (m) => {
        for (const [i, list] of byShape)
          for (const { index } of list.toSorted((a, b) => b.index - a.index)) everyOutline(m.shapes[i], (o) => withoutPoint(o, index));
      });
    } else {
      if (shapes.length >= now.mask.shapes.length) return false; // the whole mask: that is the patch
      changeMask(now.layer, `Delete ${shapes.length === 1 ? "a shape" : `${shapes.length} shapes`} of ${title(now.layer)}`, (m) => {
        m.shapes = m.shapes.filter((_, i) => !shapes.includes(i));
      });
    }
    pick(NOTHING_PICKED);
    return true;
  }

  /** Makes the picked points smooth, or corners where they all are smooth already. */
  function roundPoints(only?: { shape: number; index: number }): void {
    const now = current();
    const points = only ? [only] : get().picked.points;
    if (!now || !points.length) return;
    const { frame } = get();
    const smooth = points.every(({ shape, index }) => {
      const s = now.mask.shapes[shape];
      return s?.kind === "path" && isSmooth(valueAt(s.points, frame)[index] ?? []);
    });
    changeMask(now.layer, `${smooth ? "Corners" : "Curves"} in ${title(now.layer)}`, (m) => {
      for (const { shape, index } of points) everyOutline(m.shapes[shape], (o) => (smooth ? cornered(o, index) : smoothed(o, index)));
    });
  }

  /** Everything of the mask is picked: all points of its outlines, or its shapes where it has none. */
  function pickAll(): void {
    const now = current();
    if (!now) return;
    const { frame } = get();
    const all = now.mask.shapes.map((s, i) => [s, i] as const).filter(([s]) => isDrawn(s) && !s.locked);
    const points = all.flatMap(([s, shape]) => (s.kind === "path" ? valueAt(s.points, frame).map((_, index) => ({ shape, index })) : []));
    const rest = all.filter(([s]) => s.kind !== "path").map(([, i]) => i);
    pick(rest.length ? { shapes: all.map(([, i]) => i), points: [] } : { shapes: [], points });
  }

  return {
    addPoint,
    deletePicked,
    roundPoints,
    pickAll,
  };
}
