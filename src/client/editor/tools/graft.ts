import type { Point } from "../../../core/document/geometry";
import type { Touch } from "../../../core/document/touch";
import { newId, round } from "../names";
import { touchesOpen } from "../state/select";
import type { Editor } from "../editor";
import type { Gesture } from "./gesture";
import { contains } from "./hit";

/** Drags a loop to good texture: the result is shown all the while, and laid at the end. A graft that is there already is changed. */
export function graftGesture(editor: Editor, first: Point, outline: readonly Point[], old: Touch | null): Gesture {
  const touch = old ?? { ...editor.retouch.loopTouch(outline), id: newId("t") };
  const from = old?.offset ?? [0, 0];
  let offset: [number, number] = [from[0], from[1]];
  const show = () => {
    editor.retouch.set({ loop: outline.map((p) => [p[0] + offset[0], p[1] + offset[1]]) });
    editor.retouch.tryTouch({ ...touch, offset });
  };
  return {
    move(points) {
      const p = points.at(-1)!;
      offset = [round(from[0] + p[0] - first[0], 0), round(from[1] + p[1] - first[1], 0)];
      show();
    },
    end() {
      editor.painter.strokeEnd();
      editor.retouch.set({ loop: [] });
      const moved = Math.hypot(offset[0] - from[0], offset[1] - from[1]) > 0;
      if (!moved) return void editor.retouch.set({ loop: old ? [] : [...outline] });
      if (old && touchesOpen(editor.store.getState()).some((t) => t.id === old.id))
        editor.retouch.changeTouch(old.id, "Drag a graft to other texture", (t) => void (t.offset = offset));
      else editor.retouch.layTouch({ ...touch, offset });
    },
    cancel() {
      editor.painter.strokeEnd();
      editor.retouch.set({ loop: [...outline] });
      editor.refresh();
    },
  };
}

/** Whether a point lies inside an outline (even–odd). */
export const inside = (outline: readonly Point[], p: Point): boolean => contains(Float64Array.from(outline.flatMap(([x, y]) => [x, y])), p);
