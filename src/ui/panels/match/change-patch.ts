import type { PatchLayer } from "@/core/document/layer";
import type { Draft } from "@/recipe/edits";

/** Changes the patch, at once while it is dragged. */
export type ChangePatch = (name: string, edit: (d: Draft<PatchLayer>) => void, dragging?: boolean | "picture") => void;
