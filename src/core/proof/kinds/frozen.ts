import { isFrozen } from "../../compose/matched";
import { boxOf } from "../crossing";
import type { Finding } from "../finding";
import { pixelsOf } from "../grid";
import { frozen } from "../living";
import type { PatchRecord } from "../patch-record";
import { finding, framesOf } from "./telling";

/** Living texture that stands still in the patch. */
export function frozenIn(r: PatchRecord): Finding[] {
  const noise = r.grain.result()?.footage;
  const laid = framesOf(r);
  if (noise === undefined || !isFrozen(r.layer)) return [];
  const found = frozen(r.within, r.around, r.clean.moves, noise, r.grid.side);
  if (!found) return [];
  const box = pixelsOf(r.grid, boxOf(r.grid, found.cells));
  return [
    finding(
      r,
      "frozen",
      laid,
      laid[Math.floor(laid.length / 2)],
      box,
      { value: found.footage / Math.max(0.05, found.patch), limit: 4 },
      {
        says: `What is alive around the patch stands still in it: ${found.patch.toFixed(1)} codes against ${found.footage.toFixed(1)}.`,
        do: "Show a stretch of the footage instead of one picture: a slip, or frames that are repeated.",
        remedy: "none",
      },
    ),
  ];
}
