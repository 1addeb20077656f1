import type { Harder } from "../../core/look/harder";
import type { Colour } from "../../core/pixels/colour";
import type { MatchFigures } from "../../core/compose/figures";
import type { Point } from "../../core/document/geometry";
import type { Recipe } from "../../core/document/recipe";
import type { Touch } from "../../core/document/touch";
import type { Rect } from "../../core/pixels/frame";
import type { PictureRef } from "../../core/retouch/plate";
import type { Patch } from "../../recipe/edits";
import type { Take } from "../../wire/take";

/** A picture laid half through over another: a plate or frame, or the mended frame beside; moved by an offset. */
export interface Veil {
  over: PictureRef | { result: number };
  offset: [number, number];
  share: number;
}

/** A part of matching a patch. */
export type MatchPart = "light" | "sharpness" | "seam" | "grain";
/** How a patch is looked at while it is matched: told how far off it is, and without some parts of its matching. */
export interface MatchLook {
  layer: string;
  without: readonly MatchPart[];
}

/** What the viewer shows. */
export type View =
  /** `original`: the frame as it came beside the result. `match`: the patch that is being matched. `framed`: as it is reframed; else in the pixels of the take. */
  | { kind: "result"; veil?: Veil; original?: true; match?: MatchLook; framed?: true }
  /** The result less the original, amplified about mid grey. */
  | { kind: "changed"; gain: number }
  /** The result less that of the frame before (of the first: the one after), amplified about mid grey. */
  | { kind: "changing"; gain: number }
  /** The footage with a hole where a layer covers it, or where all do. */
  | { kind: "hole"; layer: string | null }
  | { kind: "original" }
  | { kind: "matte"; layer: string | null }
  | { kind: "patch"; layer: string }
  | { kind: "plate"; plate: string; veil?: Veil }
  /** A plate over the frame: mixed, or the difference of the two, amplified. */
  | { kind: "compare"; plate: string; how: "over" | "difference"; share: number }
  /** From which frame each area of a built plate comes. */
  | { kind: "origin"; plate: string; grid: { width: number; height: number; cell: number }; labels: [number, number][]; never: [number, number][] };

/** What the picture on the screen is seen through. */
export interface Glass {
  /** A table of colours as text, and how much of it, 0 … 1. */
  table: { text: string; strength: number } | null;
  harder: Harder | null;
  /** How the take is tagged, where it needs a chain of its own to be looked at and is to be seen through that. */
  tagged: Pick<Colour, "transfer" | "primaries"> | null;
}

/** What touches are laid on: a plate, or a frame by way of a paint layer. */
export type RetouchTarget = { plate: string } | { layer: string; frame: number };

/** From the page to the picture worker. */
export type ToWorker =
  | { type: "open"; takes: Record<string, Take>; shot: string }
  | { type: "takes"; takes: Record<string, Take> }
  | { type: "recipe"; recipe: Recipe }
  /** The recipe has been edited: patches of the one that was settled before. */
  | { type: "edit"; patches: Patch[] }
  /** Something is being dragged: patches of the settled recipe, which stays as it is. */
  | { type: "drag"; patches: Patch[] }
  /** `within`: where the picture can differ from that of the wish before; null for anywhere. `shownWidth`: device pixels the picture is wide on the screen. */
  | { type: "show"; seq: number; frame: number; view: View; moving: boolean; within: Rect | null; shownWidth: number }
  | { type: "ahead"; frames: number[] }
  /** What the picture is seen through: a look, and a harder way to look. It changes nothing but what is on the screen. */
  | { type: "glass"; glass: Glass }
  | { type: "thumb"; plate: string; width: number; id: number }
  /** The picture a touch takes from, as it is. */
  | { type: "source"; of: PictureRef; id: number }
  | { type: "stroke"; target: RetouchTarget; touch: Touch }
  | { type: "strokeOn"; points: Point[] }
  | { type: "strokeEnd" }
  /** Shows a touch that is not laid yet, in place of one with its id. */
  | { type: "try"; target: RetouchTarget; touch: Touch }
  /** What a fill would look like with other seeds. */
  | { type: "tries"; target: RetouchTarget; touch: Touch; seeds: number[]; width: number; ids: number[] }
  /** Leaves off the long work in hand. */
  | { type: "stop" };

/** From the picture worker to the page. */
export type FromWorker =
  | {
      type: "picture";
      seq: number;
      frame: number;
      view: View;
      quality: "exact" | "quick";
      width: number;
      height: number;
      data: ArrayBuffer;
      /** The frame as it came, of the same size, where the view asks for it. */
      original?: ArrayBuffer;
      figures?: MatchFigures;
    }
  /** What has changed of the picture that is shown; with `seq` when it answers a wish. */
  | { type: "part"; seq?: number; rect: Rect; data: ArrayBuffer; figures?: MatchFigures }
  | { type: "thumb"; id: number; width: number; height: number; data: ArrayBuffer }
  /** How far the long work in hand is; 1 when there is none (any more). */
  | { type: "working"; share: number }
  | { type: "stopped" }
  | { type: "tried" }
  | { type: "problem"; message: string; seq: number };
