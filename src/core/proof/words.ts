import type { FigureKind, FindingKind, Verdict } from "./finding";

/** Findings as they are called. */
export const KIND_WORDS: Record<FindingKind, string> = {
  leak: "Leak",
  bite: "Bite",
  seam: "Seam",
  "dead-grain": "Dead grain",
  frozen: "Frozen",
  "runaway-light": "Runaway light",
  drift: "Drift",
  bars: "Bars",
};

/** What a shot comes to, as it is called. */
export const VERDICT_WORDS: Record<Verdict, string> = {
  clean: "Nothing found",
  faults: "Still wrong",
  unsure: "Nothing found, and not all could be told",
};

/** Figures of a patch as they are called. */
export const FIGURE_WORDS: Record<FigureKind, string> = { left: "What is left", edge: "Edge", light: "Light" };

/** A figure as it is written. */
export const figureText = (kind: FigureKind, v: number): string =>
  kind === "left"
    ? `${(100 * v).toFixed(1)} %`
    : kind === "edge"
      ? `ΔE ${v.toFixed(1)}`
      : `${v > 0 ? "+" : ""}${v.toFixed(1)} ${Math.abs(v) === 1 ? "code" : "codes"}`;
