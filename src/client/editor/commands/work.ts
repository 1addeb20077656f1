import { NOTHING_PICKED } from "../shapes";
import type { Editor } from "../editor";
import { closeDrawn } from "../tools/follow";
import { retouching } from "../state/mode";
import type { PressCommand } from "./command";

const work = (says: string, keys: string, run: PressCommand["run"]): PressCommand => ({ group: "Work", says, keys, run });

/** Deletes the newest of what is at hand: a point that is being drawn, a touch, keyframes, points, or what is selected. */
function remove(e: Editor): void {
  const s = e.store.getState();
  if (s.drawing.length) e.masks.setDrawing(s.drawing.slice(0, -1));
  else if (retouching(s)) {
    if (s.retouch.touch) e.retouch.deleteTouch(s.retouch.touch);
  } else if (s.keyframesPicked.length) e.timeline.deleteKeyframes();
  else if (s.mode.stage !== "Patch" || !e.masks.deletePicked()) e.patches.removeSelected();
}

/** Leaves what was begun last, one thing at a time. */
function leave(e: Editor): void {
  if (e.history.breakOff()) return;
  const s = e.store.getState();
  if (s.drawing.length && s.mode.stage === "Patch") e.masks.setDrawing([]);
  else if (s.alone) e.view.setAlone(false);
  else if (retouching(s)) {
    const { aid, loop, touch } = s.retouch;
    if (aid || loop.length || touch) e.retouch.set({ aid: null, loop: [], touch: null });
    else e.mode.close();
  } else if (s.keyframesPicked.length || s.picked.points.length) {
    e.timeline.pickKeyframes([]);
    e.masks.pick(NOTHING_PICKED);
  } else e.selection.select(null);
}

/** What changes the recipe, and the way back. */
export const WORK = {
  plate: work("Make this frame a plate", "p", (e) => e.plates.makePlate()),
  paint: work("Paint on the frames", "b", (e) => e.mode.paintFrames()),
  keyframe: work("Opacity keyframe here, on or off", "k", (e) => e.patches.toggleOpacityKeyframe()),
  curve: work("Curve of a value, open or closed", "shift+k", (e) => e.timeline.setCurve(e.store.getState().curve ? null : "opacity")),
  holds: work("Changes of shapes count for this keyframe, or for all", "shift+y", (e) =>
    e.masks.setHolds(e.store.getState().holds === "here" ? "throughout" : "here"),
  ),
  undo: work("Undo", "mod+z", (e) => void e.history.undo()),
  redo: work("Redo", "mod+shift+z", (e) => void e.history.redo()),
  history: work("Everything that was done", "shift+h", (e) => e.view.openDialog("history")),
  copy: work("Copy keyframes, patch or intruder", "mod+c", (_, page) => page.copy()),
  paste: work("Paste them here", "mod+v", (_, page) => page.paste()),
  delete: work("Delete what is selected", "delete,backspace", remove),
  leave: work("Leave off drawing, let go, or leave the plate", "escape", leave),
  close: work("Close the outline or region", "enter", (e, page) => {
    if (!page.pressFocused() && e.store.getState().drawing.length) closeDrawn(e);
  }),
  mend: work("Mend the finding that is looked at", "shift+m", (e) => e.store.getState().mode.stage === "Proof" && e.proving.mendLooked()),
  keys: work("All keys", "shift+slash", (e) => e.view.openDialog("keys")),
} satisfies Record<string, PressCommand>;
