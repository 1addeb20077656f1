import { NOTHING_PICKED } from "../shapes";
import { atStage } from "../state/mode";
import type { Selection } from "../state/selection";
import type { EditorCore } from "./core";

/** What is selected. */
export function createSelection({ get, set, refresh }: EditorCore) {
  return {
    select(selection: Selection): void {
      const before = get();
      const { mode, peek } = before;
      const other = JSON.stringify(selection) !== JSON.stringify(before.selection);
      set(other ? { selection, picked: NOTHING_PICKED } : { selection });
      const looks = mode.stage === "Plate" && (before.selection?.kind === "plate" || selection?.kind === "plate");
      // its card is shown in the stage it belongs to
      if (mode.stage === "Plate" && !mode.plate && selection && selection.kind !== "plate")
        set({ mode: atStage(selection.kind === "layer" ? "Patch" : "Scout") });
      if (peek || looks) refresh();
    },
  };
}
