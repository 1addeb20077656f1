/** The plain types of the recipe document, version 1. `src/recipe/schema.ts` validates them; meanings are in docs/recipe.md. */
import type { Keyed } from "./time/keyed";
import { UserError } from "./user-error";
import type { MatrixName, RangeName, SitingName, PrimariesName, TransferName } from "./pixels/colour";

export type Point = readonly number[];
export type Outline = readonly Point[];

export interface TakeRef {
  path?: string;
  /** Stored recipes name a take by its id; only the command line resolves paths. */
  asset?: string;
  rate?: [number, number];
  colour?: { matrix?: MatrixName; range?: RangeName; siting?: SitingName; primaries?: PrimariesName; transfer?: TransferName };
}

export interface Brush {
  size: number;
  hardness: number;
  opacity: number;
  flow: number;
  spacing: number;
  /** What the pen's pressure changes. */
  pressure?: { size?: boolean; opacity?: boolean };
}

export type TouchKind = "uncover" | "clone" | "heal" | "graft" | "fill" | "flat" | "restore";

export interface TouchSource {
  plate?: string;
  take?: string;
  frame?: number;
  slip?: number;
}

/** Fields that another form has and this one has not; so a form is told by the fields that are there. */
type Without<K extends string> = { [Field in K]?: undefined };

/** Part of a picture: an outline, or a stroke. */
export type Area = ({ outline: Outline } & Without<"brush" | "path">) | ({ brush: Brush; path: Point[] } & Without<"outline">);

export interface Touch {
  id: string;
  kind: TouchKind;
  name?: string;
  on?: boolean;
  /** In a paint layer: the frames on which it is laid; without it, all of the layer's. */
  frames?: [number, number];
  brush?: Brush;
  path?: Point[];
  outline?: Outline;
  /** Width over which an outline's edge goes from 1 to 0. */
  feather?: number;
  source?: TouchSource;
  offset?: [number, number];
  scale?: number;
  angle?: number;
  mirror?: boolean;
  /** Gives what comes from another picture the light of this one. */
  light?: boolean;
  fence?: Outline[];
  /** Of a fill: which try it is, what it stays away from, what alone it takes from, and lines it carries on. */
  seed?: number;
  avoid?: Area[];
  only?: Area[];
  guides?: [Point, Point][];
  /** Of a flat: one colour, even where the surroundings slope. */
  plain?: boolean;
}

/** A plate built from many frames of a take. */
export interface BuiltFrom {
  /** The stretch that is looked at, both ends included. */
  in: number;
  out: number;
  /** The frame in whose place and light the plate is; without it the first of the stretch. */
  at?: number;
  /** Stretches that are left out. */
  skip?: [number, number][];
  /** Areas nothing is taken from, in some frames or in all. */
  keepOut?: { outline: Outline; frames?: [number, number] }[];
  /** The mean of all clean frames, which takes the grain out. */
  average?: boolean;
}

/** How a picture is brought into line with the shot before it is used: placed, then its light changed. */
export interface InLine {
  x: number;
  y: number;
  scale: number;
  angle: number;
  /** The shot's frame it was brought into line with. */
  at?: number;
  /** Gain and offset (8-bit code values) of each plane: value′ = gain·value + offset. */
  light: [number, number][];
}

/** A plain or sloping colour: for each plane its 8-bit code value at (x, y), and its change a pixel across and down. */
export interface PlainColour {
  x: number;
  y: number;
  planes: [number, number, number][];
}

/** A picture that was brought in: by a path beside the recipe, or (in stored recipes) by the SHA-256 of its file. */
export type Brought = ({ path: string } & Without<"asset">) | ({ asset: string } & Without<"path">);

/** What a plate starts from. */
export type PlateFrom =
  /** A frame of a take; `line`: how one of another take comes to lie on the shot. */
  | ({ take: string; frame: number; line?: InLine } & Without<"built" | "path" | "asset" | "colour">)
  /** Many frames of a take. */
  | ({ take: string; built: BuiltFrom } & Without<"frame" | "line" | "path" | "asset" | "colour">)
  | (Brought & Without<"take" | "frame" | "line" | "built" | "colour">)
  | ({ colour: PlainColour } & Without<"take" | "frame" | "line" | "built" | "path" | "asset">);

export interface Plate {
  name?: string;
  from: PlateFrom;
  touches: Touch[];
  /** What came back from outside: a picture with alpha, laid over the touched plate. */
  returned?: Brought;
}

