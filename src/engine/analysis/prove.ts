import { assertRuns } from "../../core/compose/compose";
import { unframed } from "../../core/compose/reframe";
import { isPaint, isPatch } from "../../core/document/layer";
import { outputOf } from "../../core/document/recipe";
import { median } from "../../core/motion/gray";
import { isEmpty } from "../../core/pixels/frame";
import { type Doubt, type PatchVerdict, type Proof, severity, verdictOf } from "../../core/proof/finding";
import { PatchRecord } from "../../core/proof/patch-record";
import type { FrameStore } from "../media/frame-store";
import { checkFrames, composer } from "../render/composer";
import type { Watch } from "../watch";
import { measureInLanes } from "./proof/lanes";
import { framesOf, isLaidAt, type ProofSpec } from "./proof/measure";
import { type Laid, reachOf, verdictKey } from "./proof/reach";

/** What is known of patches already, by the hash of all it comes from. */
export type KnownVerdicts = Readonly<Record<string, PatchVerdict>>;

/** Measures what is still wrong in the frames that a recipe writes, patch by patch, on exact pictures. */
export const prove = async (spec: ProofSpec, store: FrameStore, watch: Watch): Promise<Proof> => (await provePatches(spec, store, watch)).proof;

/**
 * The same, where some of it is known: a patch is measured anew only where something was changed that reaches it.
 * @returns beside the proof the verdicts it is made of, by the hashes of all that they come from
 */
export async function provePatches(
  { recipe: whole, takes, pictures }: ProofSpec,
  store: FrameStore,
  watch: Watch,
  known: KnownVerdicts = {},
): Promise<{ proof: Proof; verdicts: Record<string, PatchVerdict> }> {
  assertRuns(whole);
  const recipe = unframed(whole);
  checkFrames(recipe, takes);
  const { info } = takes[recipe.shot.take].index;
  const range = outputOf(recipe);
  const { canvas } = composer(recipe, takes, store, pictures);
  const layers = recipe.intruders
    .filter((i) => i.on !== false)
    .flatMap((i) => i.layers.filter((l) => l.on !== false).map((layer) => ({ intruder: i.id, layer })));
  const all = layers.flatMap(({ intruder, layer }): Laid[] => {
    if (!isPatch(layer)) return [];
    const rect = reachOf(recipe, layer, range, info, canvas.tracks);
    return isEmpty(rect) ? [] : [{ intruder, layer, rect }];
  });
  const ids = Object.fromEntries(Object.entries(takes).map(([k, t]) => [k, t.id]));
  const asked = all.map((laid, i) => {
    const { pixels } = new PatchRecord(laid.intruder, laid.layer, info, laid.rect);
    return { laid, i, key: verdictKey(recipe, laid, pixels, all, ids) };
  });
  const fresh = asked.filter((a) => !known[a.key]).map((a) => a.i);
  const measured = await measureInLanes({ recipe, takes, pictures, all }, fresh, store, watch);
  const verdicts = Object.fromEntries(asked.map((a) => [a.key, known[a.key] ?? measured.get(a.i)!]));
  const told = asked.map((a) => verdicts[a.key]);
  const findings = told.flatMap((t) => t.findings).sort((a, b) => severity(b) - severity(a));
  const painted: Doubt[] = layers
    .filter(({ layer }) => isPaint(layer))
    .map(({ intruder, layer }) => ({ intruder, layer: layer.id, says: "What is painted on single frames is not measured: look at it yourself." }));
  const doubts = [...painted, ...told.flatMap((t) => t.doubts)];
  const frames = framesOf(range).filter((n) => all.some(({ layer }) => isLaidAt(layer, n))).length;
  const proof = {
    verdict: verdictOf(findings, doubts),
    findings,
    doubts,
    figures: Object.fromEntries(asked.map((a) => [a.laid.layer.id, verdicts[a.key].figures])),
    looked: lookedAt(
      frames,
      all.length,
      told.flatMap((t) => t.sharp ?? []),
    ),
  };
  return { proof, verdicts };
}

/** What was looked at, and how sharply, in words. @param sharp codes from which on something is seen, by patch */
function lookedAt(frames: number, patches: number, sharp: readonly number[]): string {
  const count = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`;
  const what = `${count(frames, "frame", "frames")} of ${count(patches, "patch", "patches")}`;
  return sharp.length ? `${what}; what differs by ${median([...sharp]).toFixed(1)} codes over some 12 pixels would have been seen` : what;
}
