import type { Point } from "../../../core/document/geometry";
import { round } from "../names";
import type { Editor } from "../editor";
import { pixelAspect } from "../state/select";
import { type Gesture, type Mods, newest } from "./gesture";

/** An oval or box from corner to corner; with Shift as high as wide on the screen, with Alt from its middle. */
export function drawGesture(editor: Editor, kind: "oval" | "box", from: Point, scale: number, clicked: () => void): Gesture {
  return {
    trace: kind,
    move: () => undefined,
    end(p, m) {
      const { center, half } = drawnBox(from, p, m, pixelAspect(editor.store.getState()));
      if (half[0] * scale < 2 || half[1] * scale < 2) return clicked();
      const c = center.map((v) => round(v));
      editor.masks.layShape(
        kind === "oval"
          ? { kind: "ellipse", op: "add", center: c, radii: half.map((v) => round(v)) }
          : { kind: "box", op: "add", center: c, size: half.map((v) => round(2 * v)) },
      );
    },
    cancel: () => undefined,
  };
}

/** Middle and half sizes of what a drag from corner to corner draws. @param aspect how much wider than high the pixels are */
export function drawnBox(a: Point, b: Point, m: Mods, aspect: number): { center: [number, number]; half: [number, number] } {
  let [w, h] = [b[0] - a[0], b[1] - a[1]];
  const side = Math.max(aspect * Math.abs(w), Math.abs(h));
  if (m.shift) [w, h] = [(Math.sign(w || 1) * side) / aspect, Math.sign(h || 1) * side];
  if (m.alt) return { center: [a[0], a[1]], half: [Math.abs(w), Math.abs(h)] };
  return { center: [a[0] + w / 2, a[1] + h / 2], half: [Math.abs(w) / 2, Math.abs(h) / 2] };
}

/** A point of the outline being drawn: a click sets a corner, a drag pulls out its arms. */
export function pointGesture(editor: Editor, from: Point, scale: number): Gesture {
  const { drawing } = editor.store.getState();
  const put = (p: Point) => {
    const [dx, dy] = [p[0] - from[0], p[1] - from[1]];
    const pulled = Math.hypot(dx, dy) * scale > 4;
    editor.masks.setDrawing([...drawing, pulled ? [from[0], from[1], -dx, -dy, dx, dy].map((v) => round(v)) : [round(from[0]), round(from[1])]]);
  };
  put(from);
  return { move: newest(put), end: put, cancel: () => editor.masks.setDrawing(drawing) };
}

/** A loop drawn by hand. */
export function loopGesture(editor: Editor, from: Point, scale: number, clicked: () => void): Gesture {
  const drawn: Point[] = [from];
  return {
    trace: "loop",
    move: (points) => void drawn.push(...points),
    end: () => (drawn.length > 4 ? editor.masks.layLoop(drawn, scale) : clicked()),
    cancel: () => undefined,
  };
}
