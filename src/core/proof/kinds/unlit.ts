import { median } from "../../motion/gray";
import { colourStep } from "../colour-step";
import type { Finding } from "../finding";
import type { PatchRecord } from "../patch-record";
import type { ArcStep } from "../steps";
import { EDGE_SEEN, mending } from "./seam";
import { chanceOf, finding, maskBox } from "./telling";

/** Arcs by which the step of a whole rim is told. */
const LEAST_ARCS = 6;

/** The step of many arcs, a plane each: the middle of them; null where they are too few. */
function middleStep(arcs: readonly ArcStep[]): number[] | null {
  return arcs.length < LEAST_ARCS ? null : arcs[0].raw.map((_, p) => median(arcs.map((a) => a.raw[p])));
}

/**
 * A patch in another light than what surrounds it: its whole rim steps alike, in all its frames. What so many arcs say together is surer than
 * any of them, and so a step counts here that no arc could be sure of. @param chance steps that clean frames show along the same mask
 */
export function unlitOf(r: PatchRecord, frames: number[], chance: ArcStep[][]): Finding | null {
  const arcs = frames.flatMap((n) => r.steps.get(n)!);
  const middle = middleStep(arcs);
  if (!middle) return null;
  const usual = chance.map(middleStep).filter((s): s is number[] => s !== null);
  const step = middle.map((v, p) => {
    const limit = chanceOf(
      usual.map((s) => Math.abs(s[p])),
      0.99,
    );
    return Math.sign(v) * Math.max(0, Math.abs(v) - limit);
  });
  const colour = step.map((_, p) => median(arcs.map((a) => a.colour[p])));
  const value = colourStep(r.footage, colour, step);
  if (value <= EDGE_SEEN) return null;
  const off = (n: number) => Math.abs(middleStep(r.steps.get(n)!)?.[0] ?? 0);
  const worst = frames.reduce((a, b) => (off(b) > off(a) ? b : a));
  const more = Math.abs(step[0]) > 0.5 ? `${Math.abs(step[0]).toFixed(1)} codes ${step[0] > 0 ? "lighter" : "darker"}` : "of another tint";
  return finding(r, "seam", frames, worst, maskBox(r, worst), { value, limit: EDGE_SEEN }, {
    says: `The whole patch is ${more} than what surrounds it: its edge is seen by ΔE₀₀ ${value.toFixed(1)}.`,
    ...mending(r.layer),
  }); // prettier-ignore
}
