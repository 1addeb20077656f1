import type { Accepted } from "../document/match";
import { type Finding, type Proof, verdictOf } from "./finding";

/** Frames and pixels within which a finding is the same one. */
const FRAMES = 24;
const PIXELS = 64;
/** By so much worse it may become before it has to be accepted anew. */
const WORSE = 1.2;

/** What a finding is accepted by: its kind, its layer, and roughly when and where it is worst. */
export function nameOf({ kind, layer, worst, box }: Pick<Finding, "kind" | "layer" | "worst" | "box">): string {
  const cell = (a: number, b: number) => Math.floor((a + b) / 2 / PIXELS);
  return `${kind}/${layer}/${Math.floor(worst / FRAMES)}/${cell(box.x0, box.x1)},${cell(box.y0, box.y1)}`;
}

/** Why a finding was accepted; null where it was not, or has become worse since. */
export function acceptedAs(f: Finding, accepted: readonly Accepted[]): Accepted | null {
  const name = nameOf(f);
  return accepted.find((a) => a.finding === name && f.value <= WORSE * a.value) ?? null;
}

/** What is left of a proof once what was accepted is taken off. */
export function settled(proof: Proof, accepted: readonly Accepted[] = []): Proof & { accepted: { finding: Finding; why: string }[] } {
  const taken: { finding: Finding; why: string }[] = [];
  const findings = proof.findings.filter((finding) => {
    const as = acceptedAs(finding, accepted);
    if (as) taken.push({ finding, why: as.why });
    return !as;
  });
  return { ...proof, findings, verdict: verdictOf(findings, proof.doubts), accepted: taken };
}
