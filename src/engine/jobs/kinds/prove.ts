import type { PatchVerdict, Proof } from "../../../core/proof/finding";
import { type KnownVerdicts, provePatches } from "../../analysis/prove";
import type { Kind } from "../kind";
import { type OnShot, readOnShot } from "./on-shot";

/** A shot, and what is known of its patches already. */
interface ProveJob extends OnShot {
  known: KnownVerdicts;
}

/** Measures what is still wrong in a shot: behind everything else, since it begins by itself. */
export const prove: Kind<ProveJob, { proof: Proof; verdicts: Record<string, PatchVerdict> }> = {
  lane: "later",
  failed: "The proof failed",
  async run({ known, ...spec }, place, watch) {
    return provePatches({ recipe: spec.recipe, ...(await readOnShot(spec, place)) }, place.store, watch, known);
  },
};
