import type { Rect } from "../pixels/frame";

/** What can be found. */
export const KINDS = ["leak", "bite", "seam", "dead-grain", "frozen", "runaway-light", "drift", "bars"] as const;
export type FindingKind = (typeof KINDS)[number];

/** How a finding can be mended by the program itself. */
export const REMEDIES = ["earlier", "later", "wider", "light", "seam", "grain", "soften", "align", "hold-out", "picture", "none"] as const;
export type Remedy = (typeof REMEDIES)[number];

/** One thing that is still wrong, measured. */
export interface Finding {
  kind: FindingKind;
  /** The intruder and the layer of the recipe at which it is. */
  intruder: string;
  layer: string;
  /** First and last frame, and the one in which it is worst. */
  in: number;
  out: number;
  worst: number;
  /** Where, in take pixels, in the worst frame. */
  box: Rect;
  /** How bad it is, and the limit above which it counts: both of the same measure, that its sentence names. */
  value: number;
  limit: number;
  /** What it is, in a sentence. */
  says: string;
  /** What to do, in a sentence. */
  do: string;
  remedy: Remedy;
  /** Of somebody who passes a rough loop round what is seen of them, on the frame on which that is most; take pixels. */
  outline?: { f: number; points: [number, number][] };
  /** Of a picture that lies off by how much it is to be moved, take pixels. */
  shift?: { x: number; y: number };
}

/** What a patch, or a whole shot, comes to. */
export type Verdict = "clean" | "faults" | "unsure";

/** What could not be told, and why. */
export interface Doubt {
  intruder: string;
  layer: string;
  says: string;
}

/** Figures of one patch, frame by frame from `from`; null where a frame tells nothing. */
export interface PatchFigures {
  from: number;
  /** How much is left of what it hides, 0 nothing – 1 all. */
  left: (number | null)[];
  /** How far the two sides of its edge differ, CIEDE2000: of the arcs of the rim all but one in twenty differ less. */
  edge: (number | null)[];
  /** By how much luma steps along its whole rim, 8-bit codes: more inside is above 0. */
  light: (number | null)[];
}
export const FIGURES = ["left", "edge", "light"] as const;
export type FigureKind = (typeof FIGURES)[number];

/** What was measured of one patch. */
export interface PatchVerdict {
  findings: Finding[];
  doubts: Doubt[];
  figures: PatchFigures;
  /** From how many codes on something would have been seen; null where that is not known. */
  sharp: number | null;
}

/** What was measured of a recipe. */
export interface Proof {
  verdict: Verdict;
  findings: Finding[];
  doubts: Doubt[];
  /** Of each patch, by its layer. */
  figures: Record<string, PatchFigures>;
  /** What was looked at, and how sharply: said where nothing is found. */
  looked: string;
}

/** Faults weigh more than doubts. */
export const verdictOf = (findings: readonly Finding[], doubts: readonly Doubt[]): Verdict =>
  findings.length ? "faults" : doubts.length ? "unsure" : "clean";

/** How much a viewer notices a kind of fault: a thing that is there before an edge, an edge before grain. */
const NOTICED: Record<FindingKind, number> = { leak: 4, bite: 4, seam: 3, "runaway-light": 2, drift: 2, frozen: 1.5, bars: 1.5, "dead-grain": 1 };
/** So many times its limit and more are alike. */
const MOST = 8;

/** How much a viewer notices a finding: what is largest comes first. */
export const severity = (f: Finding): number => NOTICED[f.kind] * Math.min(MOST, f.value / Math.max(f.limit, 0.5)) * Math.log2(f.out - f.in + 2);
