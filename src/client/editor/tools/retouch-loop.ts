import type { Point } from "../../../core/document/geometry";
import { round } from "../names";
import { thinned } from "../seen";
import type { Gesture } from "./gesture";

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
