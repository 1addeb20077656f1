import type { Proof } from "../../../core/proof/finding";
import { prove as proveShot } from "../../analysis/prove";
import type { Kind } from "../kind";
import { type OnShot, readOnShot } from "./on-shot";

/** Measures what is still wrong in a shot: behind everything else, since it begins by itself. */
export const prove: Kind<OnShot, Proof> = {
  lane: "later",
  failed: "The proof failed",
  async run(spec, place, watch) {
    return proveShot({ recipe: spec.recipe, ...(await readOnShot(spec, place)) }, place.store, watch);
  },
};
