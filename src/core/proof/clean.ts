import { lightBetween } from "../match/light";
import { median, nth } from "../motion/gray";
import { type CellGrid, cellCount, type Cells } from "./grid";

/** Looks at a place that are needed before anything is known of it. */
export const LEAST_LOOKS = 8;
/** Cells by which the light between two pictures is told. */
const LIGHT_CELLS = 1200;
/** Codes below which the spread of a cell's mean is rounding. */
const LEAST_SPREAD = 0.5;
/** Of a cell's deviations in time so many are no greater than the one that counts, and what that is of a normal spread. */
const USUAL = { share: 0.6, of: 0.8416 };

/** So much of the spread of neighbouring cells counts as noise. */
const OF_TEXTURE = 0.2;

/** What a plane of cells becomes in another light: pivot + gain · (v − pivot) + offset. */
export type Lights = { pivot: number; gain: number; offset: number }[];

/** The light of `to` against `from`, a plane each, by the cells that count. */
export function lightsOf(from: Cells, to: Cells, pivots: readonly number[], counts: (i: number) => boolean): Lights {
  const usable: number[] = [];
  for (let i = 0; i < from[0].length; i++) if (counts(i)) usable.push(i);
  const every = Math.max(1, Math.floor(usable.length / LIGHT_CELLS));
  const some = usable.filter((_, k) => k % every === 0);
  return from.map((plane, p) => {
    const light = lightBetween(
      some.map((i) => plane[i]),
      some.map((i) => to[p][i]),
      pivots[p],
    );
    return { pivot: pivots[p], ...light };
  });
}

/** Cells in another light. */
export const litCells = (cells: Cells, lights: Lights): Cells =>
  cells.map((c, p) => {
    const { pivot, gain, offset } = lights[p];
    const out = new Float32Array(c.length);
    for (let i = 0; i < c.length; i++) out[i] = pivot + gain * (c[i] - pivot) + offset;
    return out;
  });

/** What a place looks like where nothing of what must go is before it, from frames that no patch covers there. */
export interface CleanPicture {
  /** Middle values in the light of the first look. */
  cells: Cells;
  /** By how much its cells differ from that in time: as noise does, and leaves, and water; standard deviations, 8-bit codes. */
  spread: Cells;
  /** The same of luma alone, as it was measured: what of it is texture, and a floor, left out; 0 where too few looks tell. */
  moves: Float32Array;
  /** What of that is usual: of half of all cells no more; half a code at least. */
  usual: number;
  /** From how many looks. */
  looks: Uint16Array;
}

/** A look at the take: its cells, and which of them count. */
export interface Look {
  cells: Cells;
  free: Uint8Array;
}

/**
 * The middle of some looks, cell by cell, and their spread: the median, since what passes stands before a cell in few of them.
 */
export function cleanPicture(grid: CellGrid, looks: readonly Look[], pivots: readonly number[]): CleanPicture {
  const n = cellCount(grid);
  const planes = pivots.length;
  const base = baseOf(looks);
  const lit = looks.map((l) => (l === base || !base ? l.cells : litCells(l.cells, lightsOf(l.cells, base.cells, pivots, (i) => !!l.free[i] && !!base.free[i])))); // prettier-ignore
  const out: CleanPicture = {
    cells: Array.from({ length: planes }, () => new Float32Array(n)),
    spread: Array.from({ length: planes }, () => new Float32Array(n)),
    moves: new Float32Array(n),
    usual: LEAST_SPREAD,
    looks: new Uint16Array(n),
  };
  const values = new Float64Array(looks.length);
  const usual = Array.from({ length: planes }, (): number[] => []);
  for (let i = 0; i < n; i++) {
    for (let p = 0; p < planes; p++) {
      let k = 0;
      for (let l = 0; l < looks.length; l++) if (looks[l].free[i]) values[k++] = lit[l][p][i];
      out.looks[i] = k;
      if (!k) continue;
      const list = values.subarray(0, k);
      const middle = median(list);
      for (let l = 0; l < k; l++) list[l] = Math.abs(list[l] - middle);
      out.cells[p][i] = middle;
      if (k < LEAST_LOOKS) continue;
      const s = nth(list, Math.floor(USUAL.share * (k - 1))) / USUAL.of;
      out.spread[p][i] = s;
      if (p === 0) out.moves[i] = s;
      if (i % 3 === 0) usual[p].push(s);
    }
  }
  for (let p = 0; p < planes; p++) {
    const common = usual[p].length ? median(usual[p]) : 0;
    if (p === 0) out.usual = Math.max(LEAST_SPREAD, common);
    for (let i = 0; i < n; i++) {
      // of a place that too few looks show the spread is 0 so far
      out.spread[p][i] = Math.max(LEAST_SPREAD, common, out.spread[p][i]);
    }
  }
  out.spread = out.spread.map((s, p) => withTexture(grid, s, out.cells[p]));
  return out;
}

/**
 * The spread with what texture adds: encoders code what comes into view again more coarsely, in proportion to what there is to code, and on
 * texture an eye sees less (contrast masking).
 */
function withTexture({ across, down }: CellGrid, spread: Float32Array, cells: Float32Array): Float32Array {
  return spread.map((s, i) => {
    const [x, y] = [i % across, Math.floor(i / across)];
    let [n, sum, squares] = [0, 0, 0];
    for (let j = Math.max(0, y - 1); j <= Math.min(down - 1, y + 1); j++)
      for (let k = Math.max(0, x - 1); k <= Math.min(across - 1, x + 1); k++) {
        const v = cells[j * across + k];
        n++;
        sum += v;
        squares += v * v;
      }
    const texture = Math.max(0, squares / n - (sum / n) ** 2);
    return Math.sqrt(s * s + OF_TEXTURE * OF_TEXTURE * texture);
  });
}

/** The look in whose light the others are seen: the one most of which counts. */
function baseOf(looks: readonly Look[]): Look | null {
  let best: Look | null = null;
  let most = -1;
  for (const l of looks) {
    let n = 0;
    for (const f of l.free) n += f;
    if (n > most) [best, most] = [l, n];
  }
  return best;
}
