import { type FollowAsk, type Followed, followRegion } from "../../analysis/follow";
import { readIndex } from "../../media/index-file";
import type { Kind } from "../kind";

interface Spec extends FollowAsk {
  take: string;
}

/** Follows a region of a take. */
export const follow: Kind<Spec, Followed> = {
  lane: "now",
  failed: "Following the region failed",
  async run({ take, ...ask }, { paths, store }, watch) {
    return followRegion(store, take, await readIndex(paths.index(take)), ask, watch);
  },
};
