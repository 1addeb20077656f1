import { deskOf } from "../retouching";
import { newId, round } from "../names";
import { thinned } from "../scout";
import type { Editor } from "../store";
import { touchesOpen } from "../state";
import type { Point, Touch } from "../../../core/document";
import type { Gesture } from "./gesture";

const tidy = (p: Point): Point => (p[2] === undefined || p[2] === 1 ? [round(p[0]), round(p[1])] : [round(p[0]), round(p[1]), round(p[2], 3)]);

/** Whether the picture can show a stroke of this kind while it is drawn. */
const isLive = (t: Touch) => t.kind === "clone" || t.kind === "uncover" || t.kind === "restore" || (t.kind === "heal" && (!!t.offset || !!t.source));

/** One stroke of the tool; `from` begins it where the last one ended, so that a straight line joins them. */
export function strokeGesture(editor: Editor, first: Point, from: Point | null, ended: (last: Point) => void): Gesture {
  const start = tidy(from ?? first);
  const touch = editor.strokeTouch(start);
  const desk = deskOf(editor.store.getState())!;
  const live = isLive(touch);
  const path: Point[] = [start];
  if (live) {
    editor.painter.stroke(desk, touch);
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
      editor.layTouch({ ...touch, path });
      ended(path.at(-1)!);
    },
    cancel() {
      if (live) editor.painter.strokeEnd();
      editor.refresh();
    },
  };
}

/** A free-hand loop, kept by a few good points. */
export function loopGesture(first: Point, closed: (outline: Point[]) => void): Gesture {
  const points: Point[] = [first.slice(0, 2)];
  return {
    trace: "loop",
    move: (more) => void points.push(...more.map((p) => [round(p[0]), round(p[1])])),
    end() {
      const kept = thinned(points, 0.5);
      if (kept.length >= 3) closed(kept);
    },
    cancel: () => undefined,
  };
}

/** A stroke of an area that a fill stays away from, or takes from. */
export function areaGesture(editor: Editor, first: Point, which: "avoid" | "only"): Gesture {
  const path: Point[] = [tidy(first)];
  return {
    trace: "stroke",
    move: (points) => void path.push(...points.map(tidy)),
    end() {
      const { retouch } = editor.store.getState();
      const { pressure: _, ...brush } = retouch.brush;
      editor.retouch({ [which]: [...retouch[which], { brush: { ...brush, hardness: 1, opacity: 1, flow: 1 }, path }] });
    },
    cancel: () => undefined,
  };
}

/** A straight line that a fill is to carry on. */
export function guideGesture(editor: Editor, first: Point): Gesture {
  let last = first;
  return {
    trace: "line",
    move: (points) => void (last = points.at(-1)!),
    end() {
      if (Math.hypot(last[0] - first[0], last[1] - first[1]) <= 3) return;
      editor.addAid("guides", [
        [round(first[0]), round(first[1])],
        [round(last[0]), round(last[1])],
      ]);
      // one line a time: left on it would swallow the loop that comes next
      editor.retouch({ aid: null });
    },
    cancel: () => undefined,
  };
}

/** Drags a loop to good texture: the result is shown all the while, and laid at the end. A graft that is there already is changed. */
export function graftGesture(editor: Editor, first: Point, outline: readonly Point[], old: Touch | null): Gesture {
  const touch = old ?? { ...editor.loopTouch(outline), id: newId("t") };
  const from = old?.offset ?? [0, 0];
  let offset: [number, number] = [from[0], from[1]];
  const show = () => {
    editor.set({ retouch: { ...editor.store.getState().retouch, loop: outline.map((p) => [p[0] + offset[0], p[1] + offset[1]]) } });
    editor.tryTouch({ ...touch, offset });
  };
  return {
    move(points) {
      const p = points.at(-1)!;
      offset = [round(from[0] + p[0] - first[0], 0), round(from[1] + p[1] - first[1], 0)];
      show();
    },
    end() {
      editor.painter.strokeEnd();
      editor.retouch({ loop: [] });
      const moved = Math.hypot(offset[0] - from[0], offset[1] - from[1]) > 0;
      if (!moved) return void editor.retouch({ loop: old ? [] : [...outline] });
      if (old && touchesOpen(editor.store.getState()).some((t) => t.id === old.id))
        editor.changeTouch(old.id, "Drag a graft to other texture", (t) => void (t.offset = offset));
      else editor.layTouch({ ...touch, offset });
    },
    cancel() {
      editor.painter.strokeEnd();
      editor.retouch({ loop: [...outline] });
      editor.refresh();
    },
  };
}

/** Pulls the brush's ring to its size: from its middle outwards. */
export function ringGesture(editor: Editor, first: Point): Gesture {
  const { brush } = editor.store.getState().retouch;
  return {
    move(points) {
      const p = points.at(-1)!;
      const size = Math.min(2000, Math.max(1, round(2 * Math.hypot(p[0] - first[0], p[1] - first[1]), 0)));
      editor.retouch({ brush: { ...brush, size } });
    },
    end: () => undefined,
    cancel: () => editor.retouch({ brush }),
  };
}

/** Whether a point lies inside an outline (even–odd). */
export function inside(outline: readonly Point[], [x, y]: Point): boolean {
  let odd = false;
  outline.forEach((a, i) => {
    const b = outline[(i + 1) % outline.length];
    if (a[1] > y !== b[1] > y && x < ((b[0] - a[0]) * (y - a[1])) / (b[1] - a[1]) + a[0]) odd = !odd;
  });
  return odd;
}
