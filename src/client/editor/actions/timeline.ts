import type { Ease } from "../../../core/time/easing";
import type { Draft } from "../../../recipe/edits";
import type { Recipe } from "../../../core/document/recipe";
import { layerById, layerTitle, patchesOf } from "../../../recipe/query";
import { atFrame } from "../counting";
import { easeKeys, keyframesOf, moveKeys, removeKeys } from "../keyframes";
import type { Dragging } from "../state/document";
import { openPaint } from "../state/mode";
import { selectedLayer, touchesOpen } from "../state/select";
import type { KeyframeMark, TimelineState } from "../state/timeline";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";

const rising = (frames: readonly number[]) => [...new Set(frames)].sort((a, b) => a - b);

/** Everything that is done to keyframes picked on the timeline. */
export function createTimeline(core: EditorCore, patches: ReturnType<typeof createPatches>, transport: { stop: () => void }) {
  const { get, set, commit, preview } = core;

  const pickKeyframes = (keyframesPicked: KeyframeMark[]) => set({ keyframesPicked });
  const byLayer = (marks: readonly KeyframeMark[]) =>
    [...new Set(marks.map((k) => k.layer))].map((layer) => [layer, marks.filter((k) => k.layer === layer).map((k) => k.f)] as const);
  const free = () => {
    const { recipe, keyframesPicked } = get();
    return byLayer(keyframesPicked).filter(([id]) => layerById(recipe, id)?.locked !== true);
  };
  const words = () => {
    const marks = get().keyframesPicked;
    const title = layerTitle(get().recipe, marks[0].layer);
    return marks.length === 1 ? `a keyframe of ${title}` : `${marks.length} keyframes${byLayer(marks).length === 1 ? ` of ${title}` : ""}`;
  };
  /** By how much the picked keys can move. */
  const kept = (by: number) => {
    const frames = get().keyframesPicked.map((k) => k.f);
    return Math.max(by, -Math.min(...frames));
  };

  /** The frames at which something begins, ends or has a keyframe: of the selected patch, of all, or of what is painted on the frames. */
  function marks(): number[] {
    const s = get();
    if (openPaint(s)) return rising(touchesOpen(s).flatMap((t) => t.frames ?? []));
    const selected = selectedLayer(s);
    return rising((selected ? [selected] : patchesOf(s.recipe)).flatMap((l) => [l.in, l.out, ...keyframesOf(s.recipe, l)]));
  }

  return {
    pickKeyframes,
    /** Goes to the next such frame on or (−1) back; playing stops. */
    jumpToKeyframe(way: 1 | -1): void {
      const { frame } = get();
      const to = way > 0 ? marks().find((f) => f > frame) : marks().findLast((f) => f < frame);
      if (to === undefined) return;
      transport.stop();
      core.goTo(to);
    },
    setSpan: (span: TimelineState["span"]) => set({ span }),
    setCurve: (curve: string | null) => set({ curve }),
    /** Moves the picked keyframes by so many frames. */
    moveKeyframes(by: number, dragging: Dragging = false): void {
      const marks = get().keyframesPicked;
      if (!marks.length) return;
      const step = kept(by);
      if (!dragging) byLayer(marks).forEach(([id]) => patches.isLocked(layerById(get().recipe, id)!));
      const run = (d: Draft<Recipe>) => free().forEach(([id, frames]) => moveKeys(d, id, frames, step));
      if (dragging) return preview(run);
      commit(`Move ${words()} ${marks.length === 1 ? `to frame ${atFrame(marks[0].f + step)}` : `by ${step}`}`, run);
      pickKeyframes(marks.map((k) => ({ ...k, f: k.f + step })));
    },
    deleteKeyframes(): void {
      if (!get().keyframesPicked.length) return;
      commit(`Delete ${words()}`, (d) => free().forEach(([id, frames]) => removeKeys(d, id, frames)));
      pickKeyframes([]);
    },
    easeKeyframes(ease: Ease, words2: string): void {
      if (!get().keyframesPicked.length) return;
      commit(`Leave ${words()} ${words2}`, (d) => free().forEach(([id, frames]) => easeKeys(d, id, frames, ease)));
    },
  };
}
