import { createHash } from "node:crypto";
import { canonical } from "../../core/plate/keys";
import type { PatchVerdict, Proof } from "../../core/proof/finding";
import type { OnShot } from "../jobs/kinds/on-shot";
import type { Runner } from "../jobs/runner";
import type { Watch } from "../watch";

/** So many proofs are kept, and of so many patches of a take what was measured. */
const KEPT = 64;
const PATCHES = 256;
/** Before surveys, which nobody looks at yet. */
const FIRST = 10;

/** Puts something into what is kept, last; what was kept first goes. */
function keep<T>(kept: Map<string, T>, key: string, value: T, most: number): void {
  kept.delete(key);
  kept.set(key, value);
  if (kept.size > most) kept.delete(kept.keys().next().value!);
}

/** Proofs of shots, kept by all that they were measured from: asked for again, they are there at once; what is new is measured patch by patch. */
export class Proofs {
  private readonly kept = new Map<string, Proof>();
  /** What was measured of patches, by the take they are laid over. */
  private readonly patches = new Map<string, Map<string, PatchVerdict>>();

  constructor(private readonly runner: Runner) {}

  async of(spec: OnShot, watch: Watch): Promise<Proof> {
    // names, and what was accepted, change nothing that can be measured
    const { name: _, proof: __, ...recipe } = spec.recipe;
    const asked = { ...spec, recipe };
    const key = createHash("sha256").update(canonical(asked)).digest("hex");
    const known = this.kept.get(key);
    if (known) return known;
    const take = spec.takes[recipe.shot.take];
    const patches = this.patches.get(take) ?? new Map<string, PatchVerdict>();
    const { proof, verdicts } = await this.runner.run("prove", { ...asked, known: Object.fromEntries(patches) }, watch, FIRST);
    for (const [k, verdict] of Object.entries(verdicts)) keep(patches, k, verdict, PATCHES);
    keep(this.patches, take, patches, KEPT);
    keep(this.kept, key, proof, KEPT);
    return proof;
  }
}
