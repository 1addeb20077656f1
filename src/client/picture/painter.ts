import type { Point, Recipe, Touch } from "../../core/document";
import { changedWindow } from "../../core/compose/window";
import type { Rect } from "../../core/pixels/frame";
import type { Take } from "../../wire/take";
import type { FromWorker, ToWorker, View } from "./protocol";

export type Shown = Omit<Extract<FromWorker, { type: "picture" }>, "type" | "data"> & { pixels: Uint8ClampedArray<ArrayBuffer> };

/** The page's hold on the picture worker. */
export class Painter {
  private readonly worker = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
  private seq = 0;
  private thumbs = new Map<number, (m: ImageData) => void>();
  private thumbId = 0;
  /** The oldest wish that is not answered; wishes are answered in order, or passed over. */
  private answered = 0;
  /** The last wish and the recipe it was made of. */
  private last: { frame: number; view: View; recipe: Recipe } | null = null;
  private now: Recipe;
  onPicture: (p: Shown) => void = () => undefined;
  /** A rectangle of the shown picture has changed. */
  onPart: (rect: Rect, part: Uint8ClampedArray<ArrayBuffer>) => void = () => undefined;
  onProblem: (message: string) => void = () => undefined;

  constructor(
    private takes: Record<string, Take>,
    recipe: Recipe,
    shot: string,
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
        });
      } else if (m.type === "part") {
        this.answered = Math.max(this.answered, m.seq ?? 0);
        this.onPart(m.rect, new Uint8ClampedArray(m.data));
      } else if (m.type === "thumb") {
        this.thumbs.get(m.id)?.(new ImageData(new Uint8ClampedArray(m.data), m.width));
        this.thumbs.delete(m.id);
      } else {
        this.answered = Math.max(this.answered, m.seq);
        this.onProblem(m.message);
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

  recipe(recipe: Recipe): void {
    this.now = recipe;
    this.post({ type: "recipe", recipe });
  }
  show(frame: number, view: View, moving: boolean): number {
    this.post({ type: "show", seq: ++this.seq, frame, view, moving, within: moving ? null : this.within(frame, view) });
    this.last = { frame, view, recipe: this.now };
    return this.seq;
  }
  /** Where the wish can differ from the last one. */
  private within(frame: number, view: View): Rect | null {
    const { last, now } = this;
    const info = this.takes[now.shot.take]?.info;
    if (!info || last?.frame !== frame || last.view.kind !== "result" || view.kind !== "result") return null;
    return changedWindow(last.recipe, now, frame, info.width, info.height);
  }
  ahead(frames: number[]): void {
    this.post({ type: "ahead", frames });
  }
  stroke(plate: string, touch: Touch): void {
    this.post({ type: "stroke", plate, touch });
  }
  strokeOn(points: Point[]): void {
    this.post({ type: "strokeOn", points });
  }
  strokeEnd(): void {
    this.post({ type: "strokeEnd" });
  }
  thumb(plate: string, width: number): Promise<ImageData> {
    return new Promise((resolve) => {
      const id = ++this.thumbId;
      this.thumbs.set(id, resolve);
      this.post({ type: "thumb", plate, width, id });
    });
  }
  close(): void {
    this.worker.terminate();
  }

  private post(m: ToWorker): void {
    this.worker.postMessage(m);
  }
}
