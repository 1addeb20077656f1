import {
  isPaint,
  isPatch,
  type Brush,
  type Outline,
  type PaintLayer,
  type PatchLayer,
  type Point,
  type Recipe,
  type Touch,
  type TouchSource,
  type Area,
} from "../../core/document";
import type { BuiltAnswer, SeenAnswer, SurveyAnswer } from "../../wire/plate";
import type { ShotDocument } from "../../wire/shot";
import type { Take } from "../../wire/take";
import type { Shown } from "../picture/painter";
import type { Holds, Picked } from "./shapes";

export const STAGES = ["Scout", "Plate", "Patch", "Match", "Proof", "Render"] as const;
export type Stage = (typeof STAGES)[number];

/** The tools of patches and masks, in the order of their keys. */
export const MASK_TOOLS = ["outline", "loop", "oval", "box", "brush", "adjust", "source"] as const;
export type MaskTool = (typeof MASK_TOOLS)[number];

/** The brush of a painted mask. */
export interface MaskBrush {
  size: number;
  hardness: number;
  opacity: number;
  /** What the pen's pressure sets. */
  pressure?: { size?: boolean; opacity?: boolean };
  /** Whether it takes away. */
  erase: boolean;
  /** In which frames a stroke counts. */
  frames: "all" | "this" | "on";
}

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

export type Compare = "frame" | "plate" | "over" | "difference" | "origin";
export type Selection = { kind: "layer"; layer: string } | { kind: "plate"; plate: string } | { kind: "intruder"; intruder: string } | null;
/** What a new shape becomes: a patch of its own, or a part of the selected patch's mask. */
export type DrawInto = "new" | "add" | "cut" | "cross";

export interface Zoom {
  /** Screen pixels per picture pixel; null fits the whole picture. */
  scale: number | null;
  /** The take point in the middle of the viewer. */
  x: number;
  y: number;
}

/** What was found about intruders, by their ids. */
export type Found = Record<string, SeenAnswer>;

/** Something that is being done for this page. */
export interface Work {
  id: string;
  name: string;
  done: number;
  total: number;
}

/** A keyframe that is picked on the timeline: all that a layer has at a frame. */
export interface KeyMark {
  layer: string;
  f: number;
}

export interface EditorState {
  shot: Omit<ShotDocument, "recipe" | "rev" | "undo" | "redo">;
  /** The recipe as shown: what is stored, what waits to be stored, and a drag in progress. */
  recipe: Recipe;
  /** The recipe while something is dragged on the picture: the panels follow a moment later, so that the picture never waits for them. */
  dragged: Recipe | null;
  saved: { waiting: number; undo: string | null; redo: string | null; offline: boolean };
  frame: number;
  playing: boolean;
  dropped: number;
  /** How fast it plays: 1 is the true rate, below 0 backward. */
  speed: number;
  loop: boolean;
  /** The stretch that is marked; playing stays within it. */
  marked: { in: number; out: number } | null;
  /** The part of the shot that the timeline shows; null for all of it. */
  span: { from: number; to: number } | null;
  keysPicked: KeyMark[];
  /** The value whose curve is open on the timeline; its name in the layer. */
  curve: string | null;
  looks: Looks;
  /** The picture alone on the whole screen. */
  alone: boolean;
  stage: Stage;
  /** The plate that is open for retouching. */
  plate: string | null;
  /** The paint layer that is open: touches are laid on the frames. */
  paint: string | null;
  selection: Selection;
  tool: MaskTool;
  retouch: Retouch;
  drawInto: DrawInto;
  drawing: Point[];
  /** What of the selected patch's mask is picked. */
  picked: Picked;
  holds: Holds;
  /** Whether the shapes of the keyframes beside are drawn, too. */
  ghosts: boolean;
  maskBrush: MaskBrush;
  /** A loop being drawn round a thing, free-hand. */
  ring: Point[];
  survey: SurveyAnswer | null;
  /** What was found about intruders, by their ids. */
  found: Found;
  /** What built plates were made of, by their ids. */
  builds: Record<string, BuiltAnswer>;
  work: Work | null;
  /** What is looked at while a plate is selected: the frame, the plate, one over the other, their difference, or where the plate comes from. */
  compare: { how: Compare; share: number };
  handles: boolean;
  peek: "original" | "matte" | "patch" | "hole" | null;
  zoom: Zoom;
  shown: Shown | null;
  conflict: { mine: string; theirs: string; answer: (a: "mine" | "theirs") => void } | null;
  dialog: "keys" | "history" | null;
}

/** Whether a change is still being dragged, in a panel or on the picture. */
export type Dragging = boolean | "picture";
/** Where to say that something went wrong, or was done. */
export interface Notices {
  problem(message: string): void;
  said(message: string, instead?: { words: string; run: () => void }): void;
  /** What was offered beside the last edit is offered no more: another edit has come. */
  ended?(): void;
}

export const takeOf = (s: Pick<EditorState, "shot" | "recipe">): Take => s.shot.takes[s.recipe.shot.take];

export function selectedLayer(s: Pick<EditorState, "recipe" | "selection">): PatchLayer | null {
  const { selection } = s;
  if (selection?.kind !== "layer") return null;
  return (
    s.recipe.intruders
      .flatMap((i) => i.layers)
      .filter(isPatch)
      .find((l) => l.id === selection.layer) ?? null
  );
}

export function layerTitle(r: Recipe, id: string): string {
  return r.intruders.find((i) => i.layers.some((l) => l.id === id))?.name ?? "patch";
}

export function selectedPaint(s: Pick<EditorState, "recipe" | "selection">): PaintLayer | null {
  const { selection } = s;
  return selection?.kind === "layer" ? paintLayer(s.recipe, selection.layer) : null;
}

export const paintLayer = (r: Recipe, id: string): PaintLayer | null =>
  r.intruders
    .flatMap((i) => i.layers)
    .filter(isPaint)
    .find((l) => l.id === id) ?? null;

/** The touches that are worked on: the open plate's, or the open paint layer's. */
export function touchesOpen(s: Pick<EditorState, "recipe" | "plate" | "paint">): readonly Touch[] {
  if (s.plate) return s.recipe.plates[s.plate]?.touches ?? [];
  return s.paint ? (paintLayer(s.recipe, s.paint)?.touches ?? []) : [];
}

/** Whether something is open for retouching. */
export const retouching = (s: Pick<EditorState, "plate" | "paint">) => s.plate !== null || s.paint !== null;
