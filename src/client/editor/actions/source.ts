import type { Place } from "../../../core/document/layer";
import { type Keyed, valueAt } from "../../../core/time/keyed";
import { layerTitle } from "../../../recipe/query";
import { changed } from "../shapes";
import { type SourceTransform, sourceTransformAt, readFarther } from "../source-transform";
import type { Dragging } from "../state/document";
import { selectedLayer, takeOf } from "../state/select";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";

/** Placing the source of the selected patch on the picture. */
export function createSource(core: EditorCore, patches: ReturnType<typeof createPatches>) {
  const { get } = core;

  /** Lays the source otherwise at the frame shown; values without keyframes change for all frames. */
  function placeSource(name: string, change: (l: SourceTransform) => SourceTransform, dragging: Dragging = false): void {
    const s = get();
    const layer = selectedLayer(s);
    if (!layer) return;
    const next = change(sourceTransformAt(layer, s.frame, takeOf(s).info!));
    const round = (v: number) => Number(v.toFixed(3));
    patches.changeLayer(
      layer.id,
      `${name} of ${layerTitle(s.recipe, layer.id)}`,
      (d) => {
        const place: Place = { ...(d.place as Place | undefined) };
        const put = (field: "x" | "y" | "scale" | "angle", otherwise: number) => {
          const old: Keyed<number> = place[field] ?? otherwise;
          if (round(valueAt(old, s.frame)) === round(next[field])) return;
          place[field] = changed(old, s.frame, s.holds, () => round(next[field]));
        };
        put("x", 0);
        put("y", 0);
        put("scale", 1);
        put("angle", 0);
        d.place = place as typeof d.place;
      },
      dragging,
    );
  }

  return {
    placeSource,
    nudgePlace: (dx: number, dy: number) => placeSource("Nudge the source", (l) => readFarther(l, dx, dy)),
  };
}
