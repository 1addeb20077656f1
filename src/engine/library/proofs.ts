import { createHash } from "node:crypto";
import type { Proof } from "../../core/proof/finding";
import { canonical } from "../../core/plate/keys";
import type { OnShot } from "../jobs/kinds/on-shot";
import type { Runner } from "../jobs/runner";
import type { Watch } from "../watch";

/** So many proofs are kept. */
const KEPT = 64;
/** Before surveys, which nobody looks at yet. */
const FIRST = 10;

/** Proofs of shots, kept by all that they were measured from: asked for again, they are there at once. */
export class Proofs {
  private readonly kept = new Map<string, Proof>();

  constructor(private readonly runner: Runner) {}

  async of(spec: OnShot, watch: Watch): Promise<Proof> {
    // names, and what was accepted, change nothing that can be measured
    const { name: _, proof: __, ...recipe } = spec.recipe;
    const asked = { ...spec, recipe };
    const key = createHash("sha256").update(canonical(asked)).digest("hex");
    const known = this.kept.get(key);
    if (known) return known;
    const proof = await this.runner.run("prove", asked, watch, FIRST);
    this.kept.set(key, proof);
    if (this.kept.size > KEPT) this.kept.delete(this.kept.keys().next().value!);
    return proof;
  }
}
