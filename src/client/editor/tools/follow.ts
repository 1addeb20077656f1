import type { Point } from "../../../core/document/geometry";
import type { Place } from "../../../core/follow/homography";
import type { Editor } from "../editor";
import { type Gesture, newest } from "./gesture";
import { ringBoxGesture } from "./ring-box";

/** The corner of a track's region under the pointer, or its inside. @param near pixels of the take that are near */
export function cornerAt(corners: readonly Place[], p: Point, near: number): number | null {
  let best: { i: number; d: number } | null = null;
  corners.forEach(([x, y], i) => {
    const d = Math.hypot(p[0] - x, p[1] - y);
    if (d < near && (!best || d < best.d)) best = { i, d };
  });
  return (best as { i: number } | null)?.i ?? null;
}

/** A box dragged round what is to be followed; or, by clicks, the corners of a region. @param near pixels of the take within which it is a click */
export const regionGesture = ({ following }: Pick<Editor, "following">, first: Point, near: number): Gesture =>
  ringBoxGesture({ setBox: following.setBox, boxed: (a, b) => following.boxed(a, b, near) }, first);

/** Ends what is drawn corner by corner: an outline, or a region that is followed. */
export function closeDrawn({ store, masks, following }: Pick<Editor, "store" | "masks" | "following">): void {
  if (store.getState().tool === "follow") following.closeRegion();
  else masks.closeOutline();
}

/** A corner of a track's region put where it belongs at this frame; with Shift, the whole region. */
export function cornerGesture(
  { following, cancelPreview }: Pick<Editor, "following" | "cancelPreview">,
  id: string,
  corners: readonly Place[],
  grip: number,
  first: Point,
  whole: boolean,
): Gesture {
  const put = (p: Point) => {
    const [dx, dy] = [p[0] - first[0], p[1] - first[1]];
    return corners.map(([x, y], i): Place => (whole || i === grip ? [x + dx, y + dy] : [x, y]));
  };
  return {
    move: newest((p) => following.setCorners(id, put(p), true)),
    end(at) {
      cancelPreview();
      if (Math.hypot(at[0] - first[0], at[1] - first[1]) > 0) following.setCorners(id, put(at), false);
    },
    cancel: cancelPreview,
  };
}
