import type { Background, Cells } from "./cells";
import { type Grid, pieces } from "./regions";

/** Frames running in which the same other thing must be seen to count as a state of its own. */
const RUNNING = 3;
/** Standard deviations from the background that make it another thing, and within which it stays the same from frame to frame. */
const OTHER = 5;
const SAME = 3;
/** Fewer cells together are chance. */
const LEAST = 6;

/**
 * Cells in which something else than the background is seen in three or more frames running, and stays as it is meanwhile: from the
 * pictures alone one cannot tell which of the two is the ground, since what rests for most of a shot is the background by habit.
 */
export function secondStates(frames: readonly Cells[], b: Background): Grid {
  const { width, height } = frames[0];
  const data = new Uint8Array(width * height);
  const planes = b.planes.length;
  for (let i = 0; i < data.length; i++) {
    let running = 0;
    for (let f = 0; f < frames.length && running < RUNNING; f++) {
      let [off, moved] = [0, 0];
      for (let p = 0; p < planes; p++) {
        const v = frames[f].planes[p][i];
        off += ((v - b.planes[p][i]) / b.sigma[p][i]) ** 2;
        if (running) moved += ((v - frames[f - 1].planes[p][i]) / (Math.SQRT2 * b.noise[p])) ** 2;
      }
      running = off < OTHER * OTHER ? 0 : moved > SAME * SAME * planes ? 1 : running + 1;
    }
    if (running >= RUNNING) data[i] = 1;
  }
  for (const piece of pieces({ width, height, data })) if (piece.length < LEAST) for (const i of piece) data[i] = 0;
  return { width, height, data };
}
