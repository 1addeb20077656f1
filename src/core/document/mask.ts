import type { Keyed } from "../time/keyed";
import type { Outline, Point } from "./geometry";
import type { Brush } from "./touch";

/** How a shape joins those before it: added, cut away, or what both cover. */
export type Op = "add" | "cut" | "cross";

interface ShapeCommon {
  /** What somebody calls it. */
  name?: string;
  /** Switched off it is left out; by default it is on. */
  on?: boolean;
  /** Whether the editor leaves it as it is. */
  locked?: boolean;
  /** How it joins the shapes before it. */
  op: Op;
  /** Whether it stays where it is while the mask follows a track. */
  still?: boolean;
  /** Width in take pixels over which its edge goes from 1 to 0, 0 … 10 000; by default the mask's. */
  feather?: Keyed<number>;
  /** By how many take pixels it is grown, below 0 shrunk; by default the mask's. */
  grow?: Keyed<number>;
}
export interface PathShape extends ShapeCommon {
  kind: "path";
  /** Its outline; every key has as many points. */
  points: Keyed<Outline>;
}
export interface EllipseShape extends ShapeCommon {
  kind: "ellipse";
  /** Its middle, in take pixels. */
  center: Keyed<Point>;
  /** Half its width and half its height, in take pixels. */
  radii: Keyed<Point>;
  /** By how many degrees clockwise it is turned; by default 0. */
  angle?: Keyed<number>;
}
export interface BoxShape extends ShapeCommon {
  kind: "box";
  /** Its middle, in take pixels. */
  center: Keyed<Point>;
  /** Its width and its height, in take pixels. */
  size: Keyed<Point>;
  /** By how many degrees clockwise it is turned; by default 0. */
  angle?: Keyed<number>;
  /** How round its corners are, 0 … 1: as a share of half the shorter side; by default 0. */
  round?: Keyed<number>;
}
export interface PictureShape extends ShapeCommon {
  kind: "picture";
  /** The picture's file, from the recipe's own folder. */
  path?: string;
  /** The SHA-256 of its file, as stored recipes name it. */
  asset?: string;
  /** What of the picture is α. */
  use: "alpha" | "brightness";
}
export interface PaintedShape extends ShapeCommon {
  kind: "painted";
  /** What was painted, in order; `erase` takes away, `frames` are the first and last in which a stroke counts (without it, all). */
  strokes: { brush: Brush; path: Point[]; erase?: boolean; frames?: [number, number] }[];
}
/** A thing followed through the shot. */
export interface CutoutShape extends ShapeCommon {
  kind: "cutout";
  /** Its α frame by frame, by its hash. */
  data: string;
  /** Corrections by brush: on frame `f` added, or with `erase` taken away. */
  strokes?: { f: number; brush: Brush; path: Point[]; erase?: boolean }[];
}
export type Shape = PathShape | EllipseShape | BoxShape | PictureShape | PaintedShape | CutoutShape;

/** Where a patch covers the footage: α 0 … 1 at every sample. */
export interface Mask {
  /** Of a mask that layers share. */
  name?: string;
  /** What it is made of, each joined to those before it; of none, nothing is covered. */
  shapes: Shape[];
  /** Feather of the shapes that have none of their own, in take pixels, 0 … 10 000; by default 0. */
  feather?: Keyed<number>;
  /** Growth of the shapes that have none of their own, in take pixels; by default 0. */
  grow?: Keyed<number>;
  /** Whether all but what is masked is covered. */
  invert?: boolean;
}
