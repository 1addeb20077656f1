import { isPaint } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import { layersOf } from "../../../recipe/query";
import type { EditQueue } from "../../edit/queue";
import { counted } from "../counting";
import type { Retouch } from "../state/retouch";
import type { EditorCore } from "./core";
import type { createRetouch } from "./retouch";

/** Undo and redo, and breaking off what is under way. */
export function createHistory(core: EditorCore, queue: EditQueue, retouch: ReturnType<typeof createRetouch>) {
  const { get, set, notices } = core;
  /** What is being drawn or dragged on the picture, and how it is broken off. */
  let underway: (() => void) | null = null;
  /** Fences and guide lines drawn since the last edit, which are no edits: what takes each back. */
  let aids: (() => void)[] = [];

  /** Breaks off what is being drawn or dragged, so that nothing comes of it; whether there was anything. */
  function breakOff(): boolean {
    const cancel = underway;
    underway = null;
    cancel?.();
    return cancel !== null;
  }

  /** One step of the history; where that changed something, it is gone to and named. */
  async function step(which: "undo" | "redo"): Promise<void> {
    // what is under way is the newest thing: it goes, and nothing that was stored before it
    if (breakOff()) return;
    if (which === "undo" && aids.length) return aids.pop()!();
    notices.ended?.();
    const name = queue.steps[which];
    const before = get().recipe;
    await queue.step(which);
    const { recipe } = get();
    if (!name || recipe === before) return;
    const at = changedPlace(before, recipe);
    if (at) {
      if (at.layer) set({ selection: { kind: "layer", layer: at.layer } });
      if (at.in !== undefined && at.out !== undefined) core.goTo(Math.min(at.out, Math.max(at.in, get().frame)));
    }
    notices.said(`${which === "undo" ? "Taken back" : "Done again"} at frame ${core.show(get().frame)}: ${counted(name, core.show)}`);
  }

  return {
    undo: () => step("undo"),
    redo: () => step("redo"),
    /** Goes back or on in the history by so many steps. */
    leap: (which: "undo" | "redo", times: number) => queue.step(which, times),
    breakOff,
    /** Something is being drawn or dragged: undo breaks it off. */
    gestureBegins(cancel: () => void): void {
      underway = cancel;
    },
    gestureEnds(): void {
      underway = null;
    },
    /** A fence or a guide line more; undo takes it away as long as no edit has come after it. */
    addAid<K extends "fence" | "guides">(kind: K, aid: Retouch[K][number]): void {
      retouch.set({ [kind]: [...get().retouch[kind], aid] });
      aids.push(() => retouch.set({ [kind]: get().retouch[kind].filter((x) => x !== aid) }));
    },
    /** Other fences in place of those that are there; undo brings them back as long as no edit has come after it. */
    changeFence(fence: Retouch["fence"]): void {
      const before = get().retouch.fence;
      retouch.set({ fence });
      aids.push(() => retouch.set({ fence: before }));
    },
    /** An edit has come: fences drawn before it are taken back no more. */
    edited(): void {
      aids = [];
    },
  };
}

/** Where two recipes first differ in a layer, or in what is painted on frames, and the frames that concerns. */
function changedPlace(a: Recipe, b: Recipe): { layer?: string; in?: number; out?: number } | null {
  const layers = (r: Recipe) => new Map(layersOf(r).map((l) => [l.id, l]));
  const [was, is] = [layers(a), layers(b)];
  for (const [id, now] of is) {
    const then = was.get(id);
    if (then === now || (then && JSON.stringify(then) === JSON.stringify(now))) continue;
    if (!isPaint(now)) return { layer: id, in: now.in, out: now.out };
    const known = new Set(then && isPaint(then) ? then.touches.map((t) => t.id) : []);
    const frames = now.touches.find((t) => !known.has(t.id))?.frames;
    return { layer: id, in: frames?.[0] ?? now.in, out: frames?.[1] ?? now.out };
  }
  for (const [id, then] of was) if (!is.has(id)) return { in: then.in, out: then.out };
  return null;
}
