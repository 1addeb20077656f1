import type { Point } from "../../../core/document/geometry";
import type { Touch } from "../../../core/document/touch";
import { targetOf } from "../retouch-target";
import type { Editor } from "../editor";
import type { Gesture } from "./gesture";
import { tidy } from "./tidy";

/** Whether the picture can show a stroke of this kind while it is drawn. */
const isLive = (t: Touch) => t.kind === "clone" || t.kind === "uncover" || t.kind === "restore" || (t.kind === "heal" && (!!t.offset || !!t.source));

/** One stroke of the tool; `from` begins it where the last one ended, so that a straight line joins them. */
export function strokeGesture(editor: Editor, first: Point, from: Point | null, ended: (last: Point) => void): Gesture {
  const start = tidy(from ?? first);
  const touch = editor.retouch.strokeTouch(start);
  const target = targetOf(editor.store.getState())!;
  const live = isLive(touch);
  const path: Point[] = [start];
  if (live) {
    editor.painter.stroke(target, touch);
    editor.painter.strokeOn([start]);
  }
  const draw = (points: Point[]) => {
    const fresh = points.map(tidy);
    path.push(...fresh);
    if (live) editor.painter.strokeOn(fresh);
  };
  if (from) draw([first]);
  return {
    trace: live ? undefined : "stroke",
    move: draw,
    end() {
      if (live) editor.painter.strokeEnd();
      editor.retouch.layTouch({ ...touch, path });
      ended(path.at(-1)!);
    },
    cancel() {
      if (live) editor.painter.strokeEnd();
      editor.refresh();
    },
  };
}
