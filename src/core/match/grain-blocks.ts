import type { Plane } from "../pixels/frame";

/** Side of the blocks that are compared, in samples of a plane. */
export const BLOCK = 16;
/** Means over black below which no gain is told, codes of 8 bits. */
const DARK = 10;
/** What has become so many times as bright is something else that is seen. */
const MOST_LIGHT = 2;

/** A rectangle of luma pixels in which the grain is measured: one that is flat. */
export interface FlatBox {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** What of a block differs between two frames, its light taken off. */
export interface Block {
  d: Float64Array;
  /** Its middle. */
  x: number;
  y: number;
  level: number;
  sigma: number;
}

/**
 * What differs between two frames, block by block of a plane, in codes of 8 bits.
 * @param pivot the code about which light is a gain: what is seen in the later frame is as many times as strong as the means say; null
 * for colour differences, whose means are taken off
 * @param copied whether blocks count that are the same in both: where noise is carried on, they are its utmost likeness
 */
export function blocksOf(a: Plane, b: Plane, unit: number, pivot: number | null, box?: FlatBox, copied = false): Block[] {
  const { width, height } = a;
  const r = box ?? { x0: 0, y0: 0, x1: width, y1: height };
  const side = Math.max(4, Math.min(BLOCK, r.x1 - r.x0, r.y1 - r.y0));
  const out: Block[] = [];
  const n = side * side;
  for (let y = r.y0; y + side <= r.y1; y += side)
    for (let x = r.x0; x + side <= r.x1; x += side) {
      const d = new Float64Array(n);
      let [before, after, same] = [0, 0, 0];
      for (let j = 0; j < side; j++)
        for (let i = 0, at = (y + j) * width + x; i < side; i++, at++) {
          before += a.data[at];
          after += b.data[at];
          if (a.data[at] === b.data[at]) same++;
        }
      if (same > (n * 7) / 8 && !copied) continue;
      [before, after] = [before / (n * unit), after / (n * unit)];
      const gain = pivot === null ? 1 : gainOf(before - pivot, after - pivot);
      for (let j = 0, o = 0; j < side; j++)
        for (let i = 0, at = (y + j) * width + x; i < side; i++, at++, o++) {
          d[o] = b.data[at] / unit - after - gain * (a.data[at] / unit - before);
        }
      const variance = withoutSlope(d, side);
      // of noise as strong in both, one times and gain times as much
      out.push({ d, x: x + side / 2, y: y + side / 2, level: (before + after) / 2, sigma: Math.sqrt(variance / (1 + gain * gain)) });
    }
  return out;
}

/** How many times as bright a block has become, by its means over black; 1 where it is too dark to tell, or something else is seen there. */
function gainOf(before: number, after: number): number {
  const gain = before > DARK ? after / before : 1;
  return gain > 1 / MOST_LIGHT && gain < MOST_LIGHT ? gain : 1;
}

/** Takes a slope across and down off a whole block of mean 0, which light makes that comes from the side. @returns the variance of what is left */
function withoutSlope(d: Float64Array, side: number): number {
  if (side < BLOCK) return d.reduce((s, v) => s + v * v, 0) / (d.length - 1);
  const middle = (side - 1) / 2;
  let [across, down] = [0, 0];
  for (let j = 0, o = 0; j < side; j++)
    for (let i = 0; i < side; i++, o++) {
      across += (i - middle) * d[o];
      down += (j - middle) * d[o];
    }
  // Σ (i − m)² over a block: side · side(side² − 1)/12
  const all = (side * side * (side * side - 1)) / 12;
  let s = 0;
  for (let j = 0, o = 0; j < side; j++)
    for (let i = 0; i < side; i++, o++) {
      d[o] -= ((i - middle) * across + (j - middle) * down) / all;
      s += d[o] * d[o];
    }
  return s / (d.length - 3);
}
