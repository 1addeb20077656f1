import type { Cells } from "../plate/cells";
import type { Grid } from "../plate/regions";

/** Cells of a thing that have a say. */
const SOME = 240;
/** Codes by which a cell may look otherwise than before to count once, and how often at most; and what a cell counts where only the ground is seen. */
const UNLIKE = 20;
const LOOKS = 2;
const BARE = 2;
/** What a cell of unexpected movement costs. */
const UNEXPECTED = 0.01;
/** The least share of a thing that has to be in the picture for its place to be told. */
const LEAST = 0.2;

export type Shift = readonly [number, number];

/** A thing on one frame: its cells, and how they look there. */
export class Layer {
  /** Its cells, and some of them where they are many. */
  readonly cells: readonly number[];
  private readonly some: readonly number[];

  constructor(
    readonly mask: Grid,
    readonly look: Cells,
    /** Cells by which it is expected to move to the next frame. */
    readonly pace: Shift = [0, 0],
  ) {
    const all: number[] = [];
    for (let i = 0; i < mask.data.length; i++) if (mask.data[i]) all.push(i);
    this.cells = all;
    const step = Math.max(1, all.length / SOME);
    this.some = Array.from({ length: Math.ceil(all.length / step) }, (_, k) => all[Math.floor(k * step)]);
  }

  /** How unlike a frame is what it would be if the thing had moved so; 0 where it is the same, Infinity where it would be out of the picture. */
  cost(now: Cells, differs: Grid, shift: Shift): number {
    let [sum, n] = [0, 0];
    for (const i of this.some) {
      const off = this.costAt(i, now, differs, shift);
      if (off < 0) continue;
      n++;
      sum += off;
    }
    return n > 0 && n >= LEAST * this.some.length ? sum / n : Infinity;
  }

  /** The same of one of its cells, at most 2; −1 out of the picture. */
  costAt(i: number, now: Cells, differs: Grid, [dx, dy]: Shift): number {
    const { width: w, height: h } = this.mask;
    const x = (i % w) + dx;
    const y = Math.floor(i / w) + dy;
    if (x < 0 || y < 0 || x >= w || y >= h) return -1;
    const k = y * w + x;
    const off = differs.data[k] ? unlike(this.look, i, now, k) : BARE;
    return off < LOOKS ? off : LOOKS;
  }

  /** The movement by which a frame is most like what it was, within so many cells of what is expected. */
  moved(now: Cells, differs: Grid, reach: number, expected: Shift = this.pace): { shift: Shift; cost: number } {
    const [px, py] = [Math.round(expected[0]), Math.round(expected[1])];
    let [shift, most, cost]: [Shift, number, number] = [[px, py], Infinity, Infinity];
    const attempt = (dx: number, dy: number) => {
      const c = this.cost(now, differs, [dx, dy]);
      const all = c + UNEXPECTED * Math.hypot(dx - px, dy - py);
      if (all < most) [shift, most, cost] = [[dx, dy], all, c];
    };
    // every other place first, and then those about the best
    for (let dy = -reach; dy <= reach; dy += 2) for (let dx = -reach; dx <= reach; dx += 2) attempt(px + dx, py + dy);
    const [cx, cy] = shift;
    for (let dy = -1; dy <= 1; dy++) for (let dx = -1; dx <= 1; dx++) if (dx || dy) attempt(cx + dx, cy + dy);
    return { shift, cost };
  }

  /** Its cells after a movement, as far as they are in the picture. */
  laid([dx, dy]: Shift): number[] {
    const { width, height } = this.mask;
    const out: number[] = [];
    for (const i of this.cells) {
      const x = (i % width) + dx;
      const y = Math.floor(i / width) + dy;
      if (x >= 0 && y >= 0 && x < width && y < height) out.push(y * width + x);
    }
    return out;
  }

  /** How unlike one cell of a frame is the likest of those the thing would have there and beside it; null where it would have none. */
  at(now: Cells, x: number, y: number, [dx, dy]: Shift): number | null {
    const { width: w, height: h, data } = this.mask;
    let best: number | null = null;
    for (let v = Math.max(0, y - dy - 1); v <= Math.min(h - 1, y - dy + 1); v++)
      for (let u = Math.max(0, x - dx - 1); u <= Math.min(w - 1, x - dx + 1); u++) {
        if (!data[v * w + u]) continue;
        const off = unlike(this.look, v * w + u, now, y * w + x);
        if (best === null || off < best) best = off;
      }
    return best;
  }
}

/** How unlike two cells look: codes of all planes together, in those that count once. */
function unlike({ planes: [a0, a1, a2] }: Cells, i: number, { planes: [b0, b1, b2] }: Cells, k: number): number {
  return (Math.abs(a0[i] - b0[k]) + Math.abs(a1[i] - b1[k]) + Math.abs(a2[i] - b2[k])) / UNLIKE;
}
