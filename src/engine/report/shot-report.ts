import { type Finding, FIGURES, type FigureKind, type PatchFigures, type Proof, severity } from "../../core/proof/finding";
import { worstFrame } from "../../core/proof/worst-frame";
import { settled } from "../../core/proof/accepted";
import type { Recipe } from "../../core/document/recipe";
import { timecodeOf } from "../../core/time/timecode";
import { layerTitle } from "../../recipe/query";
import type { TakeInfo } from "../../wire/take";

/** A finding as a report tells it. */
export interface ReportedFinding extends Pick<Finding, "kind" | "in" | "out" | "worst" | "box" | "value" | "limit" | "says" | "do"> {
  /** What was to go, as it is called. */
  thing: string;
  /** Timecode of the worst frame; null where the take carries none. */
  timecode: string | null;
  /** Why it may stay; null where it counts. */
  accepted: string | null;
}

/** Figures of one patch. */
export interface ReportedPatch extends PatchFigures {
  thing: string;
  /** Where each is worst, and what it is there; null where no frame tells it. */
  worst: Record<FigureKind, { f: number; value: number } | null>;
}

/** What was measured of one shot, in the order in which a viewer would notice it. */
export interface ShotReport {
  shot: string;
  take: string;
  verdict: Proof["verdict"];
  looked: string;
  /** First and last frame of the shot. */
  in: number;
  out: number;
  findings: ReportedFinding[];
  doubts: string[];
  patches: ReportedPatch[];
}

/** A shot's proof as it is told to others. */
export function shotReport(name: string, recipe: Recipe, take: { name: string; info: TakeInfo }, proof: Proof): ShotReport {
  const { verdict, findings, accepted, doubts, looked, figures } = settled(proof, recipe.proof?.accepted);
  const { timecode: from, rate } = take.info;
  const told = (f: Finding, why: string | null): ReportedFinding => ({
    kind: f.kind,
    thing: layerTitle(recipe, f.layer),
    in: f.in,
    out: f.out,
    worst: f.worst,
    timecode: from ? timecodeOf(from, f.worst, rate) : null,
    box: f.box,
    value: f.value,
    limit: f.limit,
    says: f.says,
    do: f.do,
    accepted: why,
  });
  const first = findings.toSorted((a, b) => severity(b) - severity(a)).map((f) => told(f, null));
  return {
    shot: name,
    take: take.name,
    verdict,
    looked,
    in: recipe.shot.in,
    out: recipe.shot.out,
    findings: [...first, ...accepted.map((a) => told(a.finding, a.why))],
    doubts: doubts.map((d) => d.says),
    patches: Object.entries(figures).map(([layer, of]) => ({ thing: layerTitle(recipe, layer), worst: worstOf(of), ...of })),
  };
}

const worstOf = (of: PatchFigures) => Object.fromEntries(FIGURES.map((k) => [k, worstFrame(of, k)])) as ReportedPatch["worst"];
