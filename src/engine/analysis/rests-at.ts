import { pointOf } from "../../core/cutout/placed";
import type { Alignment } from "../../core/motion/register";
import type { Frame } from "../../core/pixels/frame";
import { within } from "../../core/pixels/within";

/** Codes of luma by which means may differ for the same to be seen, and the share of a form within which it may be otherwise. */
const SAME = 8;
const OTHERWISE = 0.15;
/** Of the frames asked, so many in a row may show a square hidden by whoever passes; so much of the form on the first and the last. */
const PASSES = 2;
const PASSER = 0.3;
/** The share of a form's squares that are left for longer where it is there on all frames; and where most of it may be. */
const LEAVES = { none: 0.05, some: 0.4 };
/** Side of the squares whose means are compared, pixels. */
const SQUARE = 4;

/** Some frames of a take, and how each lies against the outlined one; without, the camera stands still. */
export interface Sampled {
  frames: readonly Frame[];
  numbers: readonly number[];
  aligned?: readonly Alignment[];
}

/** Some frames; all of them, or most of it on all; or none. */
export type Rests = [number, number] | "always" | "mostly" | null;

/**
 * The frames about one on which the same is seen within a form, where that is so on its neighbours among some: the thing rests there, and
 * must not be taken for the ground. “always” where it is seen on all of them, so that nothing is known of the ground, “mostly” where that
 * may be so of most of it; null where it moves.
 * @param form where it is, 1 at every pixel
 */
export function restsAt({ frames, numbers, aligned }: Sampled, at: number, frame: Frame, form: Uint8Array): Rests {
  const { width, height } = frame;
  const unit = 2 ** (frame.format.bits - 8) * SQUARE * SQUARE;
  const sum = ({ planes: [y] }: Frame, x0: number, y0: number) => {
    let s = 0;
    for (let j = 0; j < SQUARE; j++) for (let i = 0; i < SQUARE; i++) s += y.data[within(y0 + j, y.height) * y.width + within(x0 + i, y.width)];
    return s / unit;
  };
  const squares: [number, number][] = [];
  for (let y = 0; y < height; y += SQUARE) for (let x = 0; x < width; x += SQUARE) if (form[(y + 1) * width + x + 1]) squares.push([x, y]);
  const same = frames.map((other, k) => {
    const to = aligned && pointOf(aligned[k], width, height);
    const p: [number, number] = [0, 0];
    return squares.map(([x, y]) => {
      let [u, v] = [x, y];
      if (to) {
        to(x, y, p);
        [u, v] = p.map((c) => Math.round(c - 0.5));
      }
      return Math.abs(sum(frame, x, y) - sum(other, u, v)) <= SAME;
    });
  });
  const unlike = (k: number) => same[k].filter((s) => !s).length / Math.max(1, squares.length);
  const ends = [unlike(0), unlike(same.length - 1)].map((share) => share < PASSER);
  const leaves = squares.filter((_, q) =>
    passersLeftOut(
      same.map((of) => of[q]),
      ends,
    ).includes(false),
  ).length;
  if (leaves <= LEAVES.none * squares.length) return "always";
  const rests = same.map((_, k) => squares.length > 0 && unlike(k) <= OTHERWISE);
  const after = numbers.findIndex((f) => f >= at);
  let [a, b] = [after < 0 ? numbers.length : after, after < 0 ? numbers.length : after];
  while (a > 0 && rests[a - 1]) a--;
  while (b < numbers.length && rests[b]) b++;
  if (b - a < 2 || b - a === numbers.length) return leaves <= LEAVES.some * squares.length ? "mostly" : null;
  return [a > 0 ? numbers[a - 1] + 1 : numbers[0], b < numbers.length ? numbers[b] - 1 : numbers[numbers.length - 1]];
}

/** On which frames a square shows the same, where somebody who passes hides it for a moment. @param ends whether somebody may on the first frame, and the last */
function passersLeftOut(same: readonly boolean[], ends: readonly boolean[]): boolean[] {
  const out = same.slice();
  if (ends[0] && out[1]) out[0] = true;
  if (ends[1] && out[out.length - 2]) out[out.length - 1] = true;
  for (let k = 1; k < out.length - 1; k++) if (!out[k] && out[k - 1]) out[k] = out.slice(k + 1, k + 1 + PASSES).includes(true);
  return out;
}
