import { type Intruder, type Recipe, seenFrames } from "../../core/document/recipe";
import { isPaint, type PatchLayer } from "../../core/document/layer";
import type { Layer } from "../../core/document/layer";
import type { Plate } from "../../core/document/plate";
import type { Point } from "../../core/document/geometry";
import { touchesAt } from "../../core/retouch/paint";
import { heldFrame } from "../../core/retouch/plate";
import { besideLine } from "../../core/shape/loop";
import { keptPoints } from "../../core/shape/simplify";
import { valueAt } from "../../core/time/keyed";
import { round } from "./names";

/** A free-hand loop as some dozen points. */
export function thinned(ring: readonly Point[], off = 3): number[][] {
  if (ring.length < 3) return [];
  const points = keptPoints(ring.length, off, besideLine(ring)).map((i) => [round(ring[i][0]), round(ring[i][1])]);
  const [first, last] = [points[0], points[points.length - 1]];
  if (points.length > 3 && Math.hypot(first[0] - last[0], first[1] - last[1]) < 2 * off) points.pop();
  return points;
}

/** Whether a plate is a mere frame of the shot's take in which a thing is seen, with nothing done to it. */
export function heldOver(plate: Plate, take: string, i: Intruder): boolean {
  const held = heldFrame(plate);
  const band = seenFrames(i);
  return !!held && !!band && held.take === take && !plate.touches.length && !plate.returned && held.frame >= band.in && held.frame <= band.out;
}

/** What is wrong with a patch's source, in a sentence: that it shows the very thing it is to take away. Null where nothing is known of that. */
export function sourceShows(recipe: Recipe, i: Intruder, l: PatchLayer, show: (n: number) => string): string | null {
  const band = seenFrames(i);
  if (!band) return null;
  const own = recipe.shot.take;
  const within = (n: number) => n >= band.in && n <= band.out;
  const { source: s } = l;
  if (s.plate !== undefined)
    return recipe.plates[s.plate] && heldOver(recipe.plates[s.plate], own, i)
      ? `This plate is a frame in which ${i.name} is seen, not retouched.`
      : null;
  if ((s.take ?? own) !== own) return null;
  if (s.hold !== undefined) return within(s.hold) ? `${i.name} is seen in the frame that is held.` : null;
  if (s.slip === undefined) return null;
  const bad: number[] = [];
  for (let n = l.in; n <= l.out; n++) if (within(n) && within(Math.floor(n + valueAt(s.slip, n) + 0.5))) bad.push(n);
  return bad.length
    ? `${i.name} is seen in the slipped frame, too, at ${bad.length === 1 ? `frame ${show(bad[0])}` : `${bad.length} frames from ${show(bad[0])} on`}.`
    : null;
}

/** Frames in which an intruder is seen and no patch covers it, as stretches. */
export function leaks(
  i: Pick<Intruder, "seen" | "on"> & { layers: readonly (Layer | { in: number; out: number; on?: boolean })[] },
  first: number,
  last: number,
): [number, number][] {
  const band = seenFrames(i as Intruder);
  if (!band) return [];
  const out: [number, number][] = [];
  for (let n = Math.max(first, band.in); n <= Math.min(last, band.out); n++) {
    if (
      i.on !== false &&
      i.layers.some((l) => l.on !== false && n >= l.in && n <= l.out && (!("kind" in l) || !isPaint(l) || touchesAt(l, n).length > 0))
    )
      continue;
    const end = out.at(-1);
    if (end && end[1] === n - 1) end[1] = n;
    else out.push([n, n]);
  }
  return out;
}
