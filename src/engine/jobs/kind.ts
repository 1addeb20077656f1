import type { FrameStore } from "../media/frame-store";
import type { DataPaths } from "../paths";
import type { Watch } from "../watch";

/** Where a job runs: below the data folder, with the store of exact frames there. */
export interface Place {
  paths: DataPaths;
  store: FrameStore;
}

/**
 * Where jobs wait for their turn: `now` somebody waits for it, so it begins at once; `later` nobody does, so one after another and
 * behind everything else; `write` one after another, as fast as it goes.
 */
export type Lane = "now" | "later" | "write";

/** A kind of job. What it is told holds ids, hashes and frame ranges, and no path: it is stored, and the data folder may move. */
export interface Kind<Spec, Result> {
  lane: Lane;
  /** The beginning of a sentence when it fails for no reason that is known. */
  failed: string;
  /** Seconds after which it is given up: what takes longer than this is not what it was meant for. */
  limit?: number;
  run: (spec: Spec, place: Place, watch: Watch) => Promise<Result>;
}

/** One picture that somebody waits for: seconds, and more on a busy machine; after four minutes something in it is too large to be meant. */
export const SINGLE_PICTURE = { lane: "now", limit: 240 } as const;
