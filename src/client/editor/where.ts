import { z } from "zod";
import type { EditorState } from "./state/editor";
import { MASK_TOOLS } from "./state/mask";
import type { Selection } from "./state/selection";
import { atStage, STAGES } from "./state/mode";

/** Where somebody was in a shot: kept in this browser, so that one comes back to it as one left it. */
const whereSchema = z.object({
  frame: z.number().int(),
  stage: z.enum(STAGES),
  tool: z.enum(MASK_TOOLS),
  selection: z.unknown(),
  zoom: z.object({ scale: z.number().nullable(), x: z.number(), y: z.number() }),
});

const keyOf = (shot: string) => `umber/where/${shot}`;

/** Keeps where one is. What cannot be kept, as in a private window, is left. */
export function keepWhere(s: EditorState): void {
  const { frame, mode, tool, selection, zoom } = s;
  try {
    localStorage.setItem(keyOf(s.shot.id), JSON.stringify({ frame, stage: mode.stage, tool, selection, zoom }));
  } catch {
    // then the shot opens at its beginning
  }
}

/** Where one was in a shot, as far as that is there still. `exists` says whether a selection is. */
export function keptWhere(s: EditorState, exists: (x: NonNullable<Selection>) => boolean): Partial<EditorState> {
  let read: z.infer<typeof whereSchema>;
  try {
    read = whereSchema.parse(JSON.parse(localStorage.getItem(keyOf(s.shot.id)) ?? "null"));
  } catch {
    return {};
  }
  const selection = read.selection as Selection;
  let there = false;
  try {
    there = !!selection && exists(selection);
  } catch {
    // kept by another version
  }
  return {
    frame: Math.min(s.recipe.shot.out, Math.max(s.recipe.shot.in, read.frame)),
    mode: atStage(read.stage),
    tool: read.tool,
    ...(there ? { selection } : {}),
    zoom: read.zoom,
  };
}
