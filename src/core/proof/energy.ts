import { nth } from "../motion/gray";
import type { Frame, Plane, Rect } from "../pixels/frame";

/** Side of the blocks whose means are taken off: what they have in common is light, not grain. */
const BLOCK = 8;
/** Of a block's energies in time so many are no greater than the one that counts: what passes is left out. */
const USUAL = 0.6;
/** Fewer samples say nothing. */
const LEAST_SAMPLES = 2000;
/** Fewer blocks, likewise. */
const LEAST_BLOCKS = 4;
/** Fewer pairs of frames, likewise. */
const LEAST_PAIRS = 4;

/** The energy of grain in time by blocks of a part of the picture, of the footage where no patch lies and of the mended picture where one does. */
export class GrainInTime {
  private readonly across: number;
  private readonly footage: Map<number, number[]> = new Map();
  private readonly patch: Map<number, number[]> = new Map();

  constructor(private readonly rect: Rect) {
    this.across = Math.ceil((rect.x1 - rect.x0) / BLOCK);
  }

  /** Two frames of the footage that follow each other. @param free whether nothing covers a pixel in either */
  addFootage(a: Frame, b: Frame, free: (x: number, y: number) => boolean): void {
    this.add(this.footage, a, b, free);
  }

  /** Two mended frames that follow each other. @param within whether a patch alone is seen at a pixel in both */
  addPatch(a: Frame, b: Frame, within: (x: number, y: number) => boolean): void {
    this.add(this.patch, a, b, within);
  }

  private add(into: Map<number, number[]>, a: Frame, b: Frame, counts: (x: number, y: number) => boolean): void {
    const unit = 2 ** (a.format.bits - 8);
    const [pa, pb] = [a.planes[0], b.planes[0]];
    const { x0, y0, x1, y1 } = this.rect;
    for (let y = y0; y + BLOCK <= y1; y += BLOCK)
      for (let x = x0; x + BLOCK <= x1; x += BLOCK) {
        if (!counts(x, y) || !counts(x + BLOCK - 1, y) || !counts(x, y + BLOCK - 1) || !counts(x + BLOCK - 1, y + BLOCK - 1)) continue;
        const key = ((y - y0) / BLOCK) * this.across + (x - x0) / BLOCK;
        let list = into.get(key);
        if (!list) into.set(key, (list = []));
        list.push(blockEnergy(pa, pb, x, y) / (unit * unit));
      }
  }

  /**
   * What moves within the patch against what moves in the footage at the same place.
   * @returns both as standard deviations in time, 8-bit codes, over the blocks of which both are known, and how many; null where that is too little
   */
  result(): { patch: number; footage: number; blocks: number[] } | null {
    let [inside, own, samples] = [0, 0, 0];
    const blocks: number[] = [];
    for (const [key, list] of this.patch) {
      const there = this.footage.get(key);
      if (!there || there.length < LEAST_PAIRS || list.length < LEAST_PAIRS) continue;
      samples += list.length * BLOCK * BLOCK;
      inside += usual(list);
      own += usual(there);
      blocks.push(key);
    }
    const n = blocks.length;
    if (n < LEAST_BLOCKS || samples < LEAST_SAMPLES) return null;
    return { patch: Math.sqrt(inside / n / 2), footage: Math.sqrt(own / n / 2), blocks };
  }

  /** The pixels of a block. */
  place(block: number): Rect {
    const [x, y] = [this.rect.x0 + (block % this.across) * BLOCK, this.rect.y0 + Math.floor(block / this.across) * BLOCK];
    return { x0: x, y0: y, x1: x + BLOCK, y1: y + BLOCK };
  }
}

const usual = (list: number[]): number => nth(Float64Array.from(list), Math.floor(USUAL * (list.length - 1)));

/** The mean square by which a block differs in two planes, its mean difference left out. */
function blockEnergy(a: Plane, b: Plane, x0: number, y0: number): number {
  let [s, q] = [0, 0];
  for (let y = y0; y < y0 + BLOCK; y++)
    for (let x = x0, i = y * a.width + x0; x < x0 + BLOCK; x++, i++) {
      const d = a.data[i] - b.data[i];
      s += d;
      q += d * d;
    }
  const n = BLOCK * BLOCK;
  return (q - (s * s) / n) / (n - 1);
}
