import type { Point } from "../../../core/document/geometry";
import type { Handle } from "../shapes";

/** Keys that are held while the pointer moves. */
export interface Mods {
  shift: boolean;
  alt: boolean;
}

/** What is drawn over the picture while something is dragged, where the picture itself does not show it. */
export type Trace = "stroke" | "loop" | "line" | "frame" | "oval" | "box";

/** What a tool does between a press and its release; made by the press. Places are the take's, a pen's pressure the third number. Exactly one of `end` and `cancel` comes last. */
export interface Gesture {
  /** Goes on through further places, the newest last. */
  move: (points: Point[], mods: Mods) => void;
  /** The pointer is let go. */
  end: (at: Point, mods: Mods) => void;
  /** Nothing comes of it, and all is as it was before the press. */
  cancel: () => void;
  trace?: Trace;
  /** The handle that goes on being shown. */
  handle?: Handle;
}

/** A move that only looks at the newest place. */
export const newest =
  (run: (p: Point, mods: Mods) => void) =>
  (points: Point[], mods: Mods): void =>
    run(points.at(-1)!, mods);
