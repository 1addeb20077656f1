import type { MatchFigures } from "../../../core/compose/figures";
import type { Harder } from "../../../core/look/harder";
import type { Point } from "../../../core/document/geometry";
import type { Shown } from "../../picture/painter";
import type { MatchPart } from "../../picture/protocol";

/** How the result is looked at against the original. */
export type Against = "off" | "wipe" | "difference" | "beside";
export interface Looks {
  against: Against;
  /** Where the wipe's line stands, 0–1 of the picture, and whether it lies across. */
  wipe: number;
  across: boolean;
  /** How many times a difference is amplified. */
  gain: number;
}

export interface Zoom {
  /** Screen pixels per picture pixel; null fits the whole picture. */
  scale: number | null;
  /** The take point in the middle of the viewer. */
  x: number;
  y: number;
}

/** How a selected plate is looked at: the frame, the plate, one over the other, their difference, or where the plate comes from. */
export type Compare = "frame" | "plate" | "over" | "difference" | "origin";

/** What is looked at, and how. */
export interface ViewState {
  looks: Looks;
  /** The picture alone on the whole screen. */
  alone: boolean;
  /** `share`: how much of the plate is seen over the frame, 0–1. */
  compare: { how: Compare; share: number };
  handles: boolean;
  /** Whether the picture is shown as it is reframed, while that is selected. */
  framed: boolean;
  /** Whether the shapes of the keyframes beside are drawn, too. */
  ghosts: boolean;
  /** What is looked at while a key is held. */
  peek: "original" | "matte" | "patch" | "hole" | null;
  /** A harder way in which the picture is looked at; `time`: what differs from the frame before. */
  harder: Harder | "time" | null;
  /** Whether a PQ, HLG or log take is shown by its bare code values. */
  asRecorded: boolean;
  /** Keys that are held down: the picture is dragged, the brush's ring is pulled, a stroke goes straight. */
  holding: { grab: boolean; ring: boolean; straight: boolean };
  /** Where on the take the pointer is, while it is over a surface that is retouched. */
  pointer: Point | null;
  zoom: Zoom;
  /** The picture on the screen. */
  shown: Shown | null;
  /** Whether it is not yet exactly what was asked for last. */
  behind: boolean;
  dialog: "keys" | "history" | null;
  /** How far off the selected patch still is from what surrounds it, on the frame shown. */
  figures: MatchFigures | null;
  /** Parts of its matching that are not shown; the recipe keeps them. */
  matchHidden: readonly MatchPart[];
}

export const firstView: ViewState = {
  looks: { against: "off", wipe: 0.5, across: false, gain: 8 },
  alone: false,
  compare: { how: "frame", share: 0.5 },
  handles: true,
  framed: true,
  ghosts: true,
  peek: null,
  harder: null,
  asRecorded: false,
  holding: { grab: false, ring: false, straight: false },
  pointer: null,
  zoom: { scale: null, x: 0, y: 0 },
  shown: null,
  behind: false,
  dialog: null,
  figures: null,
  matchHidden: [],
};
