import type { Frame } from "../../core/pixels/frame";
import { FORGOTTEN, type GrainStatistics, HELD_AFTER } from "../../core/match/grain";
import type { FlatBox } from "../../core/match/grain-blocks";
import { measureGrain } from "../../core/match/measure-grain";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { step, type Watch } from "../watch";

/** Frames, spread over a stretch, of which those are compared that lie far enough apart: whatever stands in its middle is in few such pairs. */
const SPREAD = 6;
/** Runs of frames that follow each other, and how long each is: as long as the kinds of coded pictures take turns. */
const RUNS = 3;
const RUN = 9;
/** Frames of the stretch's middle that are looked at: they are decoded in one go. */
const MOST = 120;

/**
 * Measures the grain of a stretch of a take that has no cut in it.
 * @param from,to its first and last frame @param box where given, only within it
 * @returns null where too little of the picture stands still to tell
 */
export async function grainOf(
  store: FrameStore,
  id: string,
  index: TakeIndex,
  range: { from: number; to: number; box?: FlatBox },
  watch: Watch,
): Promise<GrainStatistics | null> {
  const { box } = range;
  const beyond = Math.max(0, range.to - range.from + 1 - MOST);
  const [from, to] = [range.from + (beyond >> 1), range.to - ((beyond + 1) >> 1)];
  const count = to - from + 1;
  const lag = Math.max(1, Math.min(FORGOTTEN, Math.floor(count / 2)));
  // an odd step meets all kinds of coded pictures, which take turns by twos, fours or eights
  const wide = Math.floor((count - 1) / (SPREAD - 1));
  const by = Math.max(1, wide - 1 + (wide % 2));
  const many = Math.min(SPREAD, count);
  const spread = Array.from({ length: many }, (_, k) => from + ((count - 1 - by * (many - 1)) >> 1) + k * by);
  const far = spread.flatMap((a, i) => spread.slice(i + 1).flatMap((b) => (b - a >= lag ? [[a, b] as const] : [])));
  const runs = Array.from({ length: RUNS }, (_, k) => from + Math.round((k * Math.max(0, count - RUN)) / (RUNS - 1)));
  const after = (d: number) => {
    const starts = new Set(runs.flatMap((n) => Array.from({ length: Math.max(0, RUN - d) }, (_, k) => n + k)));
    return [...starts].flatMap((n) => (n + d <= to ? [[n, n + d] as const] : []));
  };
  const frames = new Map<number, Frame>();
  const near = after(1);
  // of a stretch so short that the far pairs lie no farther apart, what lasts cannot be told
  const mid = lag > 2 * HELD_AFTER ? after(HELD_AFTER) : [];
  const wanted = [...new Set([...far, ...near, ...mid].flat())].sort((a, b) => a - b);
  for (const [k, n] of wanted.entries()) {
    step(watch, k, wanted.length);
    frames.set(n, await store.frame(id, index, n));
  }
  const pairs = (of: typeof far) => of.map(([a, b]) => [frames.get(a)!, frames.get(b)!] as const);
  return measureGrain(pairs(far), pairs(near), 2 ** (index.info.format.bits - 8), box, pairs(mid));
}
