import { NotSupportedYet } from "../document/recipe";
import type { Touch } from "../document/touch";
import { cellMeans } from "../motion/gray";
import { type Light, lightBetween, pivotOf, SAME_LIGHT } from "../match/light";
import type { SitingName } from "../pixels/colour";
import { colourPlanes, type Frame, isChroma, maxCode, type Plane, planeShift, type Rect, sameFormat } from "../pixels/frame";
import { movedPlane, type MovedPlane, placedPlane } from "../pixels/resample";
import { sitedPlane } from "../pixels/siting";

/** Luma pixels to a cell whose mean light is fitted on: single samples' noise would pull gains down. */
const LIGHT_CELL = 8;

/** The pictures a touch may read beside the one it works on. */
export interface TouchPictures {
  /** The picture as it came, before any touch. */
  original: Frame;
  /** The picture that the touch's source names. */
  source?: Frame;
  siting: SitingName;
  /** The recipe's seed. */
  seed?: number;
}

/** Whether a touch takes its picture from the very picture it is laid on. */
export const takesFromItself = (t: Touch) => !t.source && (t.kind === "clone" || t.kind === "heal" || t.kind === "graft");

/** The picture a touch reads: the work as it was before the touch, its source, or the original. @throws where a source is missing. */
export function touchInput(t: Touch, before: Frame, p: TouchPictures): Frame {
  if (t.kind === "restore") return p.original;
  const input = t.source ? p.source : before;
  if (!input) throw new Error(`The source of the ${t.kind} “${t.name ?? t.id}” is missing; choose its picture again.`);
  if (t.kind === "uncover" && !t.source) throw new Error(`The uncover “${t.name ?? t.id}” names no source; choose a plate, a frame or a slip.`);
  if (!sameFormat(before.format, input.format)) throw new NotSupportedYet("A source whose pixel format differs from the plate's");
  return input;
}

/** The point about which a touch's source is scaled and turned. */
export const touchStart = (t: Touch): readonly number[] => (t.path ?? t.outline)![0];

/** The source point that a touch reads for point p: p + offset, scaled and turned (and turned over) about the touch's start. */
export function sourcePoint(t: Touch, x: number, y: number): [number, number] {
  const [ox, oy] = t.offset ?? [0, 0];
  const scale = t.scale ?? 1;
  const r = ((t.angle ?? 0) * Math.PI) / 180;
  if (scale === 1 && r === 0 && !t.mirror) return [x + ox, y + oy];
  const [sx, sy] = touchStart(t);
  const dx = (t.mirror ? sx - x : x - sx) / scale;
  const dy = (y - sy) / scale;
  return [sx + ox + Math.cos(r) * dx + Math.sin(r) * dy, sy + oy + Math.cos(r) * dy - Math.sin(r) * dx];
}

/** The rectangle of the source that a touch reads for a rectangle of its own, with the reach of the interpolation. */
export function sourceRect(t: Touch, r: Rect): Rect {
  const corners = [
    [r.x0, r.y0],
    [r.x1, r.y0],
    [r.x1, r.y1],
    [r.x0, r.y1],
  ].map(([x, y]) => sourcePoint(t, x, y));
  const reach = 4 + Math.ceil(4 / Math.min(1, t.scale ?? 1));
  return {
    x0: Math.floor(Math.min(...corners.map((c) => c[0]))) - reach,
    y0: Math.floor(Math.min(...corners.map((c) => c[1]))) - reach,
    x1: Math.ceil(Math.max(...corners.map((c) => c[0]))) + reach,
    y1: Math.ceil(Math.max(...corners.map((c) => c[1]))) + reach,
  };
}

/**
 * Plane `p` of a touch's input where the touch lays it: moved by its offset, scaled, turned and turned over about its start
 * (Catmull–Rom, Keys 1981), and brought into the light given.
 */
export function laidInput(
  t: Touch,
  input: Frame,
  p: number,
  format: Frame["format"],
  siting: SitingName,
  light: readonly Light[] | null,
): MovedPlane {
  const plane = input.planes[p] ?? opaque(input.planes[0], format);
  const top = maxCode(format);
  const { sx, sy } = planeShift(format, p);
  const [ox, oy] = t.kind === "restore" ? [0, 0] : (t.offset ?? [0, 0]);
  const scale = t.scale ?? 1;
  const angle = t.angle ?? 0;
  let moved: MovedPlane;
  if (t.kind === "restore" || (scale === 1 && angle === 0 && !t.mirror)) moved = movedPlane(plane, -ox / (1 << sx), -oy / (1 << sy), top);
  else {
    const [cx, cy] = touchStart(t);
    const r = (angle * Math.PI) / 180;
    const turned = [Math.cos(r) * ox - Math.sin(r) * oy, Math.sin(r) * ox + Math.cos(r) * oy];
    const x = -scale * (t.mirror ? -turned[0] : turned[0]);
    moved = placedPlane(plane, sitedPlane(format, p, siting), { x, y: -scale * turned[1], scale, angle, cx, cy, mirror: t.mirror }, top);
  }
  const change = light?.[p] ?? SAME_LIGHT;
  if (change.gain === 1 && change.offset === 0) return moved;
  const one = 1 << (format.bits - 8);
  const pivot = pivotOf(isChroma(format, p), format.model === "rgb") * one;
  const { read } = moved;
  const lit = (x: number, y: number) => {
    const v = Math.floor(pivot + change.gain * (read(x, y) - pivot) + change.offset * one + 0.5);
    return v < 0 ? 0 : v > top ? top : v;
  };
  return { ...moved, whole: null, read: lit };
}

/** The alpha plane of a source that has none. */
const opaque = (like: Plane, format: Frame["format"]): Plane => ({ ...like, data: like.data.slice().fill(maxCode(format)) });

/** Pictures do not change once they are there; while a shot plays, the same two meet again and again. */
const lights = new WeakMap<Frame, WeakMap<Frame, Light[]>>();

/** How the light of a source goes over into that of the picture, plane by plane, from means of cells all over both. */
export function lightOf(source: Frame, picture: Frame): Light[] {
  let known = lights.get(picture);
  if (!known) lights.set(picture, (known = new WeakMap()));
  let light = known.get(source);
  if (!light) known.set(source, (light = fittedLight(source, picture)));
  return light;
}

function fittedLight(source: Frame, picture: Frame): Light[] {
  const { format } = picture;
  return Array.from({ length: colourPlanes(format) }, (_, p) => {
    const [a, b] = [source.planes[p], picture.planes[p]];
    const size = { width: Math.min(a.width, b.width), height: Math.min(a.height, b.height) };
    const { sx, sy } = planeShift(format, p);
    const k = Math.min(LIGHT_CELL >> Math.max(sx, sy), size.width, size.height);
    const [x, y] = [a, b].map((plane) =>
      cellMeans(plane.width === size.width ? { ...plane, height: size.height } : cropped(plane, size), format.bits, k),
    );
    return lightBetween(x.data, y.data, pivotOf(isChroma(format, p), format.model === "rgb"));
  });
}

/** The upper left part of a plane. */
function cropped({ width, data }: Plane, size: { width: number; height: number }): Plane {
  const out = data.slice(0, size.width * size.height);
  for (let y = 0; y < size.height; y++) out.set(data.subarray(y * width, y * width + size.width), y * size.width);
  return { ...size, data: out };
}
