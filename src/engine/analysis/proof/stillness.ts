import { grayOf } from "../../../core/motion/gray";
import { referenceOf, register } from "../../../core/motion/register";
import type { Frame } from "../../../core/pixels/frame";

/** One frame in so many is asked. */
const EVERY = 2;

/** Whether the camera stands still, by some frames. */
export class Stillness {
  private first: ReturnType<typeof referenceOf> | null = null;
  private corner = 0;
  private readonly shifts: number[] = [];
  private count = 0;

  add(frame: Frame): void {
    const gray = grayOf(frame.planes[0], frame.format.bits);
    this.corner = Math.hypot(gray.width, gray.height) / 2;
    if (!this.first) this.first = referenceOf(gray);
    else if (this.count++ % EVERY === 0) {
      const a = register(this.first, gray);
      if (a) this.shifts.push(Math.hypot(a.dx, a.dy) + this.corner * Math.hypot((a.angle * Math.PI) / 180, a.scale - 1));
    }
  }

  /** How far a corner moves, pixels: in the frame in the middle of those that were asked. */
  moved(): number {
    return this.shifts.length ? this.shifts.sort((a, b) => a - b)[this.shifts.length >> 1] : 0;
  }
}
