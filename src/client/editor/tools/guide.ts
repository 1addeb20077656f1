import type { Point } from "../../../core/document/geometry";
import { round } from "../names";
import type { Editor } from "../editor";
import type { Gesture } from "./gesture";

/** A straight line that a fill is to carry on. */
export function guideGesture(editor: Editor, first: Point): Gesture {
  let last = first;
  return {
    trace: "line",
    move: (points) => void (last = points.at(-1)!),
    end() {
      if (Math.hypot(last[0] - first[0], last[1] - first[1]) <= 3) return;
      editor.history.addAid("guides", [
        [round(first[0]), round(first[1])],
        [round(last[0]), round(last[1])],
      ]);
      // one line a time: left on it would swallow the loop that comes next
      editor.retouch.set({ aid: null });
    },
    cancel: () => undefined,
  };
}
