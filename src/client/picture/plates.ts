import type { Plate } from "../../core/document/plate";
import type { Recipe } from "../../core/document/recipe";
import type { Touch } from "../../core/document/touch";
import { copyFrame, type Frame } from "../../core/pixels/frame";
import { planReplay } from "../../core/retouch/replay";
import {
  type FileRef,
  keyOf,
  plateBase,
  plateEnd,
  platePictures,
  plateStart,
  returnedPicture,
  touchesOn,
  touchesSteps,
} from "../../core/retouch/plate";
import type { Frames } from "./frames";
import { stepped, UNWATCHED, type Watch } from "./steps";

interface Kept {
  touches: Touch[];
  base: string;
  /** What the plates that touches take from are made of. */
  sources: string;
  /** With the touches laid on. */
  frame: Frame;
  /** And with what came back from outside over it. */
  end: Frame;
}

/** Whether a plate is a picture as it is. */
const isPlain = (p: Plate) => !p.from.line && !p.returned;
const startKey = (p: Plate) => JSON.stringify([p.from, returnedPicture(p)]);

/** Plates in the browser, exact. What a change of touches does not reach is taken from the last few results that are kept. */
export class Plates {
  private readonly kept = new Map<string, Kept[]>();
  private readonly made = new Set<string>();
  constructor(private readonly frames: Frames) {}

  /** The plate at once, if all its pictures are here and it needs no long work. */
  now(recipe: Recipe, id: string): Frame | null {
    const plate = recipe.plates[id];
    const base = plateBase(plate);
    const touches = touchesOn(plate);
    if (isPlain(plate) && touches.length === 0)
      return ("take" in base ? this.frames.exactNow(base.take, base.frame) : this.frames.pictureNow(base.picture)) ?? null;
    const sources = sourcesKey(recipe, touches);
    return this.kept.get(id)?.find((k) => k.base === startKey(plate) && k.sources === sources && alike(k.touches, touches))?.end ?? null;
  }

  /** Whether the plate was made before, in whatever state. */
  knows = (id: string): boolean => this.made.has(id);

  /** The base of a plate, brought into line: what its touches lie on. */
  async start(recipe: Recipe, id: string): Promise<Frame> {
    const plate = recipe.plates[id];
    const base = plateBase(plate);
    const frame = await ("take" in base ? this.frames.loadExact(base.take, base.frame) : this.frames.loadPicture(base.picture));
    return plateStart(plate, () => frame, this.frames.take(recipe.shot.take).info!.colour.siting);
  }

  async get(recipe: Recipe, id: string, watch: Watch = UNWATCHED): Promise<Frame> {
    const ready = this.now(recipe, id);
    if (ready) {
      this.made.add(id);
      return ready;
    }
    const refs = platePictures(recipe, id);
    const loaded = new Map<string, Frame>();
    for (const r of refs) loaded.set(keyOf(r), await ("take" in r ? this.frames.loadExact(r.take, r.frame) : this.frames.loadPicture(r.picture)));
    const plate = recipe.plates[id];
    const siting = this.frames.take(recipe.shot.take).info!.colour.siting;
    const touches = touchesOn(plate);
    const read = (r: FileRef) => loaded.get(keyOf(r))!;
    const original = plateStart(plate, read, siting);
    this.made.add(id);
    if (touches.length === 0 && isPlain(plate)) return original;
    const key = startKey(plate);
    const sources = sourcesKey(recipe, touches);
    const list = this.kept.get(id) ?? [];
    const old = list
      .filter((k) => k.base === key && k.sources === sources)
      .sort((a, b) => common(b.touches, touches) - common(a.touches, touches))[0];
    const plan = planReplay(old?.touches ?? [], touches, original.width, original.height, same);
    const work = copyFrame(original);
    await stepped(touchesSteps(work, plan.run, { recipe, id, original, loaded: read, siting }), watch);
    const frame = copyFrame(old?.frame ?? original);
    plan.end(work, frame);
    const end = plate.returned ? plateEnd(plate, copyFrame(frame), original, read, siting) : frame;
    this.kept.set(id, [{ touches, base: key, sources, frame, end }, ...list].slice(0, 6));
    return end;
  }
}

/** What the plates are made of that touches take their picture from. */
function sourcesKey(recipe: Recipe, touches: readonly Touch[]): string {
  const ids = [...new Set(touches.flatMap((t) => t.source?.plate ?? []))];
  return ids.length
    ? JSON.stringify(ids.map((id) => [startKey(recipe.plates[id]), touchesOn(recipe.plates[id]), sourcesKey(recipe, touchesOn(recipe.plates[id]))]))
    : "";
}

const same = (a: Touch, b: Touch) => a === b || JSON.stringify(a) === JSON.stringify(b);
const alike = (a: Touch[], b: Touch[]) => a.length === b.length && a.every((t, i) => same(t, b[i]));
/** How many touches two lists begin with in common, and then how many they have. */
function common(a: Touch[], b: Touch[]): number {
  let n = 0;
  while (n < Math.min(a.length, b.length) && same(a[n], b[n])) n++;
  return n + 0.001 * a.filter((t) => b.includes(t)).length;
}
