import { readFile } from "node:fs/promises";
import { packCutout, readCutout } from "../../../recipe/cutout-file";
import { beyond, type Corrected, correctedAt } from "../../analysis/corrected";
import { cutOut, type CutOutAsk } from "../../analysis/cut-out";
import { readIndex } from "../../media/index-file";
import type { Kind } from "../kind";

interface Spec extends Omit<CutOutAsk, "outline" | "known"> {
  take: string;
  /** A loop round the thing; */
  outline?: CutOutAsk["outline"];
  /** or what was cut out before, by its hash, and corrected on the frame that is begun with. */
  corrected?: Corrected;
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
  async run({ take, outline = [], corrected, ...ask }, { paths, store }, watch) {
    const index = await readIndex(paths.index(take));
    const old = corrected && readCutout(await readFile(paths.measured(corrected.data)));
    const known = old && correctedAt(ask.at, corrected, old, index.info);
    const found = await cutOut(store, take, index, { outline, ...ask, known }, watch);
    const all = old ? [...beyond(old, ask.from, ask.to), ...found].sort((a, b) => a.f - b.f) : found;
    return { packed: Buffer.from(packCutout(all)).toString("base64"), seen: all.map(({ f }) => f) };
  },
};
