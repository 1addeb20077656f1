import type { Framing } from "../compose/reframe";

/** Beyond this enlargement too little of the picture would be left. */
const MOST = 2;
/** Rounds in which the enlargement is halved in: to 1 part in 60,000. */
const ROUNDS = 16;

/** What must lie beyond the border of a reframed picture, pixel by pixel. */
export class Unwanted {
  /** Sums of all that lies above and to the left. */
  private sums: Int32Array | null = null;
  private readonly there: Uint8Array;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.there = new Uint8Array(width * height);
  }

  /** Adds what is not 0 in a rectangle, and all within `room` pixels of it. */
  add(rect: { x0: number; y0: number; x1: number; y1: number }, data: ArrayLike<number>, room = 0): void {
    const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
    this.sums = null;
    const at = (i: number, j: number) => i >= 0 && j >= 0 && i < w && j < h && data[j * w + i] !== 0;
    for (let y = rect.y0, j = 0; y < rect.y1; y++, j++)
      for (let x = rect.x0, i = 0; x < rect.x1; x++, i++) {
        if (!data[j * w + i]) continue;
        // what lies inside is reached from the rim
        if (at(i - 1, j) && at(i + 1, j) && at(i, j - 1) && at(i, j + 1)) {
          if (x >= 0 && y >= 0 && x < this.width && y < this.height) this.there[y * this.width + x] = 1;
          continue;
        }
        const [from, to] = [Math.max(0, x - room), Math.min(this.width, x + room + 1)];
        if (to <= from) continue;
        for (let v = Math.max(0, y - room); v < Math.min(this.height, y + room + 1); v++)
          this.there.fill(1, v * this.width + from, v * this.width + to);
      }
  }

  /** Whether anything of it lies within w × h pixels from (x, y). */
  within(x: number, y: number, w: number, h: number): boolean {
    const s = (this.sums ??= summed(this.there, this.width, this.height));
    const at = (u: number, v: number) => s[v * (this.width + 1) + u];
    return at(x + w, y + h) - at(x, y + h) - at(x + w, y) + at(x, y) > 0;
  }
}

function summed(there: Uint8Array, width: number, height: number): Int32Array {
  const s = new Int32Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++)
    for (let x = 0, row = 0; x < width; x++) {
      row += there[y * width + x];
      s[(y + 1) * (width + 1) + x + 1] = s[y * (width + 1) + x + 1] + row;
    }
  return s;
}

/** The whole pixels from which a picture so much enlarged shows nothing unwanted, nearest the middle; null where there is no such place. */
function placeFor(u: Unwanted, scale: number): [number, number] | null {
  const [w, h] = [u.width / scale, u.height / scale];
  const [most, low] = [Math.floor(u.width - w + 1e-9), Math.floor(u.height - h + 1e-9)];
  let best: [number, number] | null = null;
  let nearest = Infinity;
  for (let y = 0; y <= low; y++)
    for (let x = 0; x <= most; x++) {
      const far = (x + w / 2 - u.width / 2) ** 2 + (y + h / 2 - u.height / 2) ** 2;
      if (far < nearest && !u.within(x, y, Math.min(u.width - x, Math.ceil(w)), Math.min(u.height - y, Math.ceil(h))))
        [nearest, best] = [far, [x, y]];
    }
  return best;
}

/**
 * The least enlargement of the whole picture, with the move that goes with it, that leaves everything unwanted beyond the border; of places
 * that do, the one nearest the middle. Where a part of the picture will do, a smaller one within it does: so it is found by halving.
 * @returns null where nothing up to twice the size will do; moves in pixels
 */
export function leastReframing(u: Unwanted): Framing | null {
  if (!u.within(0, 0, u.width, u.height)) return { x: 0, y: 0, scale: 1, angle: 0 };
  if (!placeFor(u, MOST)) return null;
  let [low, high] = [1, MOST];
  for (let k = 0; k < ROUNDS; k++) {
    const middle = (low + high) / 2;
    if (placeFor(u, middle)) high = middle;
    else low = middle;
  }
  const [x, y] = placeFor(u, high)!;
  const centre = [x + u.width / high / 2, y + u.height / high / 2];
  return { x: high * (u.width / 2 - centre[0]), y: high * (u.height / 2 - centre[1]), scale: high, angle: 0 };
}

/** The share of the picture's width that an enlargement costs, 0 … 1. */
export const costOf = ({ scale }: Pick<Framing, "scale">): number => 1 - 1 / scale;
