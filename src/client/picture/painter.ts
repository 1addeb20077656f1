import type { Tracks } from "../../core/compose/tie";
import { tracksOf } from "../../recipe/assets";
import type { Point } from "../../core/document/geometry";
import type { Recipe } from "../../core/document/recipe";
import type { Touch } from "../../core/document/touch";
import type { MatchFigures } from "../../core/compose/figures";
import { changedWindow } from "../../core/compose/window";
import type { Rect } from "../../core/pixels/frame";
import type { Patch } from "../../recipe/edits";
import type { Take } from "../../wire/take";
import type { PictureRef } from "../../core/retouch/plate";
import type { FromWorker, Glass, MatchLook, RetouchTarget, ToWorker, View } from "./protocol";

const sameLook = (a: MatchLook | undefined, b: MatchLook | undefined) => a?.layer === b?.layer && a?.without.join() === b?.without.join();

export type Shown = Omit<Extract<FromWorker, { type: "picture" }>, "type" | "data" | "original" | "figures"> & {
  pixels: Uint8ClampedArray<ArrayBuffer>;
  original?: Uint8ClampedArray<ArrayBuffer>;
};

/** The page's hold on the picture worker. */
export class Painter {
  private seq = 0;
  private thumbs = new Map<number, (m: ImageData) => void>();
  private thumbId = 0;
  /** The oldest wish that is not answered; wishes are answered in order, or passed over. */
  private answered = 0;
  /** The last wish and the recipe it was made of. */
  /** Whether the picture is looked at harder than usual. */
  private harder = false;
  private last: { frame: number; view: View; recipe: Recipe } | null = null;
  private now: Recipe;
  /** Device pixels the picture is wide on the screen; the viewer says so. */
  shownWidth = Infinity;
  onPicture: (p: Shown) => void = () => undefined;
  /** A rectangle of the shown picture has changed. */
  onPart: (rect: Rect, part: Uint8ClampedArray<ArrayBuffer>) => void = () => undefined;
  /** How far off the patch still is of which the wish asked it. */
  onFigures: (f: MatchFigures) => void = () => undefined;
  onProblem: (message: string) => void = () => undefined;
  /** What is on the screen has fallen behind what was asked for, or is exactly that again. */
  onBehind: (behind: boolean) => void = () => undefined;
  private behind = false;
  /** How far work is that takes a while; 1 when it is done. */
  onWorking: (share: number) => void = () => undefined;
  /** It was left off, as was asked. */
  onStopped: () => void = () => undefined;
  /** What was measured of the tracks that patches follow, as far as it is there. */
  tracks: Tracks = new Map();
  private trying = false;
  private nextTry: { target: RetouchTarget; touch: Touch } | null = null;

  constructor(
    private takes: Record<string, Take>,
    recipe: Recipe,
    shot: string,
    private readonly worker: Pick<Worker, "postMessage" | "terminate" | "onmessage"> = new Worker(new URL("./worker.ts", import.meta.url), {
      type: "module",
    }),
  ) {
    this.now = recipe;
    this.worker.onmessage = ({ data: m }: MessageEvent<FromWorker>) => {
      if (m.type === "picture") {
        this.answered = Math.max(this.answered, m.seq);
        this.onPicture({
          seq: m.seq,
          frame: m.frame,
          view: m.view,
          quality: m.quality,
          width: m.width,
          height: m.height,
          pixels: new Uint8ClampedArray(m.data),
          ...(m.original ? { original: new Uint8ClampedArray(m.original) } : {}),
        });
        if (m.figures) this.onFigures(m.figures);
        if (m.quality === "exact" && m.seq === this.seq) this.fallBehind(false);
      } else if (m.type === "part") {
        this.answered = Math.max(this.answered, m.seq ?? 0);
        this.onPart(m.rect, new Uint8ClampedArray(m.data));
        if (m.figures) this.onFigures(m.figures);
        if (m.seq === this.seq) this.fallBehind(false);
      } else if (m.type === "thumb") {
        this.thumbs.get(m.id)?.(new ImageData(new Uint8ClampedArray(m.data), m.width));
        this.thumbs.delete(m.id);
      } else if (m.type === "working") this.onWorking(m.share);
      else if (m.type === "stopped") this.onStopped();
      else if (m.type === "tried") {
        const next = this.nextTry;
        this.trying = false;
        this.nextTry = null;
        if (next) this.try(next.target, next.touch);
      } else {
        this.answered = Math.max(this.answered, m.seq);
        this.onProblem(m.message);
        if (m.seq === this.seq) this.fallBehind(false); // nothing comes any more
      }
    };
    this.post({ type: "open", takes, shot });
    this.recipe(recipe);
  }

