import { UNLIKE } from "./sight";
import { LEAST_LOOKS } from "./clean";
import { figuresOf } from "./figures";
import type { Doubt, Finding, PatchVerdict } from "./finding";
import { barsIn } from "./kinds/bars";
import { deadGrain } from "./kinds/dead-grain";
import { driftOf, movesAround } from "./kinds/drift";
import { frozenIn } from "./kinds/frozen";
import { crossings, crossingsOf, hidesIn, missed, uncovered } from "./kinds/leak";
import { runawayOf } from "./kinds/runaway-light";
import { bitten, seamOf } from "./kinds/seam";
import { shown } from "./kinds/shown";
import { unlitOf } from "./kinds/unlit";
import { median } from "../motion/gray";
import type { PatchRecord } from "./patch-record";

/** Pixels by which a picture may lie off before its lines look like things. */
const LINES = 0.75;
/** Pixels by which a corner may move before a camera does not count as locked off. */
const LOCKED = 0.6;
/** The share of a patch of which nothing is known without it, above which it cannot be told. */
const UNKNOWN = 0.5;

/** What is wrong with one patch, by all that was seen of it; and what could not be told. */
export function judged(r: PatchRecord): PatchVerdict {
  const living = frozenIn(r);
  // where a subject moves around a patch, nothing else tells where its picture lies
  const drift = living.some((f) => f.kind === "bite") ? [] : driftOf(r);
  // lines of a picture that lies off differ: what it shows is told from broader things alone
  const misplaced = drift.some((d) => d.value > LINES);
  const cut = crossingsOf(r);
  const findings = [
    ...uncovered(r, cut),
    ...crossings(r, cut),
    ...missed(r),
    ...drift,
    ...shown(r, misplaced),
    ...light(r, misplaced),
    ...deadGrain(r),
    ...living,
    ...barsIn(r),
  ];
  return { findings, doubts: doubtsOf(r), figures: figuresOf(r), sharp: sharpness(r) };
}

/** Steps along the rim: an edge that is seen, and light that runs away. */
function light(r: PatchRecord, misplaced: boolean): Finding[] {
  const frames = [...r.steps.keys()].sort((a, b) => a - b);
  if (!frames.length) return [];
  const chance = r.chanceSteps(frames[Math.floor(frames.length / 2)]);
  const seam = seamOf(r, frames, chance) ?? unlitOf(r, frames, chance);
  const moves = movesAround(r);
  // the edge of a picture that lies off is seen for that, and one that runs through a subject that moves for that
  const edge = misplaced ? null : seam && moves ? bitten(seam, moves) : seam;
  return [edge, runawayOf(r, frames, chance)].filter((f) => f !== null);
}

function doubtsOf(r: PatchRecord): Doubt[] {
  const out: Doubt[] = [];
  const add = (says: string) => out.push({ intruder: r.intruder, layer: r.layer.id, says });
  let [n, unknown] = [0, 0];
  for (const mask of r.masks.values())
    mask.forEach((m, i) => {
      if (!m) return;
      n++;
      if (r.clean.looks[i] < LEAST_LOOKS) unknown++;
    });
  if (n && unknown > UNKNOWN * n) {
    add("No frames show what lies behind this patch without it, so that its picture cannot be compared with the scene: look at it yourself.");
    if (!r.fits) add("Its picture does not show what surrounds it either, so that nothing can be told of its edge.");
  } else if (!hidesIn(r).length)
    add("The patch hides nothing that can be told from the scene: it may lie in the wrong place, or the thing is fainter than noise.");
  if (r.cameraMoves > LOCKED && !r.layer.tied)
    add(
      `The camera moves by ${r.cameraMoves.toFixed(1)} px and the patch follows no track: what a clean frame shows cannot be laid over the others.`,
    );
  return out;
}

/** From how many codes on something would have been seen that is three cells wide: what is usual in the mask. */
function sharpness(r: PatchRecord): number | null {
  const mask = r.masks.values().next().value;
  if (!mask) return null;
  const all = Array.from(r.clean.spread[0]).filter((_, i) => mask[i]);
  return all.length ? UNLIKE * median(all) : null;
}
