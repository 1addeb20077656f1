import type { Finding } from "../finding";
import type { PatchRecord } from "../patch-record";
import { finding } from "./telling";

/** Samples of the picture's bars that were changed. */
export function barsIn(r: PatchRecord): Finding[] {
  if (!r.painted.length) return [];
  const worst = r.painted.reduce((a, b) => (b.most > a.most ? b : a));
  return [
    finding(
      r,
      "bars",
      r.painted.map((p) => p.n),
      worst.n,
      worst.box,
      { value: worst.most, limit: 0 },
      {
        says: `The patch paints into the picture's bars, by up to ${worst.most.toFixed(0)} codes.`,
        do: "Draw the mask so that it ends where the picture does.",
        remedy: "none",
      },
    ),
  ];
}
