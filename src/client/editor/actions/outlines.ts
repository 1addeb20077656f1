import type { Op, Shape } from "../../../core/document/mask";
import type { PatchLayer } from "../../../core/document/layer";
import type { Point } from "../../../core/document/geometry";
import { fitLoop } from "../../../core/shape/fit";
import type { Draft } from "../../../recipe/edits";
import { maskOf } from "../../../core/document/recipe";
import { round } from "../names";
import { drawnAt, type Move, moveShape, shapeName } from "../shapes";
import type { Dragging } from "../state/document";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";
import type { MaskChanges } from "./mask-changes";
import { createOutlinePoints } from "./outline-points";

/** How near, in take pixels at 100 %, a fitted outline lies to what was drawn. */
const FIT = 1.5;

/** Drawing shapes, and what is done to the points of outlines. */
export function createOutlines(core: EditorCore, patches: Pick<ReturnType<typeof createPatches>, "layPatch">, changes: MaskChanges) {
  const { get, set, notices } = core;
  const { title, current, changeMask, changeShapes } = changes;

  const chosen = (shape: number) => {
    const of = get().picked.points.filter((p) => p.shape === shape);
    return of.length ? new Set(of.map((p) => p.index)) : undefined;
  };

  /** The shapes that a move of what is picked moves. */
  const moved = () => [...new Set([...get().picked.shapes, ...get().picked.points.map((p) => p.shape)])];

  const whatMoves = (l: PatchLayer) => {
    const { points, shapes } = get().picked;
    if (points.length) return `${points.length} ${points.length === 1 ? "point" : "points"} of ${title(l)}`;
    const of = maskOf(get().recipe, l).shapes;
    return of.length > 1 && shapes.length === 1 ? `${shapeName(of[shapes[0]], shapes[0])} of ${title(l)}` : `the shape of ${title(l)}`;
  };

  /** Moves what is picked. */
  function movePicked(m: Move, verb: string, dragging: Dragging = false): void {
    const now = current();
    if (!now) return;
    const { frame } = get();
    changeShapes(`${verb} ${whatMoves(now.layer)}`, moved(), (s, i, holds) => moveShape(s, m, frame, holds, chosen(i)), dragging);
  }

  /** Lays a shape: a part of the selected patch's mask where that is asked, else a new patch. */
  function layShape(shape: Draft<Shape>): void {
    const s = get();
    const now = current();
    const keyed = drawnAt(shape, s.frame, s.holds);
    if (s.drawInto === "new" || !now) {
      patches.layPatch(keyed);
      return set({ tool: "adjust", picked: { shapes: [0], points: [] } });
    }
    const op: Op = s.drawInto;
    const index = now.mask.shapes.length;
    changeMask(
      now.layer,
      `${{ add: "Add", cut: "Cut", cross: "Cross" }[op]} a shape in ${title(now.layer)}`,
      (m) => void m.shapes.push({ ...keyed, op } as Draft<Shape>),
    );
    set({ tool: "adjust", picked: { shapes: [index], points: [] } });
  }

  /** Closes the outline being drawn. */
  function closeOutline(): void {
    const { drawing } = get();
    if (drawing.length && drawing.length < 3) return notices.said("An outline needs at least three points.");
    set({ drawing: [] });
    if (drawing.length) layShape({ kind: "path", op: "add", points: drawing.map((p) => p.map((v) => round(v))) });
  }

  /** A loop drawn by hand: kept by a few good curve points. */
  function layLoop(drawn: readonly Point[], scale: number): void {
    const points = fitLoop(drawn, FIT / Math.min(1, scale));
    if (points.length < 3) return notices.said("Drag once round the thing: the loop closes by itself.");
    layShape({ kind: "path", op: "add", points });
  }

  return {
    ...createOutlinePoints(core, changes),
    movePicked,
    layShape,
    closeOutline,
    layLoop,
  };
}
