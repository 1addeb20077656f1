import { median } from "../../motion/gray";
import type { Finding } from "../finding";
import type { PatchRecord } from "../patch-record";
import { type ArcStep, rimStep } from "../steps";
import { chanceOf, finding, maskBox } from "./telling";

/** Codes by which a rim's step may move: low-passed, and in a single frame. */
const LIGHT = { slow: 0.5, single: 1.5 };

/** Light that runs away from a patch. @param chance steps that clean frames show along the same mask */
export function runawayOf(r: PatchRecord, frames: number[], chance: ArcStep[][]): Finding | null {
  const series = frames.flatMap((n) => {
    const step = rimStep(r.steps.get(n)!);
    return step ? [{ n, step }] : [];
  });
  if (series.length < 3) return null;
  const told = chance.map(rimStep).filter((s): s is number[] => s !== null);
  let worst: { n: number; value: number; limit: number; frames: number[] } | null = null;
  for (let p = 0; p < series[0].step.length; p++) {
    const middle = median(series.map((s) => s.step[p]));
    const usual = chanceOf(
      told.map((s) => Math.abs(s[p])),
      0.95,
    );
    const off = series.map((s) => s.step[p] - middle);
    const slow = off.map((_, k) => {
      const some = off.slice(Math.max(0, k - 2), k + 3);
      return some.reduce((a, b) => a + b, 0) / some.length;
    });
    for (const [values, least] of [
      [slow, LIGHT.slow],
      [off, LIGHT.single],
    ] as const) {
      const limit = Math.max(least, 1.5 * usual);
      const bad = series.filter((_, k) => Math.abs(values[k]) > limit).map((s) => s.n);
      if (!bad.length) continue;
      const at = values.reduce((m, v, k) => (Math.abs(v) > Math.abs(values[m]) ? k : m), 0);
      const value = Math.abs(values[at]);
      if (!worst || value / limit > worst.value / worst.limit) worst = { n: series[at].n, value, limit, frames: bad };
    }
  }
  if (!worst) return null;
  return finding(r, "runaway-light", worst.frames, worst.n, maskBox(r, worst.n), worst, {
    says: `The light around the patch changes by ${worst.value.toFixed(1)} codes and the patch does not follow.`,
    do: "Let the patch follow the light around it.",
    remedy: "light",
  });
}
