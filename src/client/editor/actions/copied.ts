import type { Layer } from "../../../core/document/layer";
import type { Mask } from "../../../core/document/mask";
import type { Track } from "../../../core/document/track";
import type { GrainProfile } from "../../../core/document/match";
import type { Plate } from "../../../core/document/plate";
import type { CopiedKeys } from "../keyframes";
import type { EditorState } from "../state/editor";
import type { Intruder } from "../../../core/document/recipe";
import { intruderById, intruderOf } from "../../../recipe/query";

/** What goes over the clipboard: layers with what they use, or keyframes. */
export type Copied =
  | {
      format: "umber-moth/layers";
      intruder: string;
      layers: Layer[];
      masks: Record<string, Mask>;
      /** What carries them, and the grain they have. */
      tracks?: Record<string, Track>;
      profiles?: Record<string, GrainProfile>;
      plates: Record<string, Plate>;
      /** The takes they read, by their keys there. */
      takes: Record<string, string>;
      shotTake: string;
    }
  | { format: "umber-moth/keyframes"; keys: CopiedKeys };

/** The intruder that is selected, itself or by one of its layers. */
export function selectedIntruder({ selection: x, recipe }: EditorState): Intruder | null {
  if (x?.kind === "intruder") return intruderById(recipe, x.intruder);
  return x?.kind === "layer" ? intruderOf(recipe, x.layer) : null;
}
