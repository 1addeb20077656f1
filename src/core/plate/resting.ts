import { type Background, type Cells, mostOften, offBackground, settleOn } from "./cells";
import { type Grid, pieces } from "./regions";

/** Standard deviations from which a cell shows something else than the background. */
const OTHER = 5;
/** How far values may lie apart, in standard deviations of the noise, to be the same thing. */
const SAME = 4;
/** Share of the frames for which a second thing must be seen to count as resting. */
const RESTS = 0.1;
/** Share from which it casts doubt on what was chosen. */
const DOUBT = 0.22;
/** How much more of the contour the background must have, −1 … 1, to be taken for wrong. */
const SURE = 0.2;
/** Pieces of fewer cells tell nothing. */
const SMALL = 10;
const ROUNDS = 3;

/** A second thing that a cell shows for long: the frames in which it does. */
type Second = number[] | null;

function secondOf(frames: readonly Cells[], offs: readonly Float32Array[], b: Background, i: number, keepOut?: readonly (Grid | null)[]): Second {
  const n = frames.length;
  const other: number[] = [];
  for (let f = 0; f < n; f++) if (offs[f][i] > OTHER && !keepOut?.[f]?.data[i]) other.push(f);
  const least = Math.max(3, Math.ceil(RESTS * n));
  if (other.length < least) return null;
  const middle = b.planes.map((_, p) => {
    const column = Float32Array.from(other, (f) => frames[f].planes[p][i]).sort();
    return mostOften(column, column.length, Math.min(1, least / column.length)).value;
  });
  // what is only near something else is the background itself
  if (middle.every((m, p) => Math.abs(m - b.planes[p][i]) < SAME * b.noise[p])) return null;
  const same = other.filter((f) => middle.every((m, p) => Math.abs(frames[f].planes[p][i] - m) < SAME * b.noise[p]));
  return same.length >= least ? same : null;
}

/**
 * Mends a background in which something that rested for more than half the time was taken for part of it. Where cells side
 * by side show a second thing for long, either that is a thing before the background, or what was taken for the background
 * is. The one that is a thing has its contour: an edge along the border of those cells. Where it lies in the background, the
 * second is the true one. (The contour test for "ghosts" of background subtraction; common practice there, from memory.)
 * @returns cells in which two things rest so long that one cannot be sure
 */
export function settleResting(frames: readonly Cells[], b: Background, keepOut?: readonly (Grid | null)[]): Uint8Array {
  const { width, height } = frames[0];
  const n = width * height;
  const doubt = new Uint8Array(n);
  for (let round = 0; round < ROUNDS; round++) {
    const offs = frames.map((f) => offBackground(f, b));
    const seconds: Second[] = [];
    for (let i = 0; i < n; i++) seconds.push(secondOf(frames, offs, b, i, keepOut));
    if (round === 0) seconds.forEach((s, i) => s && s.length > DOUBT * frames.length && (doubt[i] = 1));
    const votes = new Float32Array(n);
    const voters = new Uint16Array(n);
    frames.forEach((f, k) => {
      const data = new Uint8Array(n);
      seconds.forEach((s, i) => s?.includes(k) && (data[i] = 1));
      for (const piece of pieces({ width, height, data })) {
        if (piece.length < SMALL) continue;
        const c = contour(piece, f, b, width, height);
        if (c === null) continue;
        for (const i of piece) {
          votes[i] += c;
          voters[i]++;
        }
      }
    });
    let mended = 0;
    for (let i = 0; i < n; i++) {
      const s = seconds[i];
      if (!s || voters[i] < 2 || votes[i] / voters[i] < SURE) continue;
      mended++;
      settleOn(
        b,
        i,
        s.map((k) => frames[k]),
      );
    }
    if (!mended) break;
  }
  return doubt;
}

/**
 * Whose edge lies along a piece's border: −1 the frame's alone, +1 the background's alone. Null where the frame shows something
 * else beyond most of the border too: then the piece is a part of a thing, and its border no contour.
 */
function contour(piece: number[], f: Cells, b: Background, w: number, h: number): number | null {
  const inside = new Set(piece);
  let [frame, back, border, open] = [0, 0, 0, 0];
  for (const i of piece) {
    const x = i % w;
    const y = (i - x) / w;
    for (const [dx, dy] of [
      [-2, 0],
      [2, 0],
      [0, -2],
      [0, 2],
    ]) {
      if (x + dx < 0 || y + dy < 0 || x + dx >= w || y + dy >= h) continue;
      const j = i + dy * w + dx;
      if (inside.has(j) || inside.has(i + Math.sign(dy) * w + Math.sign(dx))) continue;
      border++;
      // by the cell's own value: the wide measure reaches beyond a thing's edge
      if (b.planes.some((v, p) => Math.abs(f.planes[p][j] - v[j]) > OTHER * b.sigma[p][j])) continue;
      open++;
      for (let p = 0; p < b.planes.length; p++) {
        frame += Math.abs(f.planes[p][i] - f.planes[p][j]) / b.noise[p];
        back += Math.abs(b.planes[p][i] - b.planes[p][j]) / b.noise[p];
      }
    }
  }
  if (open < 0.7 * border) return null;
  return back + frame > 0 ? (back - frame) / (back + frame) : 0;
}
