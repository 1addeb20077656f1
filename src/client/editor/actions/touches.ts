import type { Point } from "../../../core/document/geometry";
import type { Recipe } from "../../../core/document/recipe";
import type { Touch } from "../../../core/document/touch";
import { touchesAt } from "../../../core/retouch/paint";
import type { Draft } from "../../../recipe/edits";
import { paintById } from "../../../recipe/query";
import { atFrame } from "../counting";
import { newId, round } from "../names";
import { takesPoint, TITLES } from "../retouch-target";
import { openPaint, openPlate } from "../state/mode";
import type { Retouch } from "../state/retouch";
import type { EditorCore } from "./core";
import { createNewTouch } from "./new-touch";

/** Laying touches, and what is done to those that are laid. */
export function createTouches(core: EditorCore, change: (part: Partial<Retouch>) => void) {
  const { get, commit, notices } = core;
  const fresh = createNewTouch(core);

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
    strokeTouch: fresh.strokeTouch,
    loopTouch: fresh.loopTouch,
    layTouch,
    changeTouch,
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
  };
}
