import type { Ease } from "../../core/time/easing";
import type { EditorCore } from "./core";
import { atFrame } from "./counting";
import { easeKeys, moveKeys, removeKeys } from "./keyframes";
import type { createPatches } from "./patches";
import { type Dragging, type KeyMark, layerTitle } from "./state";

/** Everything that is done to keyframes picked on the timeline. */
export function createKeys(core: EditorCore, patches: ReturnType<typeof createPatches>) {
  const { get, set, commit, preview } = core;

  const pickKeys = (keysPicked: KeyMark[]) => set({ keysPicked });
  const byLayer = (marks: readonly KeyMark[]) =>
    [...new Set(marks.map((k) => k.layer))].map((layer) => [layer, marks.filter((k) => k.layer === layer).map((k) => k.f)] as const);
  const free = () => {
    const layers = get().recipe.intruders.flatMap((i) => i.layers);
    return byLayer(get().keysPicked).filter(([id]) => layers.some((l) => l.id === id && !l.locked));
  };
  const words = () => {
    const marks = get().keysPicked;
    const title = layerTitle(get().recipe, marks[0].layer);
    return marks.length === 1 ? `a keyframe of ${title}` : `${marks.length} keyframes${byLayer(marks).length === 1 ? ` of ${title}` : ""}`;
  };
  /** By how much the picked keys can move. */
  const kept = (by: number) => {
    const frames = get().keysPicked.map((k) => k.f);
    return Math.max(by, -Math.min(...frames));
  };

  return {
    pickKeys,
    /** Moves the picked keyframes by so many frames. */
    moveKeysBy(by: number, dragging: Dragging = false): void {
      const marks = get().keysPicked;
      if (!marks.length) return;
      const step = kept(by);
      if (!dragging)
        byLayer(marks).forEach(([id]) =>
          patches.isLocked(
            get()
              .recipe.intruders.flatMap((i) => i.layers)
              .find((l) => l.id === id)!,
          ),
        );
      const run = (d: Parameters<Parameters<typeof commit>[1]>[0]) => free().forEach(([id, frames]) => moveKeys(d, id, frames, step));
      if (dragging) return preview(run);
      commit(`Move ${words()} ${marks.length === 1 ? `to frame ${atFrame(marks[0].f + step)}` : `by ${step}`}`, run);
      pickKeys(marks.map((k) => ({ ...k, f: k.f + step })));
    },
    deleteKeys(): void {
      if (!get().keysPicked.length) return;
      commit(`Delete ${words()}`, (d) => free().forEach(([id, frames]) => removeKeys(d, id, frames)));
      pickKeys([]);
    },
    easeKeysTo(ease: Ease, words2: string): void {
      if (!get().keysPicked.length) return;
      commit(`Leave ${words()} ${words2}`, (d) => free().forEach(([id, frames]) => easeKeys(d, id, frames, ease)));
    },
  };
}
