import type { Recipe, Touch } from "../../core/document";
import { copyFrame, type Frame } from "../../core/pixels/frame";
import { applyTouches, heldFrame, keyOf, platePictures, touchesOn } from "../../core/retouch/plate";
import type { Frames } from "./frames";

interface Kept {
  touches: Touch[];
  base: string;
  frame: Frame;
}

/** Plates in the browser, exact. A stroke more or a stroke less is computed from the last few results that are kept. */
export class Plates {
  private readonly kept = new Map<string, Kept[]>();

  constructor(private readonly frames: Frames) {}

  /** The plate at once, if all its pictures are here and it needs no long work. */
  now(recipe: Recipe, id: string): Frame | null {
    const plate = recipe.plates[id];
    const base = heldFrame(id, plate);
    const touches = touchesOn(plate);
    if (touches.length === 0) return this.frames.exactNow(base.take, base.frame) ?? null;
    return this.kept.get(id)?.find((k) => k.base === keyOf(base) && same(k.touches, touches))?.frame ?? null;
  }

  async get(recipe: Recipe, id: string): Promise<Frame> {
    const ready = this.now(recipe, id);
    if (ready) return ready;
    const refs = platePictures(recipe, id);
    const loaded = new Map<string, Frame>();
    for (const r of refs) if ("take" in r) loaded.set(keyOf(r), await this.frames.loadExact(r.take, r.frame));
    const plate = recipe.plates[id];
    const base = heldFrame(id, plate);
    const siting = this.frames.take(base.take).info!.colour.siting;
    const touches = touchesOn(plate);
    const original = loaded.get(keyOf(base))!;
    if (touches.length === 0) return original;
    const key = keyOf(base);
    const list = this.kept.get(id) ?? [];
    const from = list
      .filter((k) => k.base === key && k.touches.length < touches.length && same(k.touches, touches.slice(0, k.touches.length)))
      .sort((a, b) => b.touches.length - a.touches.length)[0];
    const work = copyFrame(from?.frame ?? original);
    applyTouches(work, original, touches.slice(from?.touches.length ?? 0), recipe, id, (r) => loaded.get(keyOf(r))!, siting);
    this.kept.set(id, [{ touches, base: key, frame: work }, ...list].slice(0, 6));
    return work;
  }
}

const same = (a: Touch[], b: Touch[]) => a.length === b.length && a.every((t, i) => t === b[i] || JSON.stringify(t) === JSON.stringify(b[i]));
