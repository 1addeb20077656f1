import { packCutout } from "../../../recipe/cutout-file";
import { cutOut, type CutOutAsk } from "../../analysis/cut-out";
import { readIndex } from "../../media/index-file";
import type { Kind } from "../kind";

interface Spec extends CutOutAsk {
  take: string;
}

/** What was cut out: as it is kept, in base 64, and the frames on which it is seen. */
export interface CutOutResult {
  packed: string;
  seen: number[];
}

/** Cuts a thing out of a take. */
export const cutOutKind: Kind<Spec, CutOutResult> = {
  lane: "now",
  failed: "Cutting it out failed",
  async run({ take, ...ask }, { paths, store }, watch) {
    const found = await cutOut(store, take, await readIndex(paths.index(take)), ask, watch);
    return { packed: Buffer.from(packCutout(found)).toString("base64"), seen: found.map(({ f }) => f) };
  },
};
