import type { FindingKind, Verdict } from "./finding";

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
