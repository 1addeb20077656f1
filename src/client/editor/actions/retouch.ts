import type { Outline, Point } from "../../../core/document/geometry";
import type { Recipe } from "../../../core/document/recipe";
import type { Touch } from "../../../core/document/touch";
import { touchesAt } from "../../../core/retouch/paint";
import type { Draft } from "../../../recipe/edits";
import { paintById } from "../../../recipe/query";
import type { Painter } from "../../picture/painter";
import { atFrame } from "../counting";
import { newId, round } from "../names";
import { targetOf, offsetFor, sourceOf, takesPoint, takesSource, TITLES } from "../retouch-target";
import { openPaint, openPlate } from "../state/mode";
import type { BrushTool, Retouch } from "../state/retouch";
import { touchesOpen } from "../state/select";
import type { EditorCore } from "./core";

/** Everything that retouching does to the recipe, on a plate or on frames. */
export function createRetouch(core: EditorCore, painter: Painter) {
  const { get, set, commit, notices } = core;
  const change = (part: Partial<Retouch>) => set({ retouch: { ...get().retouch, ...part } });

  /** Changes the list of touches that is open. */
  function onTouches(name: string, run: (list: Draft<Touch>[]) => void, dragging = false): void {
    const [plate, paint] = [openPlate(get()), openPaint(get())];
    const step = (d: Draft<Recipe>) => {
      const list = plate ? d.plates[plate].touches : paint ? paintById(d, paint)?.touches : undefined;
      if (list) run(list);
    };
    if (dragging) core.preview(step);
    else commit(name, step);
  }

  /** Settings of the tool that go into a touch that begins at `start`. */
  function touchFrom(start: Point): Touch {
    const { retouch: r, frame, recipe } = get();
    const paint = openPaint(get());
    const source = takesSource(r.tool) ? sourceOf(r) : null;
    const offset = offsetFor(r, start);
    const bent = takesSource(r.tool) && (offset !== null || source);
    const last = paint ? Math.min(frame + r.holds - 1, paintById(recipe, paint)?.out ?? frame) : frame;
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
    if (openPaint(s) && r.stepOn && s.frame < s.recipe.shot.out) core.goTo(s.frame + r.holds);
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
    const open = openPaint(s);
    const layer = open && paintById(s.recipe, open);
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
    /** Changes settings of retouching. */
    set: change,
    /** Takes up a tool: what was laid before is let go, so that the card shows the tool. */
    takeTool: (tool: BrushTool) => change({ tool, aid: null, loop: [], touch: null }),
    /** The source is the point under the pointer, in this picture. */
    setSourceHere(): void {
      const { pointer } = get();
      if (pointer) change({ point: { at: [round(pointer[0]), round(pointer[1])], offset: null }, touch: null });
    },
    strokeTouch,
    loopTouch,
    layTouch,
    changeTouch,
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
    veil(veil: Retouch["veil"]): void {
      change({ veil });
      core.refresh();
    },
    /** Four other fills of a touch to choose from. */
    tries(touch: Touch): { seed: number; picture: Promise<ImageData> }[] {
      const target = targetOf(get());
      if (!target) return [];
      const first = (touch.seed ?? 0) + 1;
      const seeds = [0, 1, 2, 3].map((k) => first + k);
      return painter.tries(target, touch, seeds, 220).map((picture, i) => ({ seed: seeds[i], picture }));
    },
    /** Shows a touch that is not laid yet. */
    tryTouch(touch: Touch): void {
      const target = targetOf(get());
      if (target) painter.try(target, touch);
    },
  };
}
