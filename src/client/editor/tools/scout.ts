import type { Point } from "../../../core/document";
import type { Editor } from "../store";
import type { Gesture } from "./gesture";

/** One drag round a thing that must go. */
export function scoutGesture(editor: Pick<Editor, "set" | "ringed">, first: Point): Gesture {
  const ring: Point[] = [first];
  const clear = () => editor.set({ ring: [] });
  return {
    move(points) {
      ring.push(...points);
      editor.set({ ring: [...ring] });
    },
    end: () => (ring.length > 4 ? void editor.ringed(ring) : clear()),
    cancel: clear,
  };
}
