import type { Plate, Recipe, Touch } from "../../core/document";
import { copyFrame, type Frame } from "../../core/pixels/frame";
import {
  applyTouches,
  type FileRef,
  keyOf,
  plateBase,
  plateEnd,
  platePictures,
  plateStart,
  returnedPicture,
  touchesOn,
} from "../../core/retouch/plate";
import type { Frames } from "./frames";

interface Kept {
  touches: Touch[];
  base: string;
  /** With the touches laid on. */
  frame: Frame;
  /** And with what came back from outside over it. */
  end: Frame;
}

/** Whether a plate is a picture as it is. */
const isPlain = (p: Plate) => !p.from.line && !p.returned;
const startKey = (p: Plate) => JSON.stringify([p.from, returnedPicture(p)]);

/** Plates in the browser, exact. A stroke more or a stroke less is computed from the last few results that are kept. */
export class Plates {
  private readonly kept = new Map<string, Kept[]>();

  constructor(private readonly frames: Frames) {}

  /** The plate at once, if all its pictures are here and it needs no long work. */
  now(recipe: Recipe, id: string): Frame | null {
    const plate = recipe.plates[id];
    const base = plateBase(plate);
    const touches = touchesOn(plate);
    if (isPlain(plate) && touches.length === 0)
      return ("take" in base ? this.frames.exactNow(base.take, base.frame) : this.frames.pictureNow(base.picture)) ?? null;
    return this.kept.get(id)?.find((k) => k.base === startKey(plate) && same(k.touches, touches))?.end ?? null;
  }

  /** The base of a plate, brought into line: what its touches lie on. */
  async start(recipe: Recipe, id: string): Promise<Frame> {
    const plate = recipe.plates[id];
    const base = plateBase(plate);
    const frame = await ("take" in base ? this.frames.loadExact(base.take, base.frame) : this.frames.loadPicture(base.picture));
    return plateStart(plate, () => frame, this.frames.take(recipe.shot.take).info!.colour.siting);
  }

  async get(recipe: Recipe, id: string): Promise<Frame> {
    const ready = this.now(recipe, id);
    if (ready) return ready;
    const refs = platePictures(recipe, id);
    const loaded = new Map<string, Frame>();
    for (const r of refs) loaded.set(keyOf(r), await ("take" in r ? this.frames.loadExact(r.take, r.frame) : this.frames.loadPicture(r.picture)));
    const plate = recipe.plates[id];
    const siting = this.frames.take(recipe.shot.take).info!.colour.siting;
    const touches = touchesOn(plate);
    const read = (r: FileRef) => loaded.get(keyOf(r))!;
    const original = plateStart(plate, read, siting);
    if (touches.length === 0 && isPlain(plate)) return original;
    const key = startKey(plate);
    const list = this.kept.get(id) ?? [];
    const from = list
      .filter((k) => k.base === key && k.touches.length < touches.length && same(k.touches, touches.slice(0, k.touches.length)))
      .sort((a, b) => b.touches.length - a.touches.length)[0];
    const work = copyFrame(from?.frame ?? original);
    applyTouches(work, original, touches.slice(from?.touches.length ?? 0), recipe, id, read, siting);
    const end = plate.returned ? plateEnd(plate, copyFrame(work), original, read, siting) : work;
    this.kept.set(id, [{ touches, base: key, frame: work, end }, ...list].slice(0, 6));
    return end;
  }
}

const same = (a: Touch[], b: Touch[]) => a.length === b.length && a.every((t, i) => t === b[i] || JSON.stringify(t) === JSON.stringify(b[i]));
