import type { Point } from "../../../core/document/geometry";
import type { EditorState } from "../state/editor";
import { takeOf } from "../state/select";
import { type Gesture, newest } from "./gesture";

/** What a box that is dragged over the picture is for. */
interface ForBox {
  /** The box while it is drawn; its corners, or none. */
  setBox: (ring: Point[]) => void;
  /** It was drawn, from one corner to the other. */
  boxed: (a: Point, b: Point) => void;
}

/** A box dragged over the picture. */
export function ringBoxGesture({ setBox, boxed }: ForBox, first: Point): Gesture {
  return {
    move: newest((p) => setBox([first, [p[0], first[1]], p, [first[0], p[1]], first])),
    end: (at) => boxed(first, at),
    cancel: () => setBox([]),
  };
}

/** The sides of a box within the shot's take: left, top, right, bottom. */
export function sidesOf(s: Pick<EditorState, "shot" | "recipe">, a: Point, b: Point): [number, number, number, number] {
  const { width, height } = takeOf(s).info!;
  return [Math.max(0, Math.min(a[0], b[0])), Math.max(0, Math.min(a[1], b[1])), Math.min(width, Math.max(a[0], b[0])), Math.min(height, Math.max(a[1], b[1]))]; // prettier-ignore
}
