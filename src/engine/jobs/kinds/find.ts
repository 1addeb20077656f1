import type { Place } from "../../../core/follow/homography";
import type { Riding } from "../../../core/follow/riding";
import { carriedAlong, type Seen, whereSeen } from "../../../core/scout/seen";
import { cellFrames } from "../../analysis/cells";
import { ridingOf } from "../../analysis/riding";
import { readIndex } from "../../media/index-file";
import type { Kind } from "../kind";
import { keptSurvey } from "./kept-survey";

interface Spec {
  take: string;
  /** The frames that are looked at, both within. */
  in: number;
  out: number;
  /** The frame on which the thing was outlined, and the outline in take pixels. */
  at: number;
  outline: Place[];
}

/** When and where a thing is seen, and whether what it sits on moves with it. */
export type FoundThing = Seen & { rides: Riding | null };

/** Finds when and where an outlined thing is seen. */
export const find: Kind<Spec, FoundThing> = {
  lane: "now",
  failed: "Measuring failed",
  async run(s, { paths, store }, watch) {
    const still = (await keptSurvey(paths, s.take))?.stillness ?? null;
    const index = await readIndex(paths.index(s.take));
    const frames = await cellFrames(index, s.in, s.out, still, paths.take(s.take), watch);
    const seen = whereSeen(frames, s.in, s.at, s.outline);
    const rides = await ridingOf(store, s.take, index, s, still, watch);
    return { ...(rides ? carriedAlong(seen, s.in, s.at) : seen), rides };
  },
};
