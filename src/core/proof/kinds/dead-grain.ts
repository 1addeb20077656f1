import { union } from "../../pixels/frame";
import type { Finding } from "../finding";
import type { PatchRecord } from "../patch-record";
import { finding, framesOf } from "./telling";

/** log₂ of energies in time beyond which grain moves too little, or too much: a picture that was coded less is livelier, and no fault. */
const GRAIN = { less: 0.25, more: 0.6 };
/** Codes by which σ has to differ to be seen at all. */
const SEEN = 0.6;

/** Grain that moves less than the footage's, or more. */
export function deadGrain(r: PatchRecord): Finding[] {
  const g = r.grain.result();
  if (!g || g.footage <= 0) return [];
  const log2 = 2 * Math.log2(Math.max(1e-3, g.patch) / g.footage);
  const still = log2 < 0;
  const limit = still ? GRAIN.less : GRAIN.more;
  if (Math.abs(log2) <= limit || Math.abs(g.patch - g.footage) < SEEN) return [];
  const laid = framesOf(r);
  const worst = laid[Math.floor(laid.length / 2)];
  const box = g.blocks.map((b) => r.grain.place(b)).reduce(union);
  return [
    finding(
      r,
      "dead-grain",
      laid,
      worst,
      box,
      { value: Math.abs(log2), limit },
      {
        says: `The patch's grain moves ${still ? "less" : "more"} than the footage's: ${g.patch.toFixed(1)} codes against ${g.footage.toFixed(1)}.`,
        do: still ? "Lay the footage's grain over the patch." : "Take grain off the patch, or lay less of it.",
        remedy: "grain",
      },
    ),
  ];
}
