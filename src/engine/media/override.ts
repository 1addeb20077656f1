import type { TakeRef } from "../../core/document/take";
import { MATRIX_TAGS } from "./probe";
import type { TakeIndex } from "./index-file";

/** A take as a recipe says it is to be read: what the recipe names takes the place of the file's own tags, also in what is written. */
export function withColour(t: TakeIndex, given: TakeRef["colour"]): TakeIndex {
  if (!given) return t;
  const { info } = t;
  const rgb = info.format.model === "rgb";
  const tags = {
    ...(given.range && !rgb ? { range: given.range === "full" ? "pc" : "tv" } : {}),
    ...(given.matrix && !rgb ? { matrix: MATRIX_TAGS[given.matrix] } : {}),
    ...(given.siting ? { siting: given.siting } : {}),
    ...(given.primaries ? { primaries: given.primaries } : {}),
    ...(given.transfer ? { transfer: given.transfer } : {}),
  };
  const range = rgb ? "full" : (given.range ?? info.colour.range);
  return { ...t, info: { ...info, colour: { ...info.colour, ...given, range }, tags: { ...info.tags, ...tags } } };
}
