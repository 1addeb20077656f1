import type { GrainStatistics } from "../../../core/match/grain";
import type { FlatBox } from "../../../core/match/grain-blocks";
import { grainOf } from "../../analysis/grain";
import { readIndex } from "../../media/index-file";
import type { Kind } from "../kind";

interface Spec {
  take: string;
  /** The stretch that is measured, both within; it holds no cut. */
  in: number;
  out: number;
  /** A flat part of the picture in take pixels; without one, all of it that stands still. */
  box?: FlatBox;
}

/** Measures the grain of a stretch of a take; null where nothing stands still. */
export const grain: Kind<Spec, GrainStatistics | null> = {
  lane: "now",
  failed: "Measuring the grain failed",
  async run(s, { paths, store }, watch) {
    return grainOf(store, s.take, await readIndex(paths.index(s.take)), { from: s.in, to: s.out, box: s.box }, watch);
  },
};
