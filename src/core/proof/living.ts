import { grown, pieces } from "../plate/regions";
import { type CellGrid, type Cells, marked } from "./grid";

/** Frames that are needed before anything can be told of what moves slowly. */
const LEAST_FRAMES = 24;
/** Frames in which a subject that moves is seen to. */
const FEW_FRAMES = 8;
/** Cells of a subject on either side of a patch's edge, at least. */
const EITHER_SIDE = 6;
/** What is alive moves so many times as much as noise makes its cells move, and by so many codes at least. */
export const ALIVE = { times: 4, codes: 1.5 };
/** What moves by less than this share of that is frozen. */
const FROZEN = 0.25;
/** So much of what is asked has to be alive, and frozen. */
const SHARE = 0.3;
/** Of ground that is alive, rather than a subject before it, so much of what surrounds a patch lives. */
const MOST = 0.7;
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
  deviation(i: number, least = LEAST_FRAMES): number | null {
    const n = this.count[i];
    if (n < least) return null;
    return Math.sqrt(Math.max(0, this.squares[i] / n - (this.sum[i] / n) ** 2));
  }
}

/** Whether something moves that much. @param noise σ of the footage's grain, codes @param side of a cell in samples */
const aliveBy = (noise: number, side: number) => (v: number | null) => v !== null && v > ALIVE.codes && v > (ALIVE.times * ALIKE * noise) / side;

/**
 * A subject that moves, and a patch's edge that runs through it: it is seen to move right beside the patch while that is laid, moves within
 * it in frames without the patch, and stands still in it.
 * @param moves how much a cell of the footage moves where the patch lies, in frames without it, codes
 * @returns its cells within the patch, and how much it moves beside it, codes; null where there is none
 */
export function subjectCut(
  grid: CellGrid,
  inside: CellsInTime,
  around: CellsInTime,
  moves: Float32Array,
  noise: number,
): { cells: number[]; beside: number } | null {
  const alive = aliveBy(noise, grid.side);
  const [within, beside] = [new Uint8Array(moves.length), new Uint8Array(moves.length)];
  for (let i = 0; i < moves.length; i++) {
    const own = inside.deviation(i, FEW_FRAMES);
    within[i] = Number(own !== null && alive(moves[i]) && own <= FROZEN * moves[i]);
    beside[i] = Number(alive(around.deviation(i, FEW_FRAMES)));
  }
  // the mask's own edge lies between both sides
  const joined = grown(
    marked(
      grid,
      Uint8Array.from(within, (v, i) => v | beside[i]),
    ),
    1,
  );
  let found: { cells: number[]; beside: number } | null = null;
  for (const piece of pieces(joined)) {
    const [cells, others] = [piece.filter((i) => within[i]), piece.filter((i) => beside[i])];
    if (cells.length < EITHER_SIDE || others.length < EITHER_SIDE || (found && found.cells.length >= cells.length)) continue;
    found = { cells, beside: others.reduce((sum, i) => sum + around.deviation(i, FEW_FRAMES)!, 0) / others.length };
  }
  return found;
}

/**
 * Whether what is alive around a patch stands still in it: water, smoke, leaves. Asked by how much cells move where nothing covers them.
 * @param moves how much a cell of the footage moves where the patch lies, in frames without it, codes
 * @param noise σ of the footage's grain, codes @param side of a cell in samples
 * @returns how much moves around it, and within, codes, and whether nearly all that surrounds it does; null where nothing is frozen, or it cannot be told
 */
export function frozen(
  inside: CellsInTime,
  around: CellsInTime,
  moves: Float32Array,
  noise: number,
  side: number,
): { footage: number; patch: number; cells: number[]; everywhere: boolean } | null {
  const alive = aliveBy(noise, side);
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
  return { footage: own / cells.length, patch: patch / cells.length, cells, everywhere: living > MOST * ring };
}
