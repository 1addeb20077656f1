import type { Point } from "../../../core/document/geometry";
import { type Holds, NOTHING_PICKED, type Picked } from "../shapes";

/** The tools of patches and masks, in the order of their keys. */
export const MASK_TOOLS = ["outline", "loop", "oval", "box", "brush", "adjust", "source", "follow"] as const;
export type MaskTool = (typeof MASK_TOOLS)[number];

/** The brush of a painted mask. */
export interface MaskBrush {
  /** Diameter in take pixels. */
  size: number;
  /** 0 soft … 1 hard. */
  hardness: number;
  /** 0 … 1. */
  opacity: number;
  /** What the pen's pressure sets. */
  pressure?: { size?: boolean; opacity?: boolean };
  /** Whether it takes away. */
  erase: boolean;
  /** In which frames a stroke counts. */
  frames: "all" | "this" | "on";
}

/** What a new shape becomes: a patch of its own, or a part of the selected patch's mask. */
export type DrawInto = "new" | "add" | "cut" | "cross";

/** Drawing masks. */
export interface MaskState {
  tool: MaskTool;
  drawInto: DrawInto;
  /** Points of the outline that is being drawn. */
  drawing: Point[];
  /** What of the selected patch's mask is picked. */
  picked: Picked;
  /** For which keyframes a change of a shape counts. */
  holds: Holds;
  maskBrush: MaskBrush;
}

export const firstMask: MaskState = {
  tool: "outline",
  drawInto: "new",
  drawing: [],
  picked: NOTHING_PICKED,
  holds: "here",
  maskBrush: { size: 60, hardness: 0.5, opacity: 1, erase: false, frames: "all" },
};
