import { isPaint, type Outline, type Point, type Touch, type TouchSource } from "../../core/document";
import { heldFrame, type Home, type PictureRef, touchSourceRef } from "../../core/retouch/plate";
import { touchesAt } from "../../core/retouch/paint";
import type { Draft } from "../../recipe/edits";
import type { Painter } from "../picture/painter";
import type { Desk, Veil } from "../picture/protocol";
import type { EditorCore } from "./core";
import { atFrame } from "./counting";
import { newId, round } from "./names";
import { type EditorState, type BrushTool, paintLayer, type Retouch, retouching, touchesOpen } from "./state";

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
export function deskOf(s: Pick<EditorState, "plate" | "paint" | "frame">): Desk | null {
  if (s.plate) return { plate: s.plate };
  return s.paint ? { layer: s.paint, frame: s.frame } : null;
}

/** The frame a slip counts from. */
export function homeOf(s: Pick<EditorState, "recipe" | "plate" | "paint" | "frame">): Home {
  if (s.plate) return heldFrame(s.recipe.plates[s.plate]);
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
  const there = s.plate ? view?.kind === "plate" && view.plate === s.plate : view?.kind === "result" && s.shown?.frame === s.frame;
  if (!there || s.shown?.quality !== "exact") return "The exact picture is not there yet; a moment.";
  if (r.tool === "clone" && !r.point && !sourceOf(r)) return "Point at clean picture and press X to set the source, then paint.";
  if (r.tool === "uncover" && !sourceOf(r)) return "Choose in the card what to uncover: a plate, or a frame.";
  return null;
}

