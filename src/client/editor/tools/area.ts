import type { Point } from "../../../core/document/geometry";
import type { Editor } from "../editor";
import { onPixels } from "../state/select";
import type { Gesture } from "./gesture";
import { tidy } from "./tidy";

/** A stroke of an area that a fill stays away from, or takes from. */
export function areaGesture(editor: Editor, first: Point, which: "avoid" | "only"): Gesture {
  const path: Point[] = [tidy(first)];
  return {
    trace: "stroke",
    move: (points) => void path.push(...points.map(tidy)),
    end() {
      const { retouch } = editor.store.getState();
      const { pressure: _, ...brush } = retouch.brush;
      editor.retouch.set({
        [which]: [...retouch[which], { brush: { ...brush, ...onPixels(editor.store.getState()), hardness: 1, opacity: 1, flow: 1 }, path }],
      });
    },
    cancel: () => undefined,
  };
}
