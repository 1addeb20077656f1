import { pieces } from "../../plate/regions";
import { boxOf } from "../crossing";
import type { Finding } from "../finding";
import { marked, pixelsOf } from "../grid";
import type { PatchRecord } from "../patch-record";
import { UNLIKE } from "../sight";
import { finding, framesOf, times } from "./telling";

/** In so many of a patch's frames its picture shows what the scene does not, and in so many cells at least. */
const THROUGHOUT = 0.8;
const LEAST_SHOWN = 4;

/** What the patch's own picture shows though the scene does not. */
export function shown(r: PatchRecord, misplaced: boolean): Finding[] {
  const every = Uint8Array.from(r.shows, (v, i) => Number(r.asked[i] >= 2 && v >= THROUGHOUT * r.asked[i]));
  const laid = framesOf(r);
  if (!laid.length) return [];
  // a picture that lies off differs along its lines: then only what is more than a line counts
  const data = misplaced ? cores(r.grid, every) : every;
  const found = pieces(marked(r.grid, data)).filter((cells) => cells.length >= LEAST_SHOWN);
  if (!found.length) return [];
  const offOf = (cells: number[]) => cells.reduce((sum, i) => sum + r.showsOff[i], 0);
  const worst = found.reduce((x, y) => (offOf(y) > offOf(x) ? y : x));
  const value = offOf(worst) / worst.length;
  const words = {
    says: `The patch's own picture shows something that other frames do not show there: ${times(value)}.`,
    do: "Take the picture from another frame, or retouch it there.",
    remedy: "picture" as const,
  };
  return [finding(r, "leak", laid, laid[Math.floor(laid.length / 2)], pixelsOf(r.grid, boxOf(r.grid, worst)), { value, limit: UNLIKE }, words)];
}

/** Cells whose neighbours nearly all count as well. */
function cores({ across, down }: PatchRecord["grid"], data: Uint8Array): Uint8Array {
  return data.map((v, i) => {
    const [x, y] = [i % across, Math.floor(i / across)];
    if (!v || x < 1 || y < 1 || x >= across - 1 || y >= down - 1) return 0;
    let n = 0;
    for (let j = -1; j <= 1; j++) for (let k = -1; k <= 1; k++) n += data[i + j * across + k];
    return Number(n >= 8);
  });
}
