import type { Point } from "../../../core/document/geometry";
import type { Editor } from "../editor";
import { type Gesture, newest } from "./gesture";

/** A box dragged over a flat area, whose grain is measured. */
export function flatBoxGesture({ matching }: Pick<Editor, "matching">, first: Point): Gesture {
  return {
    move: newest((p) => matching.setBox([first, [p[0], first[1]], p, [first[0], p[1]], first])),
    end: (at) => matching.boxed(first, at),
    cancel: () => matching.setBox([]),
  };
}
