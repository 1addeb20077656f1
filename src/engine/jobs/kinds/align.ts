import { alignTakes } from "../../analysis/align";
import { readIndex } from "../../media/index-file";
import type { Kind } from "../kind";

interface Spec {
  /** The shot's take and the frame that is looked at. */
  shot: string;
  at: number;
  /** The other take and its frame that is brought into line. */
  other: string;
  frame: number;
  /** Outlines, in take pixels, that are left out. */
  avoid: number[][][];
}

/** Brings a frame of another take into line with the shot. */
export const align: Kind<Spec, Awaited<ReturnType<typeof alignTakes>>> = {
  lane: "now",
  failed: "Bringing into line failed",
  async run(s, { paths, store }) {
    const open = async (id: string) => ({ id, index: await readIndex(paths.index(id)), store });
    return alignTakes(await open(s.shot), s.at, await open(s.other), s.frame, s.avoid);
  },
};
