import type { Point } from "../../../core/document/geometry";
import type { Editor } from "../editor";
import { pixelAspect } from "../state/select";
import { type Gesture, newest } from "./gesture";

/** The size of a brush, in whole pixels, whose ring is pulled from its middle to a place. @param aspect how much wider than high they are */
export const ringSize = (middle: Point, p: Point, aspect: number): number =>
  Math.min(2000, Math.max(1, Math.round(2 * Math.hypot(aspect * (p[0] - middle[0]), p[1] - middle[1]))));

/** Pulls the brush's ring to its size: from its middle outwards. */
export function ringGesture(editor: Editor, first: Point): Gesture {
  const { brush } = editor.store.getState().retouch;
  const aspect = pixelAspect(editor.store.getState());
  return {
    move: newest((p) => editor.retouch.set({ brush: { ...brush, size: ringSize(first, p, aspect) } })),
    end: () => undefined,
    cancel: () => editor.retouch.set({ brush }),
  };
}
