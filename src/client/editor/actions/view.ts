import { isReframe } from "../../../core/document/layer";
import { layersOf } from "../../../recipe/query";
import type { MatchPart, View } from "../../picture/protocol";
import type { EditorState } from "../state/editor";
import { openPlate } from "../state/mode";
import { selectedReframe } from "../state/select";
import type { Compare, ViewState, Zoom } from "../state/view";
import { veilOf } from "../retouch-target";
import type { EditorCore } from "./core";

/** What is looked at, and how. */
export function createView({ get, set, refresh }: EditorCore) {
  return {
    setZoom: (zoom: Zoom) => set({ zoom }),
    /** Whether the picture is shown as it is reframed, while that is selected. */
    setFramed(framed: boolean): void {
      set({ framed });
      refresh();
    },
    setAlone: (alone: boolean) => set({ alone }),
    setHandles: (handles: boolean) => set({ handles }),
    setGhosts: (ghosts: boolean) => set({ ghosts }),
    /** A key is held down that changes what the pointer does. */
    hold: (what: keyof ViewState["holding"], down: boolean) => get().holding[what] !== down && set({ holding: { ...get().holding, [what]: down } }),
    /** The pointer is over the picture, at a point of the take, or (null) is not. */
    pointAt: (pointer: ViewState["pointer"]) => set({ pointer }),
    openDialog: (dialog: ViewState["dialog"]) => set({ dialog }),
    /** How a selected plate is looked at. */
    look(compare: Partial<{ how: Compare; share: number }>): void {
      set({ compare: { ...get().compare, ...compare } });
      refresh();
    },
    /** How the result is looked at against the original. */
    lookAgainst(looks: Partial<ViewState["looks"]>): void {
      set({ looks: { ...get().looks, ...looks } });
      refresh();
    },
    /** A part of matching is shown, or left out of the picture on the screen. */
    hideMatch(part: MatchPart, hidden: boolean): void {
      set({ matchHidden: [...get().matchHidden.filter((p) => p !== part), ...(hidden ? [part] : [])] });
      refresh();
    },
    setPeek(peek: ViewState["peek"]): void {
      if (get().peek === peek) return;
      set({ peek });
      refresh();
    },
  };
}

/** The plate that is only looked at. */
const lookedPlate = ({ mode, selection }: EditorState): string | null =>
  mode.stage === "Plate" && !mode.plate && selection?.kind === "plate" ? selection.plate : null;

/** Whether the picture is shown as it is reframed: where it is rendered, and where the reframing itself is looked at. */
export const framedNow = (s: Pick<EditorState, "mode" | "framed" | "recipe" | "selection">): boolean =>
  (s.mode.stage === "Render" && layersOf(s.recipe).some(isReframe)) || (s.framed && selectedReframe(s) !== null);

/** What the picture worker is to show for a state of the editor. */
export function viewOf(s: EditorState): View {
  const layer = s.selection?.kind === "layer" ? s.selection.layer : null;
  const open = openPlate(s);
  // the key for the original swaps a plate with the frame it is looked at over
  if (s.peek === "original") return open ? { kind: "plate", plate: open } : { kind: "original" };
  const looked = lookedPlate(s);
  if (looked) {
    const { how, share } = s.compare;
    if (how === "over" || how === "difference") return { kind: "compare", plate: looked, how, share };
    const made = s.builds[looked];
    if (how === "origin" && made) return { kind: "origin", plate: looked, grid: made.grid, labels: made.labels, never: made.never };
    if (how === "plate" || how === "origin" || s.peek === "patch") return { kind: "plate", plate: looked };
  }
  const veil = veilOf(s);
  if (open) return { kind: "plate", plate: open, veil };
  if (s.peek === "matte") return { kind: "matte", layer: null };
  if (s.peek === "hole") return { kind: "hole", layer };
  if (s.peek === "patch" && layer) return { kind: "patch", layer };
  const { against, gain } = s.looks;
  if (s.harder === "time" && !s.peek) return { kind: "changing", gain };
  if (against === "difference" && !s.peek) return { kind: "changed", gain };
  const original = against === "wipe" || against === "beside" ? true : undefined;
  const match = s.mode.stage === "Match" && !s.playing && layer ? { layer, without: s.matchHidden } : undefined;
  return { kind: "result", veil: s.peek || s.playing ? undefined : veil, original, match, framed: framedNow(s) ? true : undefined };
}
