import type { Place } from "../../core/follow/homography";
import { lumaOf } from "../../core/follow/luma";
import { Rider, type Riding } from "../../core/follow/riding";
import type { Stillness } from "../../core/survey/stillness";
import type { FrameStore } from "../media/frame-store";
import { sceneOf, type TakeIndex } from "../media/index-file";
import { step, type Watch } from "../watch";

/** Frames on either side that are looked at. */
const AROUND = 12;

/**
 * Whether what an outlined thing sits on moves with it, within some frames around that on which it was outlined.
 * @param still what the camera does, where that is known @returns null where it stands still, goes by itself, or cannot be followed
 */
export async function ridingOf(
  store: FrameStore,
  id: string,
  index: TakeIndex,
  { in: from, out: to, at, outline }: { in: number; out: number; at: number; outline: readonly Place[] },
  still: Stillness | null,
  watch: Watch,
): Promise<Riding | null> {
  // a camera that moves by much takes everything along, and its own measure is not sure
  if (still?.verdict === "moves") return null;
  const scene = sceneOf(index, at, at);
  const [first, last] = [Math.max(from, scene.in, at - AROUND), Math.min(to, scene.out, at + AROUND)];
  const picture = async (f: number) => lumaOf(await store.frame(id, index, f));
  const camera = (f: number): Place => {
    const [a, b] = still ? [still.perFrame[at], still.perFrame[f]] : [];
    return a && b ? [b[0] - a[0], b[1] - a[1]] : [0, 0];
  };
  const outlined = await picture(at);
  const seen: Riding = { by: 0, in: at, out: at };
  let done = 0;
  for (const way of [1, -1]) {
    const rider = riderOn(outlined, outline);
    if (!rider) return null;
    for (let f = at + way; f >= first && f <= last; f += way) {
      step(watch, ++done, last - first);
      if (!rider.next(await picture(f), f, camera(f))) break;
      if (way > 0) seen.out = f;
      else seen.in = f;
    }
    seen.by = Math.max(seen.by, rider.along);
  }
  return seen.by > 0 ? seen : null;
}

/** What follows it; null where it holds too little. */
function riderOn(...args: ConstructorParameters<typeof Rider>): Rider | null {
  try {
    return new Rider(...args);
  } catch (e) {
    if (e instanceof RangeError) return null;
    throw e;
  }
}
