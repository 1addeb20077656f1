import { pointOf } from "../../core/cutout/placed";
import type { Alignment } from "../../core/motion/register";
import type { Frame } from "../../core/pixels/frame";

/** Codes of luma by which means may differ for the same to be seen, and the share of a form within which it may be otherwise. */
const SAME = 8;
const OTHERWISE = 0.15;
/** Side of the squares whose means are compared, pixels. */
const SQUARE = 4;

/** Some frames of a take, and how each lies against the outlined one; without, the camera stands still. */
export interface Sampled {
  frames: readonly Frame[];
  numbers: readonly number[];
  aligned?: readonly Alignment[];
}

/**
 * The frames about one on which the same is seen within a form, where that is so on its neighbours among some: the thing rests there, and
 * must not be taken for the ground. “always” where it is seen on all of them, so that nothing is known of the ground; null where it moves.
 * @param form where it is, 1 at every pixel
 */
export function restsAt({ frames, numbers, aligned }: Sampled, at: number, frame: Frame, form: Uint8Array): [number, number] | "always" | null {
  const { width, height } = frame;
  const unit = 2 ** (frame.format.bits - 8) * SQUARE * SQUARE;
  const inside = (v: number, size: number) => Math.min(size - 1, Math.max(0, v));
  const sum = ({ planes: [y] }: Frame, x0: number, y0: number) => {
    let s = 0;
    for (let j = 0; j < SQUARE; j++) for (let i = 0; i < SQUARE; i++) s += y.data[inside(y0 + j, y.height) * y.width + inside(x0 + i, y.width)];
    return s / unit;
  };
  const squares: [number, number][] = [];
  for (let y = 0; y < height; y += SQUARE) for (let x = 0; x < width; x += SQUARE) if (form[(y + 1) * width + x + 1]) squares.push([x, y]);
  const same = frames.map((other, k) => {
    const to = aligned && pointOf(aligned[k], width, height);
    const p: [number, number] = [0, 0];
    let unlike = 0;
    for (const [x, y] of squares) {
      let [u, v] = [x, y];
      if (to) {
        to(x, y, p);
        [u, v] = p.map((c) => Math.round(c - 0.5));
      }
      if (Math.abs(sum(frame, x, y) - sum(other, u, v)) > SAME) unlike++;
    }
    return squares.length > 0 && unlike <= OTHERWISE * squares.length;
  });
  if (same.every(Boolean)) return "always";
  const after = numbers.findIndex((f) => f >= at);
  let [a, b] = [after < 0 ? numbers.length : after, after < 0 ? numbers.length : after];
  while (a > 0 && same[a - 1]) a--;
  while (b < numbers.length && same[b]) b++;
  if (b - a < 2) return null;
  return [a > 0 ? numbers[a - 1] + 1 : numbers[0], b < numbers.length ? numbers[b] - 1 : numbers[numbers.length - 1]];
}
