import type { Point } from "../../../core/document/geometry";
import type { Holds } from "../shapes";
import type { DrawInto, MaskBrush, MaskTool } from "../state/mask";
import { atStage } from "../state/mode";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";
import { createMaskChanges } from "./mask-changes";
import { createOutlines } from "./outlines";
import { createMaskShapes } from "./mask-shapes";

/** Everything that is done to the mask of the selected patch. */
export function createMasks(core: EditorCore, patches: ReturnType<typeof createPatches>) {
  const { get, set } = core;
  const changes = createMaskChanges(core, patches.isLocked);

  return {
    ...createOutlines(core, patches, changes),
    ...createMaskShapes(core, patches, changes),
    changeMask: changes.changeMask,
    changeShapes: changes.changeShapes,
    pick: changes.pick,
    title: changes.title,
    setTool: (tool: MaskTool) => set({ tool, drawing: [] }),
    /** Takes up the tool by its place; masks are drawn in stage Patch. */
    takeTool: (tool: MaskTool) => set({ tool, ...(get().mode.stage === "Patch" ? {} : { mode: atStage("Patch") }) }),
    setBrush: (part: Partial<MaskBrush>) => set({ maskBrush: { ...get().maskBrush, ...part } }),
    setInto: (drawInto: DrawInto) => set({ drawInto }),
    setDrawing: (drawing: Point[]) => set({ drawing }),
    setHolds: (holds: Holds) => set({ holds }),
  };
}
