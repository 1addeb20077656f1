import type { Outline, Point, Without } from "./geometry";

/** A round brush. */
export interface Brush {
  /** Diameter in take pixels, 0.5 … 10 000. */
  size: number;
  /** How far from the middle α stays 1, as a share of the radius, 0 … 1; from there it falls to 0 at the edge. */
  hardness: number;
  /** Most α that one stroke gives, 0 … 1. */
  opacity: number;
  /** α of a single dab, 0 … 1; dabs of a stroke add up to its opacity. */
  flow: number;
  /** Distance from dab to dab, as a share of the size, 0.01 … 10. */
  spacing: number;
  /** How much wider than high the pixels are it paints on, 0.1 … 10; by default 1. It spans as many fewer columns, and is round on the screen. */
  aspect?: number;
  /** What the pen's pressure changes: it multiplies the size, the opacity, or both. */
  pressure?: { size?: boolean; opacity?: boolean };
}

export type TouchKind = "uncover" | "clone" | "heal" | "graft" | "fill" | "flat" | "restore";

/** Where a touch takes its picture from; with nothing in it, from the picture that is worked on. */
export interface TouchSource {
  /** A plate of the recipe. */
  plate?: string;
  /** A take of the recipe; without it the one that is worked on. */
  take?: string;
  /** A frame of the take, from 0. */
  frame?: number;
  /** Instead of a frame: so many frames after (below 0, before) the one that is worked on. */
  slip?: number;
}

/** Part of a picture: an outline, or a brush along its path. */
export type Area = AreaOutline | AreaStroke;
interface AreaOutline extends Without<"brush" | "path"> {
  outline: Outline;
}
interface AreaStroke extends Without<"outline"> {
  brush: Brush;
  path: Point[];
}

/** One touch of retouching: a kind of work on an area of a plate, or of frames. */
export interface Touch {
  /** Names it within its recipe. */
  id: string;
  /** What is done: painted through to another picture, copied, healed, grafted, filled, made flat, or painted back. */
  kind: TouchKind;
  /** What somebody calls it. */
  name?: string;
  /** Switched off it is left out; by default it is on. */
  on?: boolean;
  /** In a paint layer: the first and last frame on which it is laid; without it, all of the layer's. */
  frames?: [number, number];
  /** The brush that is led along the path. */
  brush?: Brush;
  /** Where the brush goes, each point with the pen's pressure where there was a pen. */
  path?: Point[];
  /** In place of a stroke: the area inside. */
  outline?: Outline;
  /** Width in take pixels over which the outline's edge goes from 1 to 0; by default 0. */
  feather?: number;
  /** What it takes its picture from; without it, from the picture that is worked on. */
  source?: TouchSource;
  /** By how many pixels the source lies beside the place it is laid on: point p takes from p + offset. */
  offset?: [number, number];
  /** How much larger the source is laid than it is, 0.01 … 100. */
  scale?: number;
  /** By how many degrees clockwise the source is turned. */
  angle?: number;
  /** Whether the source is mirrored, left to right. */
  mirror?: boolean;
  /** Gives what comes from another picture the light of this one. */
  light?: boolean;
  /** Outlines outside which nothing is laid. */
  fence?: Outline[];
  /** Of a fill: which of several it is, 0 … 2³² − 1; the same seed always gives the same fill. */
  seed?: number;
  /** Of a fill: areas it takes nothing from. */
  avoid?: Area[];
  /** Of a fill: areas it takes from alone. */
  only?: Area[];
  /** Of a fill: lines, each by its two ends, that it carries on. */
  guides?: [Point, Point][];
  /** Of a flat: one colour, even where the surroundings slope. */
  plain?: boolean;
}
