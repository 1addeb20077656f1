import { type Seen, whereSeen } from "../../../core/plate/seen";
import { cellFrames } from "../../analysis/cells";
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
  outline: number[][];
}

/** Finds when and where an outlined thing is seen. */
export const find: Kind<Spec, Seen> = {
  lane: "now",
  failed: "Measuring failed",
  async run(s, { paths }, watch) {
    const found = await keptSurvey(paths, s.take);
    const frames = await cellFrames(await readIndex(paths.index(s.take)), s.in, s.out, found?.stillness ?? null, paths.take(s.take), watch);
    return whereSeen(frames, s.in, s.at, s.outline);
  },
};
