/* The plain types of the recipe document, version 1. `src/recipe/schema.ts` validates them; meanings are in docs/recipe.md. */
import { UserError } from "../user-error";
import type { Outline } from "./geometry";
import { isPaint, isPatch, type Layer, type PatchLayer } from "./layer";
import type { Mask } from "./mask";
import type { Accepted, GrainProfile } from "./match";
import type { Plate } from "./plate";
import type { TakeRef } from "./take";
import type { Track } from "./track";

/** Where and when an intruder is seen. What was measured and what was set by hand are told apart. */
export interface SeenBand {
  /** The frame on which it was outlined. */
  at: number;
  /** Where it is on that frame, roughly. */
  outline: Outline;
  /** Measured: the first and the last frame, the one in which most of it is seen, and whether it never leaves. */
  measured?: { in: number; out: number; worst: number; never?: boolean };
  /** The first frame as it was set by hand, in place of what was measured. */
  in?: number;
  /** The last, likewise. */
  out?: number;
  /** The frame in which most of it is seen, likewise. */
  worst?: number;
}

/** A thing that must go, and what takes it away. */
export interface Intruder {
  /** Names it within its recipe. */
  id: string;
  /** What somebody calls it. */
  name: string;
  /** Switched off its layers are left out; by default it is on. */
  on?: boolean;
  /** Where and when it is seen, once it was outlined. */
  seen?: SeenBand;
  /** What takes it away; what stands later is laid later, over the rest. */
  layers: Layer[];
}

/** How a shot is mended: the whole document. */
export interface Recipe {
  /** What kind of document it is. */
  format: "umber-moth/recipe";
  /** The version of the format. */
  version: 1;
  /** What somebody calls it. */
  name?: string;
  /** Of all that goes by chance, 0 … 2³² − 1; by default 0. */
  seed?: number;
  /** The footage, by names of the recipe's own. */
  takes: Record<string, TakeRef>;
  /** The shot: its take, and its first and last frame in it. */
  shot: { take: string; in: number; out: number };
  /** The plates, by names of the recipe's own. */
  plates: Record<string, Plate>;
  /** Masks that layers share, by names of the recipe's own. */
  masks?: Record<string, Mask>;
  /** What regions do over time, by names of the recipe's own. */
  tracks?: Record<string, Track>;
  /** Grain of footage, by names of the recipe's own. */
  profiles?: Record<string, GrainProfile>;
  /** What must go; what stands later is laid later, over the rest. */
  intruders: Intruder[];
  /** What is written: first and last frame, within the shot; by default the shot. */
  output?: { in: number; out: number };
  /** What was found and accepted. */
  proof?: { accepted: Accepted[] };
}

/** The frames in which an intruder is seen: by hand where it was set, else as measured; null when nothing is known. */
export function seenFrames({ seen }: Intruder): { in: number; out: number; worst: number } | null {
  if (!seen?.measured && (seen?.in === undefined || seen.out === undefined)) return null;
  const at = seen.at;
  return { in: seen.in ?? seen.measured?.in ?? at, out: seen.out ?? seen.measured?.out ?? at, worst: seen.worst ?? seen.measured?.worst ?? at };
}

/** All masks of a recipe: shared ones, and those of single layers. */
export const masksOf = (r: Recipe): Mask[] => [
  ...Object.values(r.masks ?? {}),
  ...r.intruders.flatMap((i) => i.layers.filter(isPatch)).flatMap((l) => ("use" in l.mask ? [] : [l.mask])),
];
/** The mask of a layer: its own, or the shared one that it names. @throws Error where the recipe has none of that name */
export function maskOf(r: Pick<Recipe, "masks">, l: Pick<PatchLayer, "mask">): Mask {
  if (!("use" in l.mask)) return l.mask;
  const m = r.masks?.[l.mask.use];
  if (!m) throw new Error(`A layer uses the mask “${l.mask.use}”, which the recipe does not have.`);
  return m;
}
/** What is written: the recipe's output, by default the shot. */
export const outputOf = (r: Recipe) => r.output ?? { in: r.shot.in, out: r.shot.out };

/** A field that version 1 publishes and this program cannot run yet. */
export class NotSupportedYet extends UserError {
  constructor(readonly what: string) {
    super("unsupported", `${what} is not supported yet.`);
  }
}

/** The frames in which a layer is at work; of a paint layer those that are painted on. */
function atWork(l: Layer): { in: number; out: number }[] {
  if (!isPaint(l)) return [l];
  const touches = l.touches.filter((t) => t.on !== false);
  const frames = touches.map((t) => t.frames ?? [l.in, l.out]).map(([a, b]) => ({ in: Math.max(a, l.in), out: Math.min(b, l.out) }));
  return frames.filter((f) => f.in <= f.out);
}

/** The stretch in which layers are at work, with `handles` frames more on either side where the shot has them; null when none is. */
export function mendedStretch(r: Recipe, handles: number): { in: number; out: number } | null {
  const layers = r.intruders.filter((i) => i.on !== false).flatMap((i) => i.layers.filter((l) => l.on !== false).flatMap(atWork));
  const a = Math.max(r.shot.in, Math.min(...layers.map((l) => l.in)) - handles);
  const b = Math.min(r.shot.out, Math.max(...layers.map((l) => l.out)) + handles);
  return a <= b ? { in: a, out: b } : null;
}
