import type { Point } from "../../../core/document/geometry";
import type { Editor } from "../editor";
import type { Gesture } from "./gesture";

/** One drag round a thing that must go. */
export function scoutGesture({ scout }: Pick<Editor, "scout">, first: Point): Gesture {
  const ring: Point[] = [first];
  const clear = () => scout.setRing([]);
  return {
    move(points) {
      ring.push(...points);
      scout.setRing([...ring]);
    },
    end: () => (ring.length > 4 ? void scout.ringed(ring) : clear()),
    cancel: clear,
  };
}
