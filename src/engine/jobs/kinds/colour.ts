import type { PlainColour } from "../../../core/document/plate";
import { colourAround } from "../../analysis/colour-around";
import { readIndex } from "../../media/index-file";
import { type Kind, SINGLE_PICTURE } from "../kind";

/** The plain or sloping colour around an outline (take pixels) on a frame of a take. */
export const colour: Kind<{ take: string; n: number; outline: number[][] }, PlainColour> = {
  ...SINGLE_PICTURE,
  failed: "The colour could not be taken",
  async run({ take, n, outline }, { paths, store }) {
    return colourAround(await store.frame(take, await readIndex(paths.index(take)), n), outline);
  },
};