/** Everything that retouching does to the recipe, on a plate or on frames. */
export function createRetouching(core: EditorCore, painter: Painter) {
  const { get, set, commit, notices } = core;
  const change = (part: Partial<Retouch>) => set({ retouch: { ...get().retouch, ...part } });

  /** Changes the list of touches that is open. */
  function onTouches(name: string, run: (list: Draft<Touch>[]) => void, dragging = false): void {
    const { plate, paint } = get();
    const step = (d: Parameters<Parameters<typeof commit>[1]>[0]) => {
      const list = plate ? d.plates[plate].touches : d.intruders.flatMap((i) => i.layers).find((l) => l.id === paint && l.kind === "paint");
      if (list) run((Array.isArray(list) ? list : (list as { touches: Draft<Touch>[] }).touches) as Draft<Touch>[]);
    };
    if (dragging) core.preview(step);
    else commit(name, step);
  }

  /** Settings of the tool that go into a touch that begins at `start`. */
  function touchFrom(start: Point): Touch {
    const { retouch: r, paint, frame, recipe } = get();
    const source = takesSource(r.tool) ? sourceOf(r) : null;
    const offset = offsetFor(r, start);
    const bent = takesSource(r.tool) && (offset !== null || source);
    const last = paint ? Math.min(frame + r.holds - 1, paintLayer(recipe, paint)?.out ?? frame) : frame;
    return {
      id: newId("t"),
      kind: r.tool,
      ...(paint ? { frames: [frame, last] as [number, number] } : {}),
      ...(source ? { source } : {}),
      ...(offset ? { offset } : {}),
      ...(bent && r.scale !== 1 ? { scale: r.scale } : {}),
      ...(bent && r.angle ? { angle: r.angle } : {}),
      ...(bent && r.mirror ? { mirror: true } : {}),
      ...(source && r.light ? { light: true } : {}),
      ...(r.fence.length ? { fence: r.fence } : {}),
      ...(r.tool === "fill" && r.avoid.length ? { avoid: r.avoid } : {}),
      ...(r.tool === "fill" && r.only.length ? { only: r.only } : {}),
      ...(r.tool === "fill" && r.guides.length ? { guides: r.guides } : {}),
      ...(r.tool === "flat" && r.plain ? { plain: true } : {}),
    };
  }
  const brushed = (): Touch["brush"] => {
    const { pressure, ...brush } = get().retouch.brush;
    return pressure?.size || pressure?.opacity ? { ...brush, pressure } : brush;
  };

  /** A stroke's touch, before its path. */
  const strokeTouch = (start: Point): Touch => ({ ...touchFrom(start), brush: brushed() });
  const loopTouch = (outline: Outline): Touch => ({
    ...touchFrom(outline[0]),
    outline,
    ...(get().retouch.feather ? { feather: get().retouch.feather } : {}),
  });

  /** Lays a touch: one entry of the history. */
  function layTouch(touch: Touch): void {
    const s = get();
    const r = s.retouch;
    onTouches(
      `${TITLES[touch.kind]} ${touch.outline ? "an area" : touch.path!.length > 1 ? "stroke" : "dab"}${touch.frames ? ` on frame ${atFrame(touch.frames[0])}` : ""}`,
      (list) => void list.push(touch as Draft<Touch>),
    );
    // the source travels on with the brush unless every stroke begins at it anew
    if (r.point && !r.point.offset && !r.anew && touch.offset && takesPoint(r.tool)) change({ point: { ...r.point, offset: touch.offset } });
    change({ loop: [], touch: touch.kind === "graft" || touch.kind === "fill" ? touch.id : null });
    if (s.paint && r.stepOn && s.frame < s.recipe.shot.out) core.goTo(s.frame + r.holds);
  }

  function changeTouch(id: string, name: string, run: (t: Draft<Touch>) => void, dragging = false): void {
    onTouches(
      name,
      (list) => {
        const t = list.find((x) => x.id === id);
        if (t) run(t);
      },
      dragging,
    );
  }

  /** Opens a paint layer for painting on frames; null closes it. */
  function openPaint(id: string | null): void {
    const s = get();
    set({
      paint: id,
      plate: null,
      stage: "Patch",
      drawing: [],
      peek: null,
      selection: id ? { kind: "layer", layer: id } : s.selection,
      retouch: { ...s.retouch, point: null, touch: null, loop: [], aid: null, veil: null },
    });
    if (id) fenceBars();
    core.refresh();
  }

  /** Opens the selected intruder's paint layer; makes one where there is none. */
  function paintFrames(): void {
    const s = get();
    const { selection: sel, recipe } = s;
    const home =
      sel?.kind === "intruder"
        ? recipe.intruders.find((i) => i.id === sel.intruder)
        : sel?.kind === "layer"
          ? recipe.intruders.find((i) => i.layers.some((l) => l.id === sel.layer))
          : undefined;
    const old = home?.layers.find(isPaint) ?? (home ? undefined : recipe.intruders.flatMap((i) => i.layers).find(isPaint));
    if (old) return openPaint(old.id);
    const id = newId("l");
    const layer = { id, kind: "paint" as const, in: recipe.shot.in, out: recipe.shot.out, touches: [] };
    commit(home ? `Paint on the frames of ${home.name}` : "Paint on frames", (d) => {
      const i = home && d.intruders.find((x) => x.id === home.id);
      if (i) i.layers.push(layer);
      else d.intruders.push({ id: newId("i"), name: "Painted", layers: [layer] });
    });
    openPaint(id);
  }

  /** What the survey found of bars is fenced off, unless a fence is there already. */
  function fenceBars(): void {
    const { survey, shot, recipe, retouch } = get();
    const bars = survey?.survey?.bars;
    const info = shot.takes[recipe.shot.take].info;
    if (!bars || !info || retouch.fence.length || bars.left + bars.top + bars.right + bars.bottom === 0) return;
    const [x0, y0, x1, y1] = [bars.left, bars.top, info.width - bars.right, info.height - bars.bottom];
    change({
      fence: [
        [
          [x0, y0],
          [x1, y0],
          [x1, y1],
          [x0, y1],
        ],
      ],
    });
    notices.said("The bars of the picture are fenced off: nothing is painted on them.");
  }

  /** Lays what was painted on the frame before on this one, too; with a point, moved so that its first touch begins there. */
  function carry(to: Point | null): void {
    const s = get();
    const layer = s.paint && paintLayer(s.recipe, s.paint);
    if (!layer) return;
    const before = touchesAt(layer, s.frame - 1).filter((t) => !t.frames || t.frames[1] < s.frame);
    if (!before.length) return notices.said(`Nothing was painted on frame ${core.show(s.frame - 1)} that does not hold on already.`);
    const start = (before[0].path ?? before[0].outline)![0];
    const [dx, dy] = to ? [round(to[0] - start[0]), round(to[1] - start[1])] : [0, 0];
    const moved = (p: Point): Point => [round(p[0] + dx), round(p[1] + dy), ...p.slice(2)];
    onTouches(`Carry ${before.length === 1 ? "a touch" : `${before.length} touches`} on to frame ${atFrame(s.frame)}`, (list) => {
      for (const t of before)
        list.push({
          ...structuredClone(t),
          id: newId("t"),
          frames: [s.frame, s.frame],
          ...(t.path ? { path: t.path.map(moved) } : {}),
          ...(t.outline ? { outline: t.outline.map(moved) } : {}),
        } as Draft<Touch>);
    });
  }

  return {
    retouch: change,
    /** Takes up a tool: what was laid before is let go, so that the card shows the tool. */
    takeTool: (tool: BrushTool) => change({ tool, aid: null, loop: [], touch: null }),
    strokeTouch,
    loopTouch,
    layTouch,
    changeTouch,
    openPaint,
    paintFrames,
    fenceBars,
    carry,
    deleteTouch(id: string): void {
      onTouches(
        "Delete a touch",
        (list) =>
          void list.splice(
            list.findIndex((t) => t.id === id),
            1,
          ),
      );
      if (get().retouch.touch === id) change({ touch: null });
    },
    /** Moves a touch `by` places in the order in which touches are laid. */
    moveTouch(id: string, by: number): void {
      onTouches(`Lay a touch ${by < 0 ? "earlier" : "later"}`, (list) => {
        const i = list.findIndex((t) => t.id === id);
        const to = Math.min(list.length - 1, Math.max(0, i + by));
        list.splice(to, 0, ...list.splice(i, 1));
      });
    },
    /** Moves the source of the selected touch, else that of the tool, by pixels. */
    nudgeSource(dx: number, dy: number): void {
      const s = get();
      const r = s.retouch;
      const t = r.touch ? touchesOpen(s).find((x) => x.id === r.touch) : undefined;
      if (t?.offset) return changeTouch(t.id, "Move a touch's source", (d) => void (d.offset = [t.offset![0] + dx, t.offset![1] + dy]));
      if (!r.point) return;
      const offset = r.point.offset && ([r.point.offset[0] + dx, r.point.offset[1] + dy] as [number, number]);
      change({ point: { at: [r.point.at[0] + dx, r.point.at[1] + dy], offset } });
    },
    /** What lies over the picture that is worked on. */
    veilOf(s: EditorState): Veil | undefined {
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
      return { over: s.paint ? { result: n } : { take: home.take, frame: n }, offset: [0, 0], share: veil.share };
    },
    veil(veil: Retouch["veil"]): void {
      change({ veil });
      core.refresh();
    },
    /** Four other fills of a touch to choose from. */
    tries(touch: Touch): { seed: number; picture: Promise<ImageData> }[] {
      const desk = deskOf(get());
      if (!desk) return [];
      const first = (touch.seed ?? 0) + 1;
      const seeds = [0, 1, 2, 3].map((k) => first + k);
      return painter.tries(desk, touch, seeds, 220).map((picture, i) => ({ seed: seeds[i], picture }));
    },
    /** Shows a touch that is not laid yet. */
    tryTouch(touch: Touch): void {
      const desk = deskOf(get());
      if (desk) painter.try(desk, touch);
    },
  };
}
