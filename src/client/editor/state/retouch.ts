import type { Area } from "../../../core/document/touch";
import type { Brush, TouchSource } from "../../../core/document/touch";
import type { Outline, Point } from "../../../core/document/geometry";

/** The tools of retouching, in the order of their keys. */
export const BRUSH_TOOLS = ["clone", "uncover", "heal", "graft", "fill", "flat", "restore"] as const;
export type BrushTool = (typeof BRUSH_TOOLS)[number];

/** What is drawn beside touches: the fence, and what helps a fill. */
export type Aid = "fence" | "avoid" | "only" | "guide";

/** Everything about retouching that stays from stroke to stroke and from frame to frame. */
export interface Retouch {
  tool: BrushTool;
  brush: Brush;
  /** Whether a fill or flat is brushed over or drawn round. */
  area: "brush" | "loop";
  /** Width over which a drawn outline's edge goes from 1 to 0. */
  feather: number;
  /** Where each tool takes its picture from; null for the picture that is worked on. */
  from: Partial<Record<BrushTool, TouchSource | null>>;
  /** The source point, and once a stroke was laid, its offset. */
  point: { at: Point; offset: [number, number] | null } | null;
  /** Whether every stroke begins at the source point anew. */
  anew: boolean;
  scale: number;
  angle: number;
  mirror: boolean;
  /** Whether what comes from another picture takes on the light of this one. */
  light: boolean;
  plain: boolean;
  /** On frames: for how many a touch holds, and whether the next frame comes by itself. */
  holds: number;
  stepOn: boolean;
  fence: Outline[];
  avoid: Area[];
  only: Area[];
  guides: [Point, Point][];
  aid: Aid | null;
  /** The loop of a graft that waits to be dragged. */
  loop: Point[];
  /** The touch that is selected. */
  touch: string | null;
  /** A picture laid over what is worked on, half through. */
  veil: { what: "source" | "before" | "after"; share: number } | null;
}

export interface RetouchState {
  retouch: Retouch;
}

export const firstRetouch: Retouch = {
  tool: "clone",
  brush: { size: 60, hardness: 0.5, opacity: 1, flow: 1, spacing: 0.1, pressure: { size: false, opacity: false } },
  area: "brush",
  feather: 4,
  from: {},
  point: null,
  anew: false,
  scale: 1,
  angle: 0,
  mirror: false,
  light: true,
  plain: false,
  holds: 1,
  stepOn: false,
  fence: [],
  avoid: [],
  only: [],
  guides: [],
  aid: null,
  loop: [],
  touch: null,
  veil: null,
};