  /** How many wishes wait for their picture. */
  get waiting() {
    return this.seq - this.answered;
  }

  /** The shot's takes are others now, or more of them. */
  useTakes(takes: Record<string, Take>): void {
    this.takes = takes;
    this.post({ type: "takes", takes });
  }

  /** The recipe is another one as a whole. */
  recipe(recipe: Recipe): void {
    this.now = recipe;
    this.post({ type: "recipe", recipe });
  }
  /** The settled recipe was edited by patches; only these are sent. */
  edit(recipe: Recipe, patches: Patch[]): void {
    this.now = recipe;
    this.post({ type: "edit", patches });
  }
  /** The settled recipe as it would be with a drag in progress; without patches the drag was left off. */
  drag(recipe: Recipe, patches: Patch[]): void {
    this.now = recipe;
    this.post({ type: "drag", patches });
  }
  show(frame: number, view: View, moving: boolean): number {
    this.post({ type: "show", seq: ++this.seq, frame, view, moving, within: moving ? null : this.within(frame, view), shownWidth: this.shownWidth });
    this.last = { frame, view, recipe: this.now };
    this.fallBehind(true);
    return this.seq;
  }

  private fallBehind(behind: boolean): void {
    if (behind === this.behind) return;
    this.behind = behind;
    this.onBehind(behind);
  }
  /** Where the wish can differ from the last one. */
  private within(frame: number, view: View): Rect | null {
    const { last, now } = this;
    const info = this.takes[now.shot.take]?.info;
    // what is looked at harder goes by its surroundings
    if (this.harder) return null;
    if (!info || last?.frame !== frame || last.view.kind !== "result" || view.kind !== "result" || last.view.veil || view.veil) return null;
    if (last.view.original !== view.original || !sameLook(last.view.match, view.match)) return null;
    if (![...tracksOf(last.recipe), ...tracksOf(now)].every((h) => this.tracks.has(h))) return null;
    return changedWindow(last.recipe, now, frame, info.width, info.height, this.tracks);
  }
  /** What the picture on the screen is seen through; whoever changes it asks for the picture anew. */
  through(glass: Glass): void {
    this.harder = glass.harder !== null;
    this.post({ type: "glass", glass });
    this.last = null;
  }
  ahead(frames: number[]): void {
    this.post({ type: "ahead", frames });
  }
  stroke(target: RetouchTarget, touch: Touch): void {
    this.post({ type: "stroke", target, touch });
  }
  strokeOn(points: Point[]): void {
    this.post({ type: "strokeOn", points });
  }
  strokeEnd(): void {
    this.post({ type: "strokeEnd" });
  }
  /** Shows a touch that is not laid yet; of several in a row only the newest, one at a time. */
  try(target: RetouchTarget, touch: Touch): void {
    if (this.trying) {
      this.nextTry = { target, touch };
      return;
    }
    this.trying = true;
    this.post({ type: "try", target, touch });
  }
  /** Leaves off the long work in hand. */
  stop(): void {
    this.post({ type: "stop" });
  }
  thumb(plate: string, width: number): Promise<ImageData> {
    return this.picture((id) => ({ type: "thumb", plate, width, id }));
  }
  /** A whole picture as it is: what a touch takes from. */
  source(of: PictureRef): Promise<ImageData> {
    return this.picture((id) => ({ type: "source", of, id }));
  }
  /** A fill with other seeds, each as a small picture. */
  tries(target: RetouchTarget, touch: Touch, seeds: number[], width: number): Promise<ImageData>[] {
    const awaited = seeds.map(() => this.awaited());
    this.post({ type: "tries", target, touch, seeds, width, ids: awaited.map(([id]) => id) });
    return awaited.map(([, picture]) => picture);
  }
  private picture(ask: (id: number) => ToWorker): Promise<ImageData> {
    const [id, picture] = this.awaited();
    this.post(ask(id));
    return picture;
  }
  /** The id of a picture to ask for, and the picture once it is there. */
  private awaited(): [number, Promise<ImageData>] {
    const id = ++this.thumbId;
    return [id, new Promise((resolve) => this.thumbs.set(id, resolve))];
  }
  close(): void {
    this.worker.terminate();
  }

  private post(m: ToWorker): void {
    this.worker.postMessage(m);
  }
}
