import type { PatchLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import type { FrameRef, PictureRef } from "../retouch/plate";
import { valueAt } from "../time/keyed";

/** Which picture a patch shows at frame `n`; while a loop's ends are dissolved, the one that comes in. Slip: floor(n + slip + ½). */
export function patchSource(recipe: Recipe, l: PatchLayer, n: number): PictureRef {
  const s = l.source;
  if (s.plate !== undefined) return { plate: s.plate };
  const take = s.take ?? recipe.shot.take;
  if (s.hold !== undefined) return { take, frame: s.hold };
  if (s.slip !== undefined) return { take, frame: Math.floor(n + valueAt(s.slip, n) + 0.5) };
  if (s.from !== undefined && s.to !== undefined)
    return { take, frame: borrowedFrame({ from: s.from, to: s.to, repeat: s.repeat ?? "loop", join: s.join }, n - l.in, l.out - l.in + 1) };
  return { take, frame: n };
}

/** The end of the pass before, which a loop with `join` still shows at frame `n` under the start of the next, and the share of the start. */
export function dissolveUnder(recipe: Recipe, l: PatchLayer, n: number): { ref: FrameRef; share: number } | null {
  const { from, to, repeat, join = 0, take = recipe.shot.take } = l.source;
  if (!join || from === undefined || to === undefined || (repeat ?? "loop") !== "loop") return null;
  const period = loopPeriod(from, to, join);
  const at = (n - l.in) % period;
  if (n - l.in < period || at >= join) return null;
  return { ref: { take, frame: from + period + at }, share: (at + 1) / (join + 1) };
}

/** Frames after which a loop starts again: its ends overlap by `join`, at most half of it. */
const loopPeriod = (from: number, to: number, join = 0) => to - from + 1 - join;

/**
 * The frame of a borrowed stretch at step `k` (from 0) of a layer of `length` frames: run round and round, its ends overlapping
 * by `join`; to and fro (its ends shown once a turn); or slowed by repeating frames so that it fills the layer.
 */
export function borrowedFrame(
  { from, to, repeat, join }: { from: number; to: number; repeat: "loop" | "bounce" | "slow"; join?: number },
  k: number,
  length: number,
): number {
  const count = to - from + 1;
  if (repeat === "slow") return from + Math.floor((k * count) / Math.max(length, count));
  if (repeat === "loop") return from + (k % loopPeriod(from, to, join));
  if (count === 1) return from;
  const turn = k % (2 * count - 2);
  return from + (turn < count ? turn : 2 * count - 2 - turn);
}
