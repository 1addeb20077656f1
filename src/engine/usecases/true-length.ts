import { randomUUID } from "node:crypto";
import type { Event } from "../../wire/shot";
import { type Documents, Stale } from "../db/documents";

/** The shot of a take that claimed another count of frames gets its true last frame. */
export async function setLastFrame(documents: Documents, tell: (e: Event) => void, shotId: string, claimed: number, last: number): Promise<void> {
  const patches = [{ op: "replace" as const, path: ["shot", "out"], value: last }];
  for (;;) {
    const { rev, recipe } = await documents.read(shotId);
    if (recipe.shot.out !== claimed) return;
    try {
      const answer = await documents.fact(shotId, { editId: randomUUID(), base: rev, name: `The take was read: ${last + 1} frames`, patches });
      return tell({ type: "shot", id: shotId, rev: answer.rev });
    } catch (e) {
      if (!(e instanceof Stale)) throw e; // somebody edits meanwhile: on top of that, then
    }
  }
}
