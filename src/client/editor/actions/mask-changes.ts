import type { Mask, Shape } from "../../../core/document/mask";
import type { PatchLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import type { Draft } from "../../../recipe/edits";
import { layerTitle, maskIn, patchById } from "../../../recipe/query";
import { maskOf } from "../../../core/document/recipe";
import { type Picked, placedAt } from "../shapes";
import type { Dragging } from "../state/document";
import { selectedLayer } from "../state/select";
import type { EditorCore } from "./core";

/** Changing the mask of the selected patch: all else that is done to masks goes through here. */
export function createMaskChanges(core: EditorCore, isLocked: (l: PatchLayer) => boolean) {
  const { get, set, commit, preview, notices } = core;

  const title = (l: PatchLayer) => layerTitle(get().recipe, l.id);

  const current = (): { layer: PatchLayer; mask: Mask } | null => {
    const layer = selectedLayer(get());
    return layer && { layer, mask: maskOf(get().recipe, layer) };
  };

  /** Changes the mask of a layer, its own or the one it shares with others. */
  function changeMask(l: PatchLayer, name: string, change: (m: Draft<Mask>) => void, dragging: Dragging = false): void {
    if (!dragging && isLocked(l)) return;
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
      words: "all keyframes",
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
      core.takeBack(() => changeMask(now.layer, `${name}, at all keyframes`, run("throughout")));
    });
  }

  const pick = (picked: Picked) => set({ picked });

  return {
    title,
    current,
    changeMask,
    changeShapes,
    pick,
  };
}
export type MaskChanges = ReturnType<typeof createMaskChanges>;
