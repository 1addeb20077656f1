import type { Mask, Op, Shape } from "../../../core/document/mask";
import type { PatchLayer } from "../../../core/document/layer";
import type { Point } from "../../../core/document/geometry";
import type { Recipe } from "../../../core/document/recipe";
import { fitLoop } from "../../../core/shape/fit";
import { cornered, isSmooth, smoothed, withoutPoint, withPoint } from "../../../core/shape/outline";
import { valueAt } from "../../../core/time/keyed";
import type { Draft } from "../../../recipe/edits";
import { layersOf, layerTitle, maskIn, patchById } from "../../../recipe/query";
import { maskOf } from "../../../core/document/recipe";
import { uploadPicture } from "../../api";
import { newId, round } from "../names";
import { drawnAt, everyOutline, type Holds, isDrawn, type Move, moveShape, NOTHING_PICKED, type Picked, placedAt, shapeName } from "../shapes";
import type { Dragging } from "../state/document";
import type { DrawInto, MaskBrush, MaskTool } from "../state/mask";
import { atStage } from "../state/mode";
import { selectedLayer } from "../state/select";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";

/** How near, in take pixels at 100 %, a fitted outline lies to what was drawn. */
const FIT = 1.5;

/** Everything that is done to the mask of the selected patch. */
export function createMasks(core: EditorCore, patches: ReturnType<typeof createPatches>) {
  const { get, set, commit, preview, notices } = core;

  const title = (l: PatchLayer) => layerTitle(get().recipe, l.id);
  const current = (): { layer: PatchLayer; mask: Mask } | null => {
    const layer = selectedLayer(get());
    return layer && { layer, mask: maskOf(get().recipe, layer) };
  };

  /** Changes the mask of a layer, its own or the one it shares with others. */
  function changeMask(l: PatchLayer, name: string, change: (m: Draft<Mask>) => void, dragging: Dragging = false): void {
    if (!dragging && patches.isLocked(l)) return;
    const run = (d: Draft<Recipe>) => {
      const mine = patchById(d, l.id);
      const m = mine && maskIn(d, mine);
      if (m) change(m);
    };
    if (dragging) preview(run, dragging === "picture");
    else commit(name, run);
  }

  /** Says that a change has made a keyframe, and offers what else could have been meant. */
  function sayKeyed(l: PatchLayer, before: Mask, shapes: readonly number[], again: () => void): void {
    const after = current()?.mask;
    const { frame } = get();
    const frames = (m: Mask | undefined, i: number) => new Set(m?.shapes[i] ? placedAt(m.shapes[i]) : []);
    const fresh = shapes.some((i) => {
      const now = frames(after, i);
      return now.has(frame) && now.size > 1 && !frames(before, i).has(frame);
    });
    if (!fresh) return;
    notices.said(`Keyframe of ${title(l)} at frame ${core.show(frame)}.`, {
      words: "throughout instead",
      run: again,
    });
  }

  /** Changes shapes at the frame shown, by what holds; while dragging nothing is stored. */
  function changeShapes(
    name: string,
    shapes: readonly number[],
    change: (s: Draft<Shape>, index: number, holds: "here" | "throughout") => void,
    dragging: Dragging = false,
  ): void {
    const now = current();
    if (!now) return;
    const { holds } = get();
    // while something is dragged the recipe on the screen has the change already
    const settled = core.settled();
    const was = selectedLayer({ recipe: settled, selection: get().selection });
    const before = was ? maskOf(settled, was) : now.mask;
    const free = shapes.filter((i) => now.mask.shapes[i] && now.mask.shapes[i].locked !== true);
    if (!free.length) return;
    const run = (h: typeof holds) => (m: Draft<Mask>) => free.forEach((i) => m.shapes[i] && change(m.shapes[i], i, h));
    changeMask(now.layer, name, run(holds), dragging);
    if (dragging || holds === "throughout") return;
    sayKeyed(now.layer, before, free, () => {
      core.takeBack(() => changeMask(now.layer, `${name}, throughout`, run("throughout")));
    });
  }

  const pick = (picked: Picked) => set({ picked });
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

  /** Puts a point into an outline at a place of it, at every keyframe. */
  function addPoint(shape: number, segment: number, t: number): void {
    const now = current();
    if (!now || now.mask.shapes[shape]?.locked) return;
    changeMask(now.layer, `Add a point to ${title(now.layer)}`, (m) => everyOutline(m.shapes[shape], (o) => withPoint(o, segment, t)));
    pick({ shapes: [], points: [{ shape, index: segment + 1 }] });
  }

  /** Takes the picked points out at every keyframe, or the picked shapes. */
  function deletePicked(): boolean {
    const now = current();
    const { points, shapes } = get().picked;
    if (!now || (!points.length && !shapes.length)) return false;
    if (points.length) {
      const byShape = [...new Set(points.map((p) => p.shape))].map((i) => [i, points.filter((p) => p.shape === i)] as const);
      for (const [i, list] of byShape) {
        const s = now.mask.shapes[i];
        if (s?.kind === "path" && valueAt(s.points, get().frame).length - list.length < 3) {
          notices.said("An outline needs at least three points: pick the whole shape to delete it.");
          return true;
        }
      }
      changeMask(now.layer, `Delete ${points.length} ${points.length === 1 ? "point" : "points"} of ${title(now.layer)}`, (m) => {
        for (const [i, list] of byShape)
          for (const { index } of list.toSorted((a, b) => b.index - a.index)) everyOutline(m.shapes[i], (o) => withoutPoint(o, index));
      });
    } else {
      if (shapes.length >= now.mask.shapes.length) return false; // the whole mask: that is the patch
      changeMask(now.layer, `Delete ${shapes.length === 1 ? "a shape" : `${shapes.length} shapes`} of ${title(now.layer)}`, (m) => {
        m.shapes = m.shapes.filter((_, i) => !shapes.includes(i));
      });
    }
    pick(NOTHING_PICKED);
    return true;
  }

  /** Makes the picked points smooth, or corners where they all are smooth already. */
  function roundPoints(only?: { shape: number; index: number }): void {
    const now = current();
    const points = only ? [only] : get().picked.points;
    if (!now || !points.length) return;
    const { frame } = get();
    const smooth = points.every(({ shape, index }) => {
      const s = now.mask.shapes[shape];
      return s?.kind === "path" && isSmooth(valueAt(s.points, frame)[index] ?? []);
    });
    changeMask(now.layer, `${smooth ? "Corners" : "Curves"} in ${title(now.layer)}`, (m) => {
      for (const { shape, index } of points) everyOutline(m.shapes[shape], (o) => (smooth ? cornered(o, index) : smoothed(o, index)));
    });
  }

  /** Everything of the mask is picked: all points of its outlines, or its shapes where it has none. */
  function pickAll(): void {
    const now = current();
    if (!now) return;
    const { frame } = get();
    const all = now.mask.shapes.map((s, i) => [s, i] as const).filter(([s]) => isDrawn(s) && !s.locked);
    const points = all.flatMap(([s, shape]) => (s.kind === "path" ? valueAt(s.points, frame).map((_, index) => ({ shape, index })) : []));
    const rest = all.filter(([s]) => s.kind !== "path").map(([, i]) => i);
    pick(rest.length ? { shapes: all.map(([, i]) => i), points: [] } : { shapes: [], points });
  }

  /** Sets something of one shape. */
  function setShape(index: number, name: string, change: (s: Draft<Shape>) => void, dragging: Dragging = false): void {
    const now = current();
    if (now) changeMask(now.layer, name, (m) => m.shapes[index] && change(m.shapes[index]), dragging);
  }
  function orderShape(index: number, to: number): void {
    const now = current();
    if (!now || to < 0 || to >= now.mask.shapes.length || to === index) return;
    changeMask(now.layer, `Order the shapes of ${title(now.layer)}`, (m) => {
      const [s] = m.shapes.splice(index, 1);
      m.shapes.splice(to, 0, s);
    });
    pick({ shapes: [to], points: [] });
  }
  function duplicateShape(index: number): void {
    const now = current();
    if (!now) return;
    const copy = structuredClone(now.mask.shapes[index]);
    changeMask(now.layer, `Duplicate a shape of ${title(now.layer)}`, (m) => void m.shapes.splice(index + 1, 0, copy as Draft<Shape>));
    pick({ shapes: [index + 1], points: [] });
  }

  /** A stroke of the mask's brush; while it is drawn it is only shown. Without a patch it begins one. */
  function paintMask(path: Point[], dragging: Dragging): void {
    const { maskBrush: b, frame, recipe } = get();
    const now = current();
    const frames: { frames?: [number, number] } = b.frames === "all" ? {} : { frames: [frame, b.frames === "this" ? frame : recipe.shot.out] };
    const inverted = !!now?.mask.invert;
    // in a mask that is inside out what is painted is hidden
    const erase = b.erase !== inverted;
    const stroke = {
      brush: {
        ...{ size: b.size, hardness: b.hardness, opacity: b.opacity, flow: 1, spacing: 0.1 },
        ...(b.pressure?.size || b.pressure?.opacity ? { pressure: b.pressure } : {}),
      },
      path: path.map((p) => [...p]),
      ...(erase ? { erase: true } : {}),
      ...frames,
    };
    if (!now) {
      if (dragging) return;
      patches.layPatch({ kind: "painted", op: "add", strokes: [stroke] } as Draft<Shape>);
      return set({ tool: "brush", drawInto: "add", picked: { shapes: [0], points: [] } });
    }
    changeMask(
      now.layer,
      `${b.erase ? "Paint away from" : "Paint on"} the mask of ${title(now.layer)}`,
      (m) => {
        // strokes take away only within their own shape: taking away from drawn shapes is a painted shape that cuts
        const last = m.shapes.at(-1);
        const op: Op = b.erase && last && last.kind !== "painted" ? "cut" : "add";
        const cuts = last?.kind === "painted" && last.op === "cut";
        if (last?.kind === "painted" && !last.locked && last.on !== false)
          last.strokes.push({ ...stroke, ...(cuts ? { erase: !erase || undefined } : {}) });
        else m.shapes.push({ kind: "painted", op, strokes: [op === "cut" ? { ...stroke, erase: undefined } : stroke] });
      },
      dragging,
    );
  }

  /** A painted mask from all hidden, or from all shown. */
  function beginPainted(shown: boolean): void {
    const now = current();
    if (!now) return;
    changeMask(now.layer, `Paint the mask of ${title(now.layer)}, from all ${shown ? "shown" : "hidden"}`, (m) => {
      m.shapes = [{ kind: "painted", op: "add", strokes: [] }];
      if (shown) m.invert = true;
      else delete m.invert;
    });
    set({ tool: "brush", drawInto: "add", picked: NOTHING_PICKED, maskBrush: { ...get().maskBrush, erase: shown } });
  }

  /** A picture as a mask: its alpha where it has some, else its brightness. */
  async function addPicture(file: File): Promise<void> {
    const now = current();
    if (!now) return;
    try {
      const p = await uploadPicture(file);
      const use = p.alpha ? "alpha" : "brightness";
      const op: Op = get().drawInto === "new" ? "add" : (get().drawInto as Op);
      changeMask(now.layer, `Take ${file.name} into the mask of ${title(now.layer)}`, (m) => {
        m.shapes.push({ kind: "picture", op, asset: p.asset, use, name: file.name.slice(0, 200) });
      });
      notices.said(`${file.name} is part of the mask now, by its ${use}.`);
    } catch (e) {
      notices.problem(e instanceof Error ? e.message : String(e));
    }
  }

  /** Lets other layers use this one's mask, too. */
  function shareMask(): void {
    const now = current();
    if (!now || "use" in now.layer.mask) return;
    const id = newId("m");
    commit(`Share the mask of ${title(now.layer)}`, (d) => {
      const l = patchById(d, now.layer.id);
      if (!l) return;
      d.masks = { ...d.masks, [id]: { ...(now.mask as Draft<Mask>), name: title(now.layer) } };
      l.mask = { use: id };
    });
  }
  /** Uses a shared mask, or (null) a copy of it that is this layer's own. */
  function useMask(id: string | null): void {
    const now = current();
    if (!now) return;
    const name = id ? (get().recipe.masks?.[id]?.name ?? id) : title(now.layer);
    commit(id ? `Use the mask of ${name} for ${title(now.layer)}` : `Give ${name} a mask of its own`, (d) => {
      const l = patchById(d, now.layer.id);
      if (!l) return;
      const { name: _, ...own } = structuredClone(now.mask) as Draft<Mask>;
      l.mask = id ? { use: id } : own;
      const used = new Set(layersOf(d).flatMap((x) => (x.kind === "patch" && "use" in x.mask ? [x.mask.use] : [])));
      for (const k of Object.keys(d.masks ?? {})) if (!used.has(k)) delete d.masks![k];
      if (d.masks && !Object.keys(d.masks).length) delete d.masks;
    });
    pick(NOTHING_PICKED);
  }

  return {
    setTool: (tool: MaskTool) => set({ tool }),
    /** Takes up the tool by its place; masks are drawn in stage Patch. */
    takeTool: (tool: MaskTool) => set({ tool, ...(get().mode.stage === "Patch" ? {} : { mode: atStage("Patch") }) }),
    setBrush: (part: Partial<MaskBrush>) => set({ maskBrush: { ...get().maskBrush, ...part } }),
    setInto: (drawInto: DrawInto) => set({ drawInto }),
    setDrawing: (drawing: Point[]) => set({ drawing }),
    setHolds: (holds: Holds) => set({ holds }),
    changeMask,
    changeShapes,
    pick,
    pickAll,
    movePicked,
    layShape,
    layLoop,
    closeOutline,
    addPoint,
    deletePicked,
    roundPoints,
    setShape,
    orderShape,
    duplicateShape,
    paintMask,
    beginPainted,
    addPicture,
    shareMask,
    useMask,
  };
}
