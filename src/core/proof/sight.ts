import { type CleanPicture, LEAST_LOOKS } from "./clean";
import type { Cells } from "./grid";

/** Standard deviations beyond which a cell shows something else. */
export const UNLIKE = 6;
/** So much of what was there has to be gone, before it counts as hidden. */
const TAKEN = 0.25;
/** α from which a patch alone is seen, and below which nothing of it is. */
export const COVERED = 0.98;

/** A frame where a patch lies, cell by cell. */
export interface Sight {
  /** The take's own cells, and those of the mended picture. */
  live: Cells;
  mended: Cells;
  /** α of the patch, and of all patches together. */
  alpha: Float32Array;
  together: Float32Array;
  /** The patch's picture as it lies, in the frame's light; null where it does not show what lies around. */
  picture: Cells | null;
  /** The clean picture in the frame's light. */
  clean: Cells;
}

/** What the cells of a frame are. */
export interface Seen {
  /** Something is seen in the mended picture that is not the scene. */
  visible: Uint8Array;
  /** Something was there, and is not any more, or less of it; where the rest is seen, a cell is both. */
  hidden: Uint8Array;
  /** By how much the mended picture differs from the scene, in standard deviations. */
  off: Float32Array;
}

/** How much the squares of a chroma plane count that is coarser than luma. */
export const COARSE = 0.25;

/** Differences of cells in standard deviations, all planes together. */
export function unlike(a: Cells, b: Cells, spread: Cells, i: number, coarse: boolean, noisier = 1): number {
  let z = 0;
  for (let p = 0; p < a.length; p++) {
    const d = (a[p][i] - b[p][i]) / (spread[p][i] * noisier);
    z += (p && coarse ? COARSE : 1) * d * d;
  }
  return Math.sqrt(z);
}

/**
 * What is seen and what is hidden in a frame. The scene is known twice: from frames in which no patch covers a place, and from the patch's
 * own picture, which goes on beyond its mask. Something is there where a cell is unlike both; where only one is known, that one.
 * @param coarse whether chroma is coarser than luma
 */
export function seenIn(s: Sight, known: CleanPicture, coarse: boolean): Seen {
  const n = s.alpha.length;
  const out: Seen = { visible: new Uint8Array(n), hidden: new Uint8Array(n), off: new Float32Array(n) };
  const root = Math.SQRT2;
  for (let i = 0; i < n; i++) {
    const looked = known.looks[i] >= LEAST_LOOKS;
    if (!looked && !s.picture) continue;
    const off = (cells: Cells): number => {
      const byClean = looked ? unlike(cells, s.clean, known.spread, i, coarse) : Infinity;
      // a patch's own picture has noise of its own
      const byPicture = s.picture ? unlike(cells, s.picture, known.spread, i, coarse, root) : Infinity;
      return Math.min(byClean, byPicture);
    };
    const left = off(s.mended);
    out.off[i] = left;
    // where a patch alone is seen, its picture is asked for by itself
    if (left > UNLIKE && s.together[i] < COVERED) out.visible[i] = 1;
    if (s.together[i] <= 0) continue;
    const was = off(s.live);
    if (was > UNLIKE && was - left > TAKEN * was) out.hidden[i] = 1;
  }
  return out;
}
