import type { Layer } from "../../core/document/layer";
import type { Recipe } from "../../core/document/recipe";
import type { Touch } from "../../core/document/touch";
import type { Colour } from "../../core/pixels/colour";
import { bytesOf, copyBack, copyFrame, createFrame, type Frame, intersect, type Rect, union, wholeOf } from "../../core/pixels/frame";
import { takeWindow } from "../../core/compose/window";
import { shrinkFrame } from "../../core/pixels/shrink";
import { touchBounds } from "../../core/retouch/area";
import { heldFrame, type Home, touchSourceRef } from "../../core/retouch/plate";
import type { TouchPictures } from "../../core/retouch/source";
import { applyTouch, touchSteps } from "../../core/retouch/touch";
import type { Frames } from "./frames";
import type { Plates } from "./plates";
import type { RetouchTarget } from "./protocol";
import { stepped, type Watch } from "./steps";
import { LiveStroke } from "./stroke";
import { rgba, type Rgba, type Views } from "./views";

/** Touches while they are being laid: strokes, areas that are dragged, tries to choose from. */
export class Retouching {
  private live: LiveStroke | null = null;
  /** The picture without the touch that is tried, the same with it, and where it was laid last. */
  private trial: { key: string; before: Frame; work: Frame; pictures: TouchPictures; laid: Rect | null } | null = null;

  constructor(
    private readonly frames: Frames,
    private readonly plates: Plates,
    private readonly views: Views,
  ) {}

  colour(r: Recipe): Colour {
    return this.frames.take(r.shot.take).info!.colour;
  }

  async beginStroke(r: Recipe, target: RetouchTarget, touch: Touch): Promise<void> {
    const before = await this.before(r, target);
    this.live = new LiveStroke(before, touch, await this.pictures(r, target, touch), this.colour(r).siting);
  }
  get stroke(): LiveStroke | null {
    return this.live;
  }
  endStroke(): void {
    this.live = null;
  }

  /** Lays a touch for show; returns the rectangle that has changed since the last one, and the picture. */
  async try(r: Recipe, target: RetouchTarget, touch: Touch): Promise<{ rect: Rect; frame: Frame }> {
    const without = withoutTouch(r, target, touch.id);
    const key = JSON.stringify([target, touch.id]);
    const source = await this.pictures(r, target, touch);
    if (this.trial?.key !== key || this.trial.pictures.source !== source.source) {
      const before = await this.before(without, target);
      this.trial = { key, before, work: copyFrame(before), pictures: source, laid: null };
    }
    const { before, work, pictures, laid } = this.trial;
    if (laid) copyBack(before, work, laid);
    applyTouch(work, touch, pictures);
    const now = around(touchBounds(touch, work.width, work.height), work);
    this.trial.laid = now;
    return { rect: laid ? union(laid, now) : now, frame: work };
  }
  endTry(): void {
    this.trial = null;
  }

  /** A fill with another seed, cut out with a little of what is round it. */
  async fillTry(r: Recipe, target: RetouchTarget, touch: Touch, seed: number, width: number, watch: Watch): Promise<Rgba> {
    const before = await this.before(withoutTouch(r, target, touch.id, true), target);
    const work = copyFrame(before);
    await stepped(touchSteps(work, { ...touch, seed }, await this.pictures(r, target, touch)), watch);
    const b = touchBounds(touch, work.width, work.height);
    const pad = Math.round(0.25 * Math.max(b.x1 - b.x0, b.y1 - b.y0)) + 4;
    const box = intersect(wholeOf(work), { x0: (b.x0 - pad) & ~1, y0: (b.y0 - pad) & ~1, x1: (b.x1 + pad + 1) & ~1, y1: (b.y1 + pad + 1) & ~1 });
    const cut = createFrame(box.x1 - box.x0, box.y1 - box.y0, work.format);
    takeWindow(work, box, bytesOf(cut));
    const small = cut.width > width ? shrinkFrame(cut, width, Math.max(2, Math.round((width * cut.height) / cut.width))) : cut;
    return { width: small.width, height: small.height, data: rgba(small, this.colour(r), wholeOf(small), true) };
  }

  /** The picture of what is retouched, as it is. */
  private async before(r: Recipe, target: RetouchTarget): Promise<Frame> {
    return "plate" in target ? this.plates.get(r, target.plate) : (await this.views.composed(r, target.frame, "exact")).frame;
  }

  private async pictures(r: Recipe, target: RetouchTarget, touch: Touch): Promise<TouchPictures> {
    const original = "plate" in target ? await this.plates.start(r, target.plate) : await this.frames.loadExact(r.shot.take, target.frame);
    const home: Home = "plate" in target ? heldFrame(r.plates[target.plate]) : { take: r.shot.take, frame: target.frame };
    const ref = touchSourceRef(touch, home);
    const source = ref ? ("plate" in ref ? await this.plates.get(r, ref.plate) : await this.frames.loadExact(ref.take, ref.frame)) : undefined;
    return { original, source, siting: this.colour(r).siting, seed: r.seed };
  }
}

/** The recipe without one touch; with `later`, also without those that come after it. */
function withoutTouch(r: Recipe, target: RetouchTarget, id: string, later = false): Recipe {
  const left = (list: readonly Touch[]): Touch[] => {
    const i = list.findIndex((t) => t.id === id);
    return i < 0 ? [...list] : [...list.slice(0, i), ...(later ? [] : list.slice(i + 1))];
  };
  if ("plate" in target) {
    const plate = r.plates[target.plate];
    if (!plate.touches.some((t) => t.id === id)) return r;
    return { ...r, plates: { ...r.plates, [target.plate]: { ...plate, touches: left(plate.touches) } } };
  }
  const layer = (l: Layer): Layer => (l.kind === "paint" && l.id === target.layer ? { ...l, touches: left(l.touches) } : l);
  return { ...r, intruders: r.intruders.map((i) => ({ ...i, layers: i.layers.map(layer) })) };
}

/** A rectangle with the reach of chroma, on whole chroma samples. */
const around = (b: Rect, f: Frame): Rect =>
  intersect(wholeOf(f), { x0: (b.x0 - 4) & ~1, y0: (b.y0 - 4) & ~1, x1: (b.x1 + 5) & ~1, y1: (b.y1 + 5) & ~1 });
