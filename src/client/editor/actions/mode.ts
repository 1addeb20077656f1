import { isPaint, type PaintLayer } from "../../../core/document/layer";
import { intruderById, intruderOf, paintsOf } from "../../../recipe/query";
import { newId } from "../names";
import { atStage, type Mode, openPlate, retouching, type Stage } from "../state/mode";
import type { EditorCore } from "./core";
import type { createRetouch } from "./retouch";

/** Going from stage to stage, and opening plates and paint layers for retouching. */
export function createMode(core: EditorCore, retouch: ReturnType<typeof createRetouch>) {
  const { get, set, commit } = core;

  /** Whatever was begun on what was open before is let go. */
  function open(mode: Mode, selection = get().selection): void {
    set({ mode, selection, drawing: [], peek: null, retouch: { ...get().retouch, point: null, touch: null, loop: [], aid: null, veil: null } });
    if (retouching(get())) retouch.fenceBars();
    core.refresh();
  }

  /** Opens a plate for retouching; null closes what is open, and the work goes on with patches. */
  function openPlateFor(id: string | null): void {
    if (id) open({ stage: "Plate", plate: id }, { kind: "plate", plate: id });
    else open(atStage("Patch"));
  }

  /** Opens a paint layer for painting on frames; null closes it. */
  function openPaintFor(id: string | null): void {
    if (id) open({ stage: "Patch", paint: id }, { kind: "layer", layer: id });
    else open(atStage("Patch"));
  }

  return {
    openPlate: openPlateFor,
    openPaint: openPaintFor,
    /** Closes the plate or paint layer that is open. */
    close: () => (openPlate(get()) ? openPlateFor(null) : openPaintFor(null)),
    setStage(stage: Stage): void {
      const s = get();
      // what is open in a stage stays open there; an outline that is being drawn waits for its stage
      const leave = retouching(s) && stage !== s.mode.stage;
      if (stage === s.mode.stage) set({ mode: s.mode });
      else set({ mode: atStage(stage), ...(leave ? { retouch: { ...s.retouch, veil: null, touch: null, loop: [] } } : {}) });
      core.refresh();
    },
    /** Opens the selected intruder's paint layer; makes one where there is none. */
    paintFrames(): void {
      const { selection: sel, recipe } = get();
      const home = sel?.kind === "intruder" ? intruderById(recipe, sel.intruder) : sel?.kind === "layer" ? intruderOf(recipe, sel.layer) : null;
      const old = home ? home.layers.find(isPaint) : paintsOf(recipe)[0];
      if (old) return openPaintFor(old.id);
      const id = newId("l");
      const layer: PaintLayer = { id, kind: "paint", in: recipe.shot.in, out: recipe.shot.out, touches: [] };
      commit(home ? `Paint on the frames of ${home.name}` : "Paint on frames", (d) => {
        const i = home && intruderById(d, home.id);
        if (i) i.layers.push({ ...layer, touches: [] });
        else d.intruders.push({ id: newId("i"), name: "Painted", layers: [{ ...layer, touches: [] }] });
      });
      openPaintFor(id);
    },
  };
}
