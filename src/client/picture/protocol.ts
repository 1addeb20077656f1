import type { Point, Recipe, Touch } from "../../core/document";
import type { Rect } from "../../core/pixels/frame";
import type { Take } from "../../wire/take";

/** What the viewer shows. */
export type View =
  | { kind: "result" }
  | { kind: "original" }
  | { kind: "matte"; layer: string | null }
  | { kind: "patch"; layer: string }
  | { kind: "plate"; plate: string }
  /** A plate over the frame: mixed, or the difference of the two, amplified. */
  | { kind: "compare"; plate: string; how: "over" | "difference"; share: number }
  /** From which frame each area of a built plate comes. */
  | { kind: "origin"; plate: string; grid: { width: number; height: number; cell: number }; labels: [number, number][]; never: [number, number][] };

/** From the page to the picture worker. */
export type ToWorker =
  | { type: "open"; takes: Record<string, Take>; shot: string }
  | { type: "takes"; takes: Record<string, Take> }
  | { type: "recipe"; recipe: Recipe }
  /** `within`: where the picture can differ from that of the wish before; null for anywhere. */
  | { type: "show"; seq: number; frame: number; view: View; moving: boolean; within: Rect | null }
  | { type: "ahead"; frames: number[] }
  | { type: "thumb"; plate: string; width: number; id: number }
  | { type: "stroke"; plate: string; touch: Touch }
  | { type: "strokeOn"; points: Point[] }
  | { type: "strokeEnd" };

/** From the picture worker to the page. */
export type FromWorker =
  | { type: "picture"; seq: number; frame: number; view: View; quality: "exact" | "quick"; width: number; height: number; data: ArrayBuffer }
  /** What has changed of the picture that is shown; with `seq` when it answers a wish. */
  | { type: "part"; seq?: number; rect: Rect; data: ArrayBuffer }
  | { type: "thumb"; id: number; width: number; height: number; data: ArrayBuffer }
  | { type: "problem"; message: string; seq: number };
