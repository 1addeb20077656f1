import type { Outline, Without } from "./geometry";
import type { Touch } from "./touch";

/** A plate built from many frames of a take. */
export interface BuiltFrom {
  /** The first frame that is looked at, from 0. */
  in: number;
  /** The last, which is looked at as well. */
  out: number;
  /** The frame in whose place and light the plate is; without it the first of the stretch. */
  at?: number;
  /** Stretches that are left out, first and last frame of each. */
  skip?: [number, number][];
  /** Areas nothing is taken from, in some frames (first and last) or in all. */
  keepOut?: { outline: Outline; frames?: [number, number] }[];
  /** The mean of all clean frames, which takes the grain out. */
  average?: boolean;
}

/** How a picture is brought into line with the shot before it is used: placed, then its light changed. */
export interface InLine {
  /** By how many pixels to the right it is moved. */
  x: number;
  /** By how many pixels down. */
  y: number;
  /** How much larger it is laid than it is, about the middle of the picture. */
  scale: number;
  /** By how many degrees clockwise it is turned, about the middle of the picture. */
  angle: number;
  /** The shot's frame it was brought into line with. */
  at?: number;
  /** Gain and offset (8-bit code values) of each plane: value′ = gain·value + offset. */
  light: [number, number][];
}

/** A plain or sloping colour. */
export interface PlainColour {
  /** The point its values are given for: take pixels from the left, */
  x: number;
  /** and from above. */
  y: number;
  /** For each plane its 8-bit code value at (x, y), and its change a pixel to the right and a pixel down. */
  planes: [number, number, number][];
}

/** A picture that was brought in. */
export type Brought = BroughtByPath | BroughtByHash;
interface BroughtByPath extends Without<"asset"> {
  /** Its file, from the recipe's own folder. */
  path: string;
}
interface BroughtByHash extends Without<"path"> {
  /** The SHA-256 of its file, in hexadecimal, as stored recipes name it. */
  asset: string;
}

/** What a plate starts from. */
export type PlateFrom = HeldFrame | BuiltFrames | (Brought & Without<"take" | "frame" | "line" | "built" | "colour">) | ColourStart;
interface HeldFrame extends Without<"built" | "path" | "asset" | "colour"> {
  /** A take of the recipe. */
  take: string;
  /** Its frame, from 0. */
  frame: number;
  /** Of another take than the shot's: how its frame comes to lie on the shot. */
  line?: InLine;
}
interface BuiltFrames extends Without<"frame" | "line" | "path" | "asset" | "colour"> {
  /** A take of the recipe. */
  take: string;
  built: BuiltFrom;
}
interface ColourStart extends Without<"take" | "frame" | "line" | "built" | "path" | "asset"> {
  colour: PlainColour;
}

/** A clean picture that patches take from. */
export interface Plate {
  /** What somebody calls it. */
  name?: string;
  /** What it starts from. */
  from: PlateFrom;
  /** What is done to it, in the order in which it is done. */
  touches: Touch[];
  /** What came back from outside: a picture with alpha, laid over the touched plate. */
  returned?: Brought;
}
