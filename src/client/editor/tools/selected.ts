import type { PatchLayer } from "../../../core/document";
import { layerTitle, selectedLayer } from "../state";
import type { Editor } from "../store";

/** The patch a tool works on; there must be one. */
export const selected = (editor: Editor): PatchLayer => selectedLayer(editor.store.getState())!;
export const title = (editor: Editor): string => layerTitle(editor.store.getState().recipe, selected(editor).id);
