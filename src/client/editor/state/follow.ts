import type { TrackModel } from "../../../core/document/track";
import type { TrackData } from "../../../core/follow/track-data";

/** To where a region is followed from the frame it is drawn on. */
export const WAYS = ["both", "on", "back"] as const;
export type Way = (typeof WAYS)[number];
/** How far: the patch's frames, the whole shot, or to the next keyframe of the patch. */
export const REACHES = ["patch", "shot", "key"] as const;
export type Reach = (typeof REACHES)[number];

export interface FollowState {
  /** What was measured of the recipe's tracks, by its hash, as far as it is there. */
  tracks: ReadonlyMap<string, TrackData>;
  /** How the next region is followed. */
  following: { way: Way; reach: Reach; /** How it may change; null: as little as explains what is seen. */ model: TrackModel | null };
}

export const firstFollow: FollowState = { tracks: new Map(), following: { way: "both", reach: "patch", model: null } };
