import { nth } from "../motion/gray";
import { colourStep } from "./colour-step";
import type { PatchFigures } from "./finding";
import type { PatchRecord } from "./patch-record";
import { rimStep } from "./steps";

/** Arcs of a rim that have to be told before its edge is. */
const LEAST_ARCS = 4;
/** Of arcs so many differ less than the edge's figure. */
const MOSTLY = 0.95;

/** Digits behind the point that mean anything. */
const rounded = (v: number): number => Math.round(v * 1000) / 1000;

/** What was measured of a patch frame by frame, as curves. */
export function figuresOf(r: PatchRecord): PatchFigures {
  const frames = [...r.kept.keys()].sort((a, b) => a - b);
  const [from, to] = [frames[0] ?? r.layer.in, frames.at(-1) ?? r.layer.in - 1];
  const each = (of: (n: number) => number | null) =>
    Array.from({ length: Math.max(0, to - from + 1) }, (_, k) => {
      const v = of(from + k);
      return v === null ? null : rounded(v);
    });
  return { from, left: each((n) => r.leftAt(n)), edge: each((n) => edgeOf(r, n)), light: each((n) => rimStep(r.steps.get(n) ?? [])?.[0] ?? null) };
}

function edgeOf(r: PatchRecord, n: number): number | null {
  const arcs = r.steps.get(n) ?? [];
  if (arcs.length < LEAST_ARCS) return null;
  const all = Float64Array.from(arcs, (a) => colourStep(r.footage, a.colour, a.step));
  return nth(all, Math.min(all.length - 1, Math.floor(MOSTLY * all.length)));
}
