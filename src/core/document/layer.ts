import type { Keyed } from "../time/keyed";
import type { Point, Without } from "./geometry";
import type { Mask } from "./mask";
import type { GrainMatch, LightMatch, SeamMatch, SharpnessMatch, Tied } from "./match";
import type { Touch } from "./touch";

type Stretch = "from" | "to" | "repeat" | "join";
interface SourceCommon {
  /** Whether the source's own alpha counts; by default it does. */
  alpha?: "use" | "ignore";
}
interface PlateSource extends SourceCommon, Without<"take" | "hold" | "slip" | Stretch> {
  /** A plate of the recipe. */
  plate: string;
}
interface HeldSource extends SourceCommon, Without<"plate" | "slip" | Stretch> {
  /** A take of the recipe. */
  take: string;
  /** The frame that is shown all the time, from 0. */
  hold: number;
}
interface SlippedSource extends SourceCommon, Without<"plate" | "hold" | Stretch> {
  /** A take of the recipe. */
  take: string;
  /** So many frames later (below 0, earlier), rounded to the nearest whole one. */
  slip: Keyed<number>;
}
interface StretchSource extends SourceCommon, Without<"plate" | "hold" | "slip"> {
  /** A take of the recipe. */
  take: string;
  /** First frame of the stretch. */
  from: number;
  /** Its last frame. */
  to: number;
  /** Whether it begins anew at its end, runs to and fro, or is stretched over the layer's frames. */
  repeat: "loop" | "bounce" | "slow";
  /** Frames over which its end is mixed into its beginning, at most half of them; by default 0. */
  join?: number;
}
interface SameFrameSource extends SourceCommon, Without<"plate" | "hold" | "slip" | Stretch> {
  /** A take of the recipe: its frame of the same number; with a place, what lies beside. */
  take: string;
}
/** What a patch shows. */
export type Source = PlateSource | HeldSource | SlippedSource | StretchSource | SameFrameSource;

/** How a source lies on the take: scaled and turned about the pivot, then moved. */
export interface Place {
  /** By how many take pixels to the right; by default 0. */
  x?: Keyed<number>;
  /** By how many take pixels down; by default 0. */
  y?: Keyed<number>;
  /** How much larger it is laid than it is, 0.01 … 100; by default 1. */
  scale?: Keyed<number>;
  /** By how many degrees clockwise it is turned; by default 0. */
  angle?: Keyed<number>;
  /** The point that stays where it is, in take pixels; by default the middle of the picture. */
  pivot?: Keyed<Point>;
}

interface LayerCommon {
  /** Names it within its recipe. */
  id: string;
  /** What somebody calls it. */
  name?: string;
  /** Switched off it is left out; by default it is on. */
  on?: boolean;
  /** Whether the editor leaves it as it is. */
  locked?: boolean;
  /** Its first frame, counted in the take from 0. */
  in: number;
  /** Its last frame, which it covers as well. */
  out: number;
}

/** A picture laid over the footage through a mask. */
export interface PatchLayer extends LayerCommon {
  kind: "patch";
  /** What it shows. */
  source: Source;
  /** How that lies on the take; without it, sample on sample. */
  place?: Place;
  /** The tracks that carry it. */
  tied?: Tied;
  /** How it follows the light around it. */
  light?: LightMatch;
  /** How soft or sharp its picture is made. */
  sharpness?: SharpnessMatch;
  /** How its rim is made to meet the footage. */
  seam?: SeamMatch;
  /** The grain that is laid over it. */
  grain?: GrainMatch;
  /** Where it covers: a mask of its own, or by its name one that layers share. */
  mask: Mask | { use: string };
  /** How much of it is seen, 0 … 1; by default 1. */
  opacity?: Keyed<number>;
  /** Frames over which it comes in; by default 0, at once. */
  fadeIn?: number;
  /** Frames over which it goes out; by default 0. */
  fadeOut?: number;
}

/** Touches on frames of the shot, over footage and what lies below. */
export interface PaintLayer extends LayerCommon {
  kind: "paint";
  /** What is laid on its frames, in order. */
  touches: Touch[];
}

/** The whole picture framed anew, behind all other layers wherever it is listed: so that what is not wanted lies beyond its border. */
export interface ReframeLayer extends LayerCommon {
  kind: "reframe";
  /** How the whole picture lies: moved, enlarged and turned about its middle. */
  place?: Omit<Place, "pivot">;
}
/** Takes flicker off before patches are laid, or puts it back behind them. */
export interface EvenLightLayer extends LayerCommon {
  kind: "evenlight";
  /** Whether the light is made steady, or lively again. */
  way?: "steady" | "lively";
  /** How much of it is done, 0 … 1. */
  amount?: Keyed<number>;
  /** Of what goes by chance, 0 … 2³² − 1. */
  seed?: number;
  /** The gains that were measured, by their hash. */
  data?: string;
}
export type Layer = PatchLayer | PaintLayer | ReframeLayer | EvenLightLayer;

export const isPatch = (l: Layer): l is PatchLayer => l.kind === "patch";
export const isPaint = (l: Layer): l is PaintLayer => l.kind === "paint";
export const isReframe = (l: Layer): l is ReframeLayer => l.kind === "reframe";
export const isEvenLight = (l: Layer): l is EvenLightLayer => l.kind === "evenlight";
/** Whether it puts flicker back; else it steadies. */
export const isLively = (l: EvenLightLayer): boolean => l.way === "lively";