export type Op = "add" | "cut" | "cross";
interface ShapeCommon {
  name?: string;
  on?: boolean;
  locked?: boolean;
  op: Op;
  feather?: Keyed<number>;
  grow?: Keyed<number>;
}
export interface PathShape extends ShapeCommon {
  kind: "path";
  points: Keyed<Outline>;
}
export interface EllipseShape extends ShapeCommon {
  kind: "ellipse";
  center: Keyed<Point>;
  radii: Keyed<Point>;
  angle?: Keyed<number>;
}
export interface BoxShape extends ShapeCommon {
  kind: "box";
  center: Keyed<Point>;
  size: Keyed<Point>;
  angle?: Keyed<number>;
  round?: Keyed<number>;
}
export interface PictureShape extends ShapeCommon {
  kind: "picture";
  path?: string;
  asset?: string;
  use: "alpha" | "brightness";
}
export interface PaintedShape extends ShapeCommon {
  kind: "painted";
  strokes: { brush: Brush; path: Point[]; erase?: boolean; frames?: [number, number] }[];
}
export type Shape = PathShape | EllipseShape | BoxShape | PictureShape | PaintedShape;

export interface Mask {
  /** Of a mask that layers share. */
  name?: string;
  shapes: Shape[];
  feather?: Keyed<number>;
  grow?: Keyed<number>;
  invert?: boolean;
}

type Stretch = "from" | "to" | "repeat" | "join";
interface Alpha {
  /** Whether the source's own alpha counts; by default it does. */
  alpha?: "use" | "ignore";
}
/** What a patch shows. */
export type Source = Alpha &
  (
    | ({ plate: string } & Without<"take" | "hold" | "slip" | Stretch>)
    /** One frame of a take. */
    | ({ take: string; hold: number } & Without<"plate" | "slip" | Stretch>)
    /** The frame so many frames later (or earlier). */
    | ({ take: string; slip: Keyed<number> } & Without<"plate" | "hold" | Stretch>)
    /** A stretch of a take, both ends included, over and over; `join`: frames over which its end is mixed into its beginning. */
    | ({ take: string; from: number; to: number; repeat: "loop" | "bounce" | "slow"; join?: number } & Without<"plate" | "hold" | "slip">)
    /** The same frame of a take: with a place, what lies beside. */
    | ({ take: string } & Without<"plate" | "hold" | "slip" | Stretch>)
  );

export interface Place {
  x?: Keyed<number>;
  y?: Keyed<number>;
  scale?: Keyed<number>;
  angle?: Keyed<number>;
  pivot?: Keyed<Point>;
}

interface LayerCommon {
  id: string;
  name?: string;
  /** Switched off it is left out; by default it is on. */
  on?: boolean;
  /** Whether the editor leaves it as it is. */
  locked?: boolean;
  /** Its first and its last frame, counted in the take from 0, both included. */
  in: number;
  out: number;
}

export interface PatchLayer extends LayerCommon {
  kind: "patch";
  source: Source;
  place?: Place;
  mask: Mask | { use: string };
  opacity?: Keyed<number>;
  fadeIn?: number;
  fadeOut?: number;
}

/** Touches on frames of the shot, over footage and what lies below. */
export interface PaintLayer extends LayerCommon {
  kind: "paint";
  touches: Touch[];
}

/** Layers of version 1 that are published and not yet run. */
export interface ReframeLayer extends LayerCommon {
  kind: "reframe";
  place?: Place;
}
export interface EvenLightLayer extends LayerCommon {
  kind: "evenlight";
}
export type Layer = PatchLayer | PaintLayer | ReframeLayer | EvenLightLayer;

/** Where and when an intruder is seen. What was measured and what was set by hand are told apart. */
export interface SeenBand {
  /** The frame on which it was outlined, roughly, and the outline. */
  at: number;
  outline: Outline;
  /** Measured: the first and the last frame, and the one in which most of it is seen. */
  measured?: { in: number; out: number; worst: number; never?: boolean };
  /** Set by hand, in place of what was measured. */
  in?: number;
  out?: number;
  worst?: number;
}

export interface Intruder {
  id: string;
  name: string;
  on?: boolean;
  seen?: SeenBand;
  layers: Layer[];
}

export interface Recipe {
  format: "umber-moth/recipe";
  version: 1;
  name?: string;
  seed?: number;
  takes: Record<string, TakeRef>;
  shot: { take: string; in: number; out: number };
  plates: Record<string, Plate>;
  masks?: Record<string, Mask>;
  intruders: Intruder[];
  output?: { in: number; out: number };
}

/** The frames in which an intruder is seen: by hand where it was set, else as measured; null when nothing is known. */
export function seenFrames({ seen }: Intruder): { in: number; out: number; worst: number } | null {
  if (!seen?.measured && (seen?.in === undefined || seen.out === undefined)) return null;
  const at = seen.at;
  return { in: seen.in ?? seen.measured?.in ?? at, out: seen.out ?? seen.measured?.out ?? at, worst: seen.worst ?? seen.measured?.worst ?? at };
}

export const isPatch = (l: Layer): l is PatchLayer => l.kind === "patch";
export const isPaint = (l: Layer): l is PaintLayer => l.kind === "paint";
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
