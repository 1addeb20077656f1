import type { FindingKind } from "@/core/proof/finding";

/** Findings as they are called on the page. */
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
