import type { Cutouts } from "../../core/cutout/cutout-data";
import type { Mask } from "../../core/document/mask";
import { isEmpty, type Rect, union } from "../../core/pixels/frame";
import { grown } from "../../core/shape/edge";
import { maskBounds } from "../../core/shape/mask";
import { GROW, PX } from "../../core/ranges";
import { valueAt } from "../../core/time/keyed";

/** The box around a mask at a frame, within a picture; null where it covers nothing, or may cover all of it. */
export function maskBoxAt(mask: Mask, f: number, whole: Rect, cutouts: Cutouts): Rect | null {
  const added = mask.shapes.filter((s) => s.op === "add" && s.on !== false);
  if (mask.invert || added.some((s) => s.kind === "picture")) return null;
  const drawn = maskBounds({ ...mask, shapes: added.filter((s) => s.kind !== "cutout") }, f, whole.x1, whole.y1);
  const room = Math.max(0, valueAt(mask.grow ?? 0, f, GROW)) + valueAt(mask.feather ?? 0, f, PX);
  const cut = added.flatMap((s) => {
    const rect = s.kind === "cutout" && cutouts.get(s.data)?.get(f)?.rect;
    return rect ? [grown(rect, room, whole)] : [];
  });
  const all = cut.reduce(union, drawn);
  return isEmpty(all) ? null : all;
}
