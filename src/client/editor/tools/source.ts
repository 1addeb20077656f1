import type { Point } from "../../../core/document/geometry";
import { sourceTransformAt, readAt, readFarther, readTurned } from "../source-transform";
import { boxOfPicked } from "../shapes";
import { maskOf } from "../../../core/document/recipe";
import { takeOf } from "../state/select";
import type { Editor } from "../editor";
import type { Gesture, Mods } from "./gesture";
import { selected } from "./selected";

/** What of a source is dragged. */
export type SourceGrip = "picture" | "area" | "scale" | "turn";

/** Moves, scales or turns the source under the mask; the result is live. */
export function sourceGesture(editor: Editor, grip: SourceGrip, from: Point): Gesture {
  const s = editor.store.getState();
  const layer = selected(editor);
  const begun = sourceTransformAt(layer, s.frame, takeOf(s).info!);
  const box = boxOfPicked(maskOf(s.recipe, layer).shapes, { shapes: maskOf(s.recipe, layer).shapes.map((_, i) => i), points: [] }, s.frame);
  const middle: Point = box ? [(box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2] : from;
  const q = readAt(begun, middle);
  const next = (p: Point, m: Mods) => {
    const [dx, dy] = [p[0] - from[0], p[1] - from[1]];
    if (grip === "picture") return { ...begun, x: begun.x + dx, y: begun.y + dy };
    if (grip === "area") return readFarther(begun, dx, dy);
    const from2 = [from[0] - q[0], from[1] - q[1]];
    const to2 = [p[0] - q[0], p[1] - q[1]];
    if (grip === "scale") {
      // a larger area of the source means a smaller picture of it
      const k = Math.max(0.05, Math.hypot(...to2) / Math.max(1e-6, Math.hypot(...from2)));
      return readTurned(begun, middle, Math.min(20, Math.max(0.05, begun.scale / k)), begun.angle);
    }
    const turn = ((Math.atan2(to2[1], to2[0]) - Math.atan2(from2[1], from2[0])) * 180) / Math.PI;
    const angle = begun.angle - (((turn + 540) % 360) - 180);
    return readTurned(begun, middle, begun.scale, m.shift ? Math.round(angle / 15) * 15 : angle);
  };
  const words = { picture: "Move the source", area: "Move the source", scale: "Scale the source", turn: "Turn the source" }[grip];
  let moved = false;
  return {
    move(points, m) {
      const p = points.at(-1)!;
      moved = true;
      editor.source.placeSource(words, () => next(p, m), "picture");
    },
    end: (p, m) => moved && editor.source.placeSource(words, () => next(p, m)),
    cancel: editor.cancelPreview,
  };
}
