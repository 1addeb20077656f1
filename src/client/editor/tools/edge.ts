import type { Point } from "../../../core/document/geometry";
import { valueAt, withValue } from "../../../core/time/keyed";
import { round } from "../names";
import { maskOf } from "../../../core/document/recipe";
import type { Editor } from "../editor";
import { type Gesture, newest } from "./gesture";
import type { EdgeGrip } from "./hit";
import { selected, title } from "./selected";

/** The mask's edge, or that of one shape, follows the pointer away from the outline. */
export function edgeGesture(editor: Editor, what: "feather" | "grow", { at, normal }: EdgeGrip, from: Point, shape: number | null): Gesture {
  const { frame, recipe } = editor.store.getState();
  const layer = selected(editor);
  const mask = maskOf(recipe, layer);
  const holder = shape === null ? mask : mask.shapes[shape];
  const begun = valueAt(holder[what] ?? 0, frame);
  const along = (p: Point) => (p[0] - at[0]) * normal[0] + (p[1] - at[1]) * normal[1];
  const apply = (p: Point, dragging: boolean) => {
    const by = along(p) - along(from);
    // half of a feather lies outside
    const value = what === "feather" ? Math.min(2000, Math.max(0, begun + 2 * by)) : begun + by;
    editor.masks.changeMask(
      layer,
      `${what === "feather" ? "Feather" : "Grow"} ${title(editor)}`,
      (m) => {
        const d = shape === null ? m : m.shapes[shape];
        d[what] = withValue(d[what] ?? 0, frame, round(value, 1)) as typeof d.feather;
      },
      dragging && "picture",
    );
  };
  return { move: newest((p) => apply(p, true)), end: (p) => apply(p, false), cancel: editor.cancelPreview };
}
