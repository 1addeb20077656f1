import type { Frame } from "../../core/pixels/frame";
import { FORGOTTEN, type GrainStatistics, HELD_AFTER } from "../../core/match/grain";
import { type FlatBox, measureGrain } from "../../core/match/measure-grain";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { step, type Watch } from "../watch";

/** Pairs of frames that are compared. */
const PAIRS = 6;
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
  const starts = [
    ...new Set(Array.from({ length: PAIRS }, (_, k) => from + Math.round((k * Math.max(0, count - 1 - lag)) / Math.max(1, PAIRS - 1)))),
  ];
  const frames = new Map<number, Frame>();
  const wanted = [...new Set(starts.flatMap((n) => [n, Math.min(to, n + 1), n + HELD_AFTER, n + lag]))].filter((n) => n <= to).sort((a, b) => a - b);
  for (const [k, n] of wanted.entries()) {
    step(watch, k, wanted.length);
    frames.set(n, await store.frame(id, index, n));
  }
  const pairs = (d: number) => starts.flatMap((n) => (frames.has(n) && frames.has(n + d) ? [[frames.get(n)!, frames.get(n + d)!] as const] : []));
  // of a stretch so short that the far pairs lie no farther apart, what lasts cannot be told
  return measureGrain(pairs(lag), pairs(1), 2 ** (index.info.format.bits - 8), box, lag > 2 * HELD_AFTER ? pairs(HELD_AFTER) : []);
}
