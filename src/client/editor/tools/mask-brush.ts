import type { Point } from "../../../core/document/geometry";
import { round } from "../names";
import type { Editor } from "../editor";
import { pixelAspect } from "../state/select";
import { ringSize } from "./brush-ring";
import { type Gesture, type Mods, newest } from "./gesture";

/** A stroke of the mask's brush. */
export function brushGesture(editor: Editor, from: Point, mods: Mods): Gesture {
  // a pen's pressure comes with the place
  const kept = (p: Point): Point => [round(p[0]), round(p[1]), ...(p.length > 2 ? [round(p[2], 3)] : [])];
  const path: Point[] = [kept(from)];
  const { maskBrush } = editor.store.getState();
  const other = mods.alt;
  const as = (run: () => void) => {
    if (other) editor.masks.setBrush({ erase: !maskBrush.erase });
    run();
    if (other) editor.masks.setBrush({ erase: maskBrush.erase });
  };
  return {
    move(points) {
      path.push(...points.map(kept));
      as(() => editor.masks.paintMask(path, "picture"));
    },
    end: () => as(() => editor.masks.paintMask(path, false)),
    cancel: editor.cancelPreview,
  };
}

/** Pulls the brush's ring to size. */
export function ringGesture(editor: Editor, from: Point): Gesture {
  const state = editor.store.getState();
  const { maskBrush } = state;
  const size = (p: Point) => editor.masks.setBrush({ size: ringSize(from, p, pixelAspect(state)) });
  return { move: newest(size), end: size, cancel: () => editor.masks.setBrush(maskBrush) };
}
