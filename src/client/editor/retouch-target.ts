import { heldFrame, type Home, type PictureRef, touchSourceRef } from "../../core/retouch/plate";
import type { Point } from "../../core/document/geometry";
import type { TouchSource } from "../../core/document/touch";
import type { RetouchTarget, Veil } from "../picture/protocol";
import { round } from "./names";
import type { EditorState } from "./state/editor";
import { openPaint, openPlate, retouching } from "./state/mode";
import type { BrushTool, Retouch } from "./state/retouch";

/** The names of the tools. */
export const TITLES: Record<BrushTool, string> = {
  clone: "Clone",
  uncover: "Uncover",
  heal: "Heal",
  graft: "Graft",
  fill: "Fill",
  flat: "Flat",
  restore: "Restore",
};

/** Tools that take their picture from a place that can be chosen. */
export const takesSource = (t: BrushTool) => t === "clone" || t === "uncover" || t === "heal" || t === "graft";
/** Tools that take it from a point of that picture. */
export const takesPoint = (t: BrushTool) => t === "clone" || t === "heal";
/** Whether a tool is used by a loop, as things stand. */
export const byLoop = (r: Retouch) => r.tool === "graft" || ((r.tool === "fill" || r.tool === "flat") && r.area === "loop");

/** What is open for retouching, for the picture worker. */
export function targetOf(s: Pick<EditorState, "mode" | "frame">): RetouchTarget | null {
  const [plate, layer] = [openPlate(s), openPaint(s)];
  if (plate) return { plate };
  return layer ? { layer, frame: s.frame } : null;
}

/** The frame a slip counts from. */
export function homeOf(s: Pick<EditorState, "recipe" | "mode" | "frame">): Home {
  const plate = openPlate(s);
  if (plate) return heldFrame(s.recipe.plates[plate]);
  return { take: s.recipe.shot.take, frame: s.frame };
}

/** Where the tool takes its picture from; undefined while that is not chosen. */
export function sourceOf(r: Retouch): TouchSource | null | undefined {
  if (r.tool === "uncover") return r.from.uncover ?? undefined;
  return r.from[r.tool] ?? null;
}

/** The picture the tool reads, where it is another one. */
export function sourceRef(s: EditorState): PictureRef | null {
  const source = sourceOf(s.retouch);
  if (!source || !takesSource(s.retouch.tool)) return null;
  try {
    return touchSourceRef({ id: "", kind: s.retouch.tool, source }, homeOf(s));
  } catch {
    return null;
  }
}

/** By how much the tool's source lies beside the place it is laid on, for a touch that begins at p; null where that is found by itself, or not set. */
export function offsetFor(r: Retouch, p: Point): [number, number] | null {
  if (r.point && takesPoint(r.tool)) return r.point.offset ?? [round(r.point.at[0] - p[0], 0), round(r.point.at[1] - p[1], 0)];
  return null;
}

/** What keeps the tool from being used, as a sentence. */
export function hindrance(s: EditorState): string | null {
  const r = s.retouch;
  const view = s.shown?.view;
  const plate = openPlate(s);
  const there = plate ? view?.kind === "plate" && view.plate === plate : view?.kind === "result" && s.shown?.frame === s.frame;
  if (!there || s.shown?.quality !== "exact") return "The exact picture is not there yet; a moment.";
  if (r.tool === "clone" && !r.point && !sourceOf(r)) return "Point at clean picture and press X to set the source, then paint.";
  if (r.tool === "uncover" && !sourceOf(r)) return "Choose in the card what to uncover: a plate, or a frame.";
  return null;
}

/** What lies over the picture that is worked on. */
export function veilOf(s: EditorState): Veil | undefined {
  const { veil } = s.retouch;
  if (!veil || !retouching(s)) return undefined;
  if (veil.what === "source") {
    const over = sourceRef(s);
    return over ? { over, offset: s.retouch.point?.offset ?? [0, 0], share: veil.share } : undefined;
  }
  const step = veil.what === "before" ? -1 : 1;
  const home = homeOf(s);
  if (!home) return undefined;
  const n = home.frame + step;
  const info = s.shot.takes[home.take]?.info;
  if (!info || n < 0 || n >= info.frames) return undefined;
  return { over: openPaint(s) ? { result: n } : { take: home.take, frame: n }, offset: [0, 0], share: veil.share };
}
