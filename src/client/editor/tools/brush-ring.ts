import { type Point } from "../../../core/document";
import { round } from "../names";
import { type Editor } from "../store";
import { type Gesture } from "./gesture";

/** Pulls the brush's ring to its size: from its middle outwards. */
export function ringGesture(editor: Editor, first: Point): Gesture {
  const { brush } = editor.store.getState().retouch;
  return {
    move(points) {
      const p = points.at(-1)!;
      const size = Math.min(2000, Math.max(1, round(2 * Math.hypot(p[0] - first[0], p[1] - first[1]), 0)));
      editor.retouch({ brush: { ...brush, size } });
    },
    end: () => undefined,
    cancel: () => editor.retouch({ brush }),
  };
}
