import type { TrackModel } from "../../core/document/track";
import { IDENTITY, type Place } from "../../core/follow/homography";
import { lumaOf } from "../../core/follow/luma";
import { FREEDOM } from "../../core/follow/models";
import type { TrackedFrame } from "../../core/follow/track-data";
import { Tracker } from "../../core/follow/tracker";
import { aspectOf } from "../../wire/take";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { MediaError } from "../media/media-error";
import type { Watch } from "../watch";

export interface FollowAsk {
  /** The frame the region is drawn on, and its corners in take pixels. */
  at: number;
  region: Place[];
  /** First and last frame it is followed to. */
  from: number;
  to: number;
  /** How it may change; without one, as little as explains what is seen. */
  model?: TrackModel;
}

/** What was followed, and the richest model that it took. */
export interface Followed {
  frames: TrackedFrame[];
  model: TrackModel;
}

/**
 * Follows a region of a take from one of its frames forward and backward; each way ends where it is lost, at a cut, or where it was to end.
 * When it is stopped by whoever watches, what was followed so far stays.
 * @returns one entry a frame, in their order; the last of each way may say why it stopped
 * @throws MediaError where the region holds too little to follow
 */
export async function followRegion(store: FrameStore, id: string, index: TakeIndex, ask: FollowAsk, watch: Watch): Promise<Followed> {
  const { at, region, from, to } = ask;
  const square = aspectOf(index.info) === 1;
  const model = !square && ask.model === "similarity" ? "affine" : ask.model;
  const first = lumaOf(await store.frame(id, index, at));
  const out: TrackedFrame[] = [{ f: at, matrix: IDENTITY, quality: 1 }];
  let done = 0;
  let found: TrackModel = model ?? "shift";
  for (const way of [1, -1]) {
    // onward it may have stopped early: how far it is says which frame is looked at
    done = way > 0 ? 0 : to - at;
    const tracker = trackerOn(first, region, model, undefined, square);
    const end = way > 0 ? to : from;
    for (let f = at + way; way > 0 ? f <= end : f >= end; f += way) {
      if (watch.signal?.aborted) break;
      watch.progress?.(++done, to - from);
      // a scene begins with the frame that is named as a cut
      if (index.cuts.includes(way > 0 ? f : f + 1)) {
        out.push({ f, stopped: "another scene is shown from here on" });
        break;
      }
      const next = tracker.next(lumaOf(await store.frame(id, index, f)), f);
      out.push(next);
      if ("stopped" in next) break;
    }
    if (FREEDOM[tracker.found] > FREEDOM[found]) found = tracker.found;
  }
  return { frames: out.sort((a, b) => a.f - b.f), model: found };
}

function trackerOn(...args: ConstructorParameters<typeof Tracker>): Tracker {
  try {
    return new Tracker(...args);
  } catch (e) {
    if (e instanceof RangeError) throw new MediaError(e.message);
    throw e;
  }
}
