import type { Touch } from "../../../core/document/touch";
import type { Painter } from "../../picture/painter";
import { round } from "../names";
import { targetOf } from "../retouch-target";
import type { BrushTool, Retouch } from "../state/retouch";
import { touchesOpen } from "../state/select";
import type { EditorCore } from "./core";
import { createTouches } from "./touches";

/** Everything that retouching does to the recipe, on a plate or on frames. */
export function createRetouch(core: EditorCore, painter: Painter) {
  const { get, set, notices } = core;
  const change = (part: Partial<Retouch>) => set({ retouch: { ...get().retouch, ...part } });
  const touches = createTouches(core, change);

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

  return {
    ...touches,
    /** Changes settings of retouching. */
    set: change,
    /** Takes up a tool: what was laid before is let go, so that the card shows the tool. */
    takeTool: (tool: BrushTool) => change({ tool, aid: null, loop: [], touch: null }),
    /** The source is the point under the pointer, in this picture. */
    setSourceHere(): void {
      const { pointer } = get();
      if (pointer) change({ point: { at: [round(pointer[0]), round(pointer[1])], offset: null }, touch: null });
    },
    fenceBars,
    /** Moves the source of the selected touch, else that of the tool, by pixels. */
    nudgeSource(dx: number, dy: number): void {
      const s = get();
      const r = s.retouch;
      const t = r.touch ? touchesOpen(s).find((x) => x.id === r.touch) : undefined;
      if (t?.offset) return touches.changeTouch(t.id, "Move a touch's source", (d) => void (d.offset = [t.offset![0] + dx, t.offset![1] + dy]));
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
