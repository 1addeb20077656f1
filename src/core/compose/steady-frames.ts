import { isPatch, type PatchLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { type GrainStatistics, likenessApart } from "../match/grain";
import type { FrameRef } from "../retouch/plate";

/** How far from each other frames are at best with which a held one is averaged: so far that an encoder has carried little of the noise on; and how many. */
const APART = 9;
const OTHERS = 8;

/** The frame of the shot's take that a patch shows again and again; undefined where it shows none or another take's. */
function heldFrame(recipe: Recipe, { source: s }: PatchLayer): number | undefined {
  const { take } = recipe.shot;
  if (s.plate === undefined) return (s.take ?? take) === take ? s.hold : undefined;
  const plate = recipe.plates[s.plate].from;
  return plate && plate.take === take && !plate.line ? plate.frame : undefined;
}

/**
 * Other frames with which the picture of a patch is averaged, so that its grain does not stand still: of the shot's frames those nearest to
 * the held one in which what is taken away has not come yet or is gone, by the patches that are laid over it; where it never is, those
 * about the held one, of which only what shows the same will count.
 */
export function steadyFrames(recipe: Recipe, l: PatchLayer): FrameRef[] {
  if (!l.grain) return [];
  const at = heldFrame(recipe, l);
  if (at === undefined) return [];
  const { take, in: from, out: to } = recipe.shot;
  const patches = recipe.intruders.find((i) => i.layers.some((x) => x.id === l.id))?.layers.filter(isPatch) ?? [l];
  const away = (n: number) => n >= from && n <= to && !patches.some((p) => p.on !== false && n >= p.in && n <= p.out);
  const clean = nearest(at, Math.max(at - from, to - at), away);
  return (clean.length >= 2 ? clean : about(at, from, to)).map((frame) => ({ take, frame }));
}

/** The nearest frames about one that may be taken, as far apart as leaves enough of them. @param most how far off they may lie */
function nearest(at: number, most: number, may: (n: number) => boolean): number[] {
  let taken: number[] = [];
  for (let apart = APART; apart >= 1 && taken.length < OTHERS; apart--) {
    taken = [];
    for (let d = apart; d <= most && taken.length < OTHERS; d++)
      for (const n of [at - d, at + d]) if (taken.length < OTHERS && may(n) && taken.every((t) => Math.abs(t - n) >= apart)) taken.push(n);
  }
  return taken;
}

function about(at: number, from: number, to: number): number[] {
  const around = Array.from({ length: OTHERS }, (_, k) => [at - (k + 1) * APART, at + (k + 1) * APART]).flat();
  return around.filter((n) => n >= from && n <= to).slice(0, OTHERS);
}

/** How alike the noise of a held picture and of the frames is with which it is averaged, on the average of pairs. */
export function noiseAlike(recipe: Recipe, l: PatchLayer, others: readonly FrameRef[], grain: GrainStatistics): number {
  const at = heldFrame(recipe, l);
  if (at === undefined || !others.length) return 0;
  const frames = [at, ...others.map((r) => r.frame)];
  const pairs = frames.flatMap((a, i) => frames.slice(i + 1).map((b) => likenessApart(grain, Math.abs(a - b))));
  return pairs.reduce((s, v) => s + v, 0) / pairs.length;
}
