import { isFrozen } from "../../compose/matched";
import { boxOf } from "../crossing";
import type { Finding } from "../finding";
import { pixelsOf } from "../grid";
import { ALIVE, frozen, subjectCut } from "../living";
import type { PatchRecord } from "../patch-record";
import { finding, framesOf } from "./telling";

/** Living texture that stands still in the patch; or a subject that its edge cuts through, of which the patch holds a part still. */
export function frozenIn(r: PatchRecord): Finding[] {
  const noise = r.grain.result()?.footage;
  const laid = framesOf(r);
  if (noise === undefined || !isFrozen(r.layer)) return [];
  const found = frozen(r.within, r.around, r.clean.moves, noise, r.grid.side);
  const subject = found?.everywhere ? [] : cutSubject(r, noise);
  if (subject.length || !found) return subject;
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

/** A subject that the patch's edge cuts through. */
function cutSubject(r: PatchRecord, noise: number): Finding[] {
  const found = subjectCut(r.grid, r.within, r.around, r.clean.moves, noise);
  if (!found) return [];
  const laid = framesOf(r);
  return [
    finding(
      r,
      "bite",
      laid,
      laid[Math.floor(laid.length / 2)],
      pixelsOf(r.grid, boxOf(r.grid, found.cells)),
      { value: found.beside, limit: ALIVE.codes },
      {
        says: `The patch's edge runs through something that moves, and holds a part of it still: beside the patch it moves by ${found.beside.toFixed(1)} codes.`,
        do: "Hold out what moves, or draw the mask so that it keeps clear of it.",
        remedy: "hold-out",
      },
    ),
  ];
}
