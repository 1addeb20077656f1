import { type Background, backgroundOf, type Cells, offBackground } from "../plate/cells";
import { likeness } from "./present";
import { both, count, farAcross, type Grid, grown, hysteresis, not, pieces, without } from "../plate/regions";
import { offWithThin } from "./thin";

/** Standard deviations from which a cell belongs to something, and from which it may hang on to that. */
export const HIGH = 6;
export const LOW = 3.2;

/** The share of an outline that has to differ from a background for it to be that of the thing. */
const FILLS = 0.12;

/** Frames by which a background is known: some dozens, spread over all. */
export function some(frames: readonly Cells[]): Cells[] {
  const step = Math.max(1, Math.floor(frames.length / 32));
  return frames.filter((_, i) => i % step === 0 || i === frames.length - 1);
}

/** A background, and what of an outlined thing differs from it. */
export interface Guess {
  background: Background;
  /** What of the outlined thing differs from it. */
  mask: Grid;
  /** How it is told what differs: {@link offBackground}, or {@link offWithThin}. */
  off: typeof offBackground;
}

/** What is there most often as the background; null when that is the thing itself. */
export function byHabit(frames: readonly Cells[], often: Background, here: number, wanted: Grid): Guess | null {
  const mask = outlined(frames[here], often, wanted);
  return count(both(mask, wanted)) > FILLS * count(wanted) ? { background: often, mask, off: offBackground } : null;
}

/** The share of something faint that may differ clearly by itself. */
const FAINT = 0.05;
/** From which likeness on a thing is found again on another frame. */
const FOUND = 0.75;

/** The share of the outline's larger side over which something thin has to go on. */
const REACHES = 0.5;

/** A wire or a thread, of which a cell holds little: null where what is found in the outline is not thin, or ends soon. */
export function byThread(frames: readonly Cells[], often: Background, here: number, wanted: Grid): Guess | null {
  const mask = outlined(frames[here], often, wanted, offWithThin);
  const inside = both(mask, wanted);
  if (!isThin(inside) || farAcross(inside) < REACHES * farAcross(wanted)) return null;
  // what a camera that drifts takes along is there at either end, too; what is faint cannot be told so beside the ground
  const plain = offBackground(frames[here], often);
  const clear = plain.filter((v, i) => inside.data[i] && v > HIGH).length > FAINT * count(inside);
  if (clear && [frames[0], frames[frames.length - 1]].every((f) => likeness(frames[here], f, inside) >= FOUND)) return null;
  return { background: often, mask, off: offWithThin };
}

/** The share of what is thin that may lie amidst its own. */
const AMIDST = 0.1;

/** Whether hardly a cell has its own on all sides; so of nothing. */
export function isThin(g: Grid): boolean {
  return count(without(g, grown(not(g), 1))) <= AMIDST * count(g);
}

/** Codes of luma by which cells may differ for the same to be seen, and the share of an outline within which it may be otherwise. */
const SAME = 8;
const OTHERWISE = 0.15;
/** The share of all frames from which a thing may be what is there most often; and the fewest by which it is known what is behind it. */
const LONG = 0.1;
const FEW = 3;

/** What is there most often while the thing does not rest in its outline; null where it rests there all the time, or not for long. */
export function byLeaving(frames: readonly Cells[], here: number, wanted: Grid): Guess | null {
  const room = count(wanted);
  const [luma] = frames[here].planes;
  const rests = frames.map((f) => {
    let unlike = 0;
    for (let i = 0; i < wanted.data.length; i++) if (wanted.data[i] && Math.abs(f.planes[0][i] - luma[i]) > SAME) unlike++;
    return unlike <= OTHERWISE * room;
  });
  let [a, b] = [here, here];
  while (a > 0 && rests[a - 1]) a--;
  while (b < frames.length - 1 && rests[b + 1]) b++;
  const others = frames.filter((_, i) => i < a || i > b);
  // what is there again had not left: something else passed before it
  const again = rests.filter((r, i) => r && (i < a || i > b)).length;
  if (b - a + 1 < LONG * frames.length || others.length < FEW || again >= FEW) return null;
  const background = backgroundOf(some(others));
  const mask = outlined(frames[here], background, wanted);
  if (count(both(mask, wanted)) <= FILLS * room) return null;
  // what a camera that drifts shows elsewhere had not left either
  const form = both(mask, grown(wanted, 2));
  const there = [0, 0.25, 0.5, 0.75, 1].map((k) => others[Math.floor(k * (others.length - 1))]);
  return there.some((f) => likeness(frames[here], f, form) >= FOUND) ? null : { background, mask, off: offBackground };
}

/** The last or the first frame as the background, which the trade leaves empty (common practice): unless the thing is found there too. */
export function byEnds(frames: readonly Cells[], often: Background, here: number, wanted: Grid): Guess | null {
  for (const i of [frames.length - 1, 0]) {
    if (i === here) continue;
    const sigma = often.noise.map((v) => new Float32Array(wanted.data.length).fill(1.4 * v));
    const background: Background = { ...often, planes: frames[i].planes, sigma };
    const mask = outlined(frames[here], background, wanted);
    if (count(both(mask, wanted)) < FILLS * count(wanted)) continue;
    if (likeness(frames[here], frames[i], both(mask, grown(wanted, 2))) < FOUND) return { background, mask, off: offBackground };
  }
  return null;
}

/** The pieces that differ from the background and belong to what is outlined. */
function outlined(frame: Cells, b: Background, wanted: Grid, off = offBackground): Grid {
  const { width, height } = frame;
  const near = grown(wanted, 2);
  const g = hysteresis(off(frame, b), width, height, LOW, HIGH);
  const mask: Grid = { width, height, data: new Uint8Array(g.data.length) };
  const there = count(both(g, near));
  for (const piece of pieces(g)) {
    let inside = 0;
    for (const i of piece) inside += near.data[i];
    // what lies mostly elsewhere is another thing that the outline only grazes, unless it is all that is in it
    if (inside < 3 || (inside < 0.15 * piece.length && inside < 0.5 * there)) continue;
    for (const i of piece) mask.data[i] = 1;
  }
  return mask;
}
