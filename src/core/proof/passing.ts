import { grown } from "../plate/regions";
import { cleanPicture, type CleanPicture, lightsOf, litCells, type Look } from "./clean";
import { type CellGrid, cellCount, type Cells, marked } from "./grid";
import { COVERED, type Seen, type Sight, unlike, UNLIKE } from "./sight";

/**
 * Who passes a thing that is there in all frames of a shot, a stand that was left behind: what differs from how the take looks most of the
 * time, with the thing. Asked where no frame shows the place without it, so that nothing else tells the thing from who passes.
 */
export class Passing {
  private readonly usual: CleanPicture;

  constructor(
    grid: CellGrid,
    looks: readonly Look[],
    private readonly pivots: readonly number[],
  ) {
    const all = new Uint8Array(cellCount(grid)).fill(1);
    this.usual = cleanPicture(
      grid,
      looks.map(({ cells }) => ({ cells, free: all })),
      pivots,
    );
  }

  /** What of somebody who passes is seen in a frame, and what the patch hides of them. */
  seen({ live, mended, alpha, together }: Pick<Sight, "live" | "mended" | "alpha" | "together">, coarse: boolean): Seen {
    const { usual } = this;
    const lit: Cells = litCells(
      usual.cells,
      lightsOf(usual.cells, live, this.pivots, (i) => together[i] <= 0),
    );
    const n = alpha.length;
    const out: Seen = { visible: new Uint8Array(n), hidden: new Uint8Array(n), off: new Float32Array(n) };
    for (let i = 0; i < n; i++) {
      const off = unlike(live, lit, usual.spread, i, coarse);
      out.off[i] = off;
      if (off <= UNLIKE) continue;
      // the patch's own edge, where both are seen, joins them
      if (alpha[i] < COVERED) out.visible[i] = 1;
      if (together[i] > 0 && unlike(live, mended, usual.spread, i, coarse) > UNLIKE) out.hidden[i] = 1;
    }
    return out;
  }
}

/** What is seen without who passes, and without what their rim leaves in the cells beside them. */
export function withoutPassing(grid: CellGrid, all: Seen, passing: Seen): Seen {
  const both = passing.visible.map((v, i) => v | passing.hidden[i]);
  const theirs = grown(marked(grid, both), 1).data;
  return { ...all, visible: all.visible.map((v, i) => v & ~theirs[i]), hidden: all.hidden.map((v, i) => v & ~theirs[i]) };
}
