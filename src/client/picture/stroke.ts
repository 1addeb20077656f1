import type { Point } from "../../core/document/geometry";
import type { Touch } from "../../core/document/touch";
import type { SitingName } from "../../core/pixels/colour";
import { copyBack, copyFrame, type Frame, isEmpty, type Rect } from "../../core/pixels/frame";
import { StrokeAlpha } from "../../core/shape/stroke";
import { fenced } from "../../core/retouch/area";
import { touchInput, type TouchPictures } from "../../core/retouch/source";
import { layTouch, touchLight } from "../../core/retouch/touch";
import type { Light } from "../../core/match/light";

/** A stroke while it is being drawn: only what each new piece reaches is computed again. */
export class LiveStroke {
  readonly work: Frame;
  private readonly alpha: StrokeAlpha;
  private readonly input: Frame;
  private readonly light: Light[] | null;

  constructor(
    private readonly before: Frame,
    private readonly touch: Touch,
    pictures: TouchPictures,
    private readonly siting: SitingName,
  ) {
    this.work = copyFrame(before);
    this.input = touchInput(touch, before, pictures);
    this.light = touchLight(touch, this.input, pictures);
    this.alpha = new StrokeAlpha(touch.brush!, { x0: 0, y0: 0, x1: before.width, y1: before.height });
  }

  /** Adds points; returns the rectangle of the picture that changed. */
  add(points: readonly Point[]): Rect {
    const dirty = this.alpha.add(points);
    if (isEmpty(dirty)) return dirty;
    const { width, height } = this.before;
    // whole chroma samples, and around them what their α is averaged from
    const part = {
      x0: Math.max(0, (dirty.x0 & ~1) - 2),
      y0: Math.max(0, (dirty.y0 & ~1) - 2),
      x1: Math.min(width, ((dirty.x1 + 1) & ~1) + 2),
      y1: Math.min(height, ((dirty.y1 + 1) & ~1) + 2),
    };
    const wide = { x0: Math.max(0, part.x0 - 4), y0: Math.max(0, part.y0 - 4), x1: Math.min(width, part.x1 + 4), y1: Math.min(height, part.y1 + 4) };
    copyBack(this.before, this.work, part);
    const m = this.alpha.matte(wide);
    layTouch(this.work, this.touch, this.input, this.touch.fence?.length ? fenced(m, this.touch.fence) : m, this.siting, part, this.light);
    return part;
  }
}
