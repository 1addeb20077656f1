import type { Cells } from "./grid";

/** Frames that are needed before anything can be told of what moves slowly. */
const LEAST_FRAMES = 24;
/** What is alive moves so many times as much as noise makes its cells move, and by so many codes at least. */
const ALIVE = { times: 4, codes: 1.5 };
/** What moves by less than this share of that is frozen. */
const FROZEN = 0.25;
/** So much of what is asked has to be alive, and frozen. */
const SHARE = 0.3;
/** Noise of neighbours is alike: means of cells hold so much more of it than they would of independent samples. */
const ALIKE = 2.5;

/** How cells move in time: running sums of their luma, the scene's own light taken off. */
export class CellsInTime {
  private readonly count: Uint16Array;
  private readonly sum: Float32Array;
  private readonly squares: Float32Array;

  constructor(cells: number) {
    this.count = new Uint16Array(cells);
    this.sum = new Float32Array(cells);
    this.squares = new Float32Array(cells);
  }

  /** @param counts whether a cell is asked in this frame */
  add(seen: Cells, scene: Cells, counts: (i: number) => boolean): void {
    for (let i = 0; i < this.count.length; i++) {
      if (!counts(i)) continue;
      const d = seen[0][i] - scene[0][i];
      this.count[i]++;
      this.sum[i] += d;
      this.squares[i] += d * d;
    }
  }

  /** Standard deviation in time of a cell, codes; null of too few frames. */
  deviation(i: number): number | null {
    const n = this.count[i];
    if (n < LEAST_FRAMES) return null;
    return Math.sqrt(Math.max(0, this.squares[i] / n - (this.sum[i] / n) ** 2));
  }
}

/**
 * Whether what is alive around a patch stands still in it: water, smoke, leaves. Asked by how much cells move where nothing covers them.
 * @param moves how much a cell of the footage moves where the patch lies, in frames without it, codes
 * @param noise σ of the footage's grain, codes @param side of a cell in samples
 * @returns how much moves around it, and within, codes; null where nothing is frozen, or it cannot be told
 */
export function frozen(
  inside: CellsInTime,
  around: CellsInTime,
  moves: Float32Array,
  noise: number,
  side: number,
): { footage: number; patch: number; cells: number[] } | null {
  const alive = (v: number | null) => v !== null && v > ALIVE.codes && v > (ALIVE.times * ALIKE * noise) / side;
  let [asked, ring, living] = [0, 0, 0];
  const cells: number[] = [];
  let [own, patch] = [0, 0];
  for (let i = 0; i < moves.length; i++) {
    const out = around.deviation(i);
    if (out !== null) {
      ring++;
      if (alive(out)) living++;
    }
    const within = inside.deviation(i);
    if (within === null) continue;
    asked++;
    if (!alive(moves[i]) || within > FROZEN * moves[i]) continue;
    cells.push(i);
    own += moves[i];
    patch += within;
  }
  if (!asked || cells.length < SHARE * asked || !ring || living < SHARE * ring) return null;
  return { footage: own / cells.length, patch: patch / cells.length, cells };
}
