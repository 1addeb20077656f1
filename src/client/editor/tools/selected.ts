import type { PatchLayer } from "../../../core/document/layer";
import { layerTitle } from "../../../recipe/query";
import { selectedLayer } from "../state/select";
import type { Editor } from "../editor";

/** The patch a tool works on; there must be one. */
export const selected = (editor: Editor): PatchLayer => selectedLayer(editor.store.getState())!;
export const title = (editor: Editor): string => layerTitle(editor.store.getState().recipe, selected(editor).id);
