import { union } from "../../pixels/frame";
import type { Finding } from "../finding";
import type { PatchRecord } from "../patch-record";
import { finding, framesOf } from "./telling";

/** log₂ of energies in time beyond which grain is wrong; and the codes of σ that are seen at all. */
const GRAIN = { log2: 0.25, seen: 0.6 };

/** Grain that moves less than the footage's, or more. */
export function deadGrain(r: PatchRecord): Finding[] {
  const g = r.grain.result();
  if (!g || g.footage <= 0) return [];
  const log2 = 2 * Math.log2(Math.max(1e-3, g.patch) / g.footage);
  if (Math.abs(log2) <= GRAIN.log2 || Math.abs(g.patch - g.footage) < GRAIN.seen) return [];
  const laid = framesOf(r);
  const worst = laid[Math.floor(laid.length / 2)];
  const box = g.blocks.map((b) => r.grain.place(b)).reduce(union);
  const still = log2 < 0;
  return [
    finding(
      r,
      "dead-grain",
      laid,
      worst,
      box,
      { value: Math.abs(log2), limit: GRAIN.log2 },
      {
        says: `The patch's grain moves ${still ? "less" : "more"} than the footage's: ${g.patch.toFixed(1)} codes against ${g.footage.toFixed(1)}.`,
        do: still ? "Lay the footage's grain over the patch." : "Take grain off the patch, or lay less of it.",
        remedy: "grain",
      },
    ),
  ];
}
