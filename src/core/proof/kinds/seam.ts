import { nth } from "../../motion/gray";
import type { Rect } from "../../pixels/frame";
import type { PatchLayer } from "../../document/layer";
import type { Finding, Remedy } from "../finding";
import { colourStep } from "../colour-step";
import { pixelsOf } from "../grid";
import type { PatchRecord } from "../patch-record";
import { ARC, type ArcStep } from "../steps";
import { chanceOf, finding } from "./telling";

/** CIEDE2000 of an arc's step above which an edge is seen. */
export const EDGE_SEEN = 1;
/** Frames over which steps are averaged. */
const TOGETHER = 5;
/** From so many of those on an edge has to be seen in two. */
const SOME = 3;

/** An edge that is seen. @param chance steps that clean frames show along the same mask */
export function seamOf(r: PatchRecord, frames: number[], chance: ArcStep[][]): Finding | null {
  const limits = r.pivots.map((_, p) =>
    chanceOf(
      chance.flatMap((arcs) => arcs.map((a) => Math.abs(a.step[p]))),
      0.99,
    ),
  );
  const seen: { frames: number[]; at: number; value: number }[] = [];
  const byArc = new Map<number, number[]>();
  for (let k = 0; k < frames.length; k += TOGETHER) {
    const some = frames.slice(k, k + TOGETHER);
    const arcs = new Map<number, ArcStep[]>();
    for (const n of some) for (const a of r.steps.get(n)!) arcs.set(a.at, [...(arcs.get(a.at) ?? []), a]);
    for (const [at, list] of arcs) {
      if (list.length < Math.min(3, some.length)) continue;
      const step = limits.map((limit, p) =>
        lasting(
          list.map((a) => a.step[p]),
          limit,
        ),
      );
      const colour = limits.map((_, p) => list.reduce((sum, a) => sum + a.colour[p], 0) / list.length);
      const value = step.some((v) => v !== 0) ? colourStep(r.footage, colour, step) : 0;
      byArc.set(at, [...(byArc.get(at) ?? []), value]);
      if (value > EDGE_SEEN) seen.push({ frames: some, at, value });
    }
  }
  if (!byArc.size) return null;
  const once = frames.length <= (SOME - 1) * TOGETHER;
  const all = [...byArc.values()].map((values) => (once ? Math.max(...values) : again(values)));
  const value = nth(Float64Array.from(all), Math.min(all.length - 1, Math.floor(0.95 * all.length)));
  if (value <= EDGE_SEEN || !seen.length) return null;
  const worst = seen.reduce((x, y) => (y.value > x.value ? y : x));
  return finding(
    r,
    "seam",
    seen.flatMap((x) => x.frames),
    worst.frames[0],
    arcBox(r, worst.at),
    { value, limit: EDGE_SEEN },
    {
      says: `The patch's edge is seen: its two sides differ by ΔE₀₀ ${value.toFixed(1)}.`,
      ...mending(r.layer),
    },
  );
}

/** What to do about an edge, by what is done about it already: light, then what is left along the rim, then a softer edge. */
export function mending({ light, seam }: PatchLayer): { do: string; remedy: Remedy } {
  if (!light) return { do: "Let the patch follow the light, or take the seam off; a wider feather hides what is left.", remedy: "light" };
  if (!seam) return { do: "Take off what the rim still steps by; a wider feather hides what is left.", remedy: "seam" };
  return { do: "A wider feather hides what is left, or the mask's edge has to run elsewhere.", remedy: "soften" };
}

/**
 * How far the two sides of an arc differ more than once: codecs let colours wander beside what moves, for a few frames and in few places.
 * @param values of frames together, one after the other
 */
const again = (values: number[]): number => values.toSorted((a, b) => b - a)[1] ?? 0;

/** The mean of a step over some frames, less what single frames make of it (two standard errors); 0 where clean frames show as much. */
function lasting(steps: readonly number[], limit: number): number {
  const n = steps.length;
  const mean = steps.reduce((s, v) => s + v, 0) / n;
  if (Math.abs(mean) <= limit) return 0;
  const spread = Math.sqrt(steps.reduce((s, v) => s + (v - mean) ** 2, 0) / Math.max(1, n - 1));
  return Math.sign(mean) * Math.max(0, Math.abs(mean) - (2 * spread) / Math.sqrt(n));
}

/** The square of an arc, in pixels of the take. */
function arcBox(r: PatchRecord, at: number): Rect {
  const wide = Math.ceil(r.grid.across / ARC);
  const [x, y] = [(at % wide) * ARC, Math.floor(at / wide) * ARC];
  return pixelsOf(r.grid, { x0: x, y0: y, x1: Math.min(r.grid.across, x + ARC), y1: Math.min(r.grid.down, y + ARC) });
}

/** An edge that is seen where it runs through something that moves, while the patch's picture of it stands still. @param by pixels */
export const bitten = (seam: Finding, by: number): Finding => ({
  ...seam,
  kind: "bite",
  says: `The patch's edge runs through something that moves by ${by.toFixed(1)} px, and stands still in the patch.`,
  do: "Hold out what moves, or draw the mask so that it keeps clear of it.",
  remedy: "hold-out",
});
