import { SCALE, UNIT } from "../ranges";
import type { Mask } from "../document/mask";
import { maskOf, NotSupportedYet, type Recipe } from "../document/recipe";
import type { PatchLayer } from "../document/layer";
import type { SitingName } from "../pixels/colour";
import { type Frame, maxCode, type Plane, planeShift, type PixelFormat, sameFormat } from "../pixels/frame";
import { movedPlane, placedPlane, type Placing, type ResampledPlane } from "../pixels/resample";
import { sitedPlane } from "../pixels/siting";
import { boundaryOf } from "../shape/boundary";
import { coverage } from "../shape/coverage";
import type { FrameRef, PictureRef } from "../retouch/plate";
import { quickAlphas } from "./quick-alphas";
import { planeAlpha, type PlaneAlpha } from "../shape/chroma";
import { maskMatte, type MaskPictures } from "../shape/mask";
import type { Matte } from "../shape/matte";
import { isKeyed, valueAt } from "../time/keyed";

/** opacity × min(1, (n − in + 1)/(fadeIn + 1), (out − n + 1)/(fadeOut + 1)); 0 outside the layer's frames. */
export function layerOpacity(l: PatchLayer, n: number): number {
  if (n < l.in || n > l.out) return 0;
  const fade = Math.min(1, (n - l.in + 1) / ((l.fadeIn ?? 0) + 1), (l.out - n + 1) / ((l.fadeOut ?? 0) + 1));
  return valueAt(l.opacity ?? 1, n, UNIT) * fade;
}

/** Which picture a patch shows at frame `n`; while a loop's ends are dissolved, the one that comes in. Slip: floor(n + slip + ½). */
export function patchSource(recipe: Recipe, l: PatchLayer, n: number): PictureRef {
  const s = l.source;
  if (s.plate !== undefined) return { plate: s.plate };
  const take = s.take ?? recipe.shot.take;
  if (s.hold !== undefined) return { take, frame: s.hold };
  if (s.slip !== undefined) return { take, frame: Math.floor(n + valueAt(s.slip, n) + 0.5) };
  if (s.from !== undefined && s.to !== undefined)
    return { take, frame: borrowedFrame({ from: s.from, to: s.to, repeat: s.repeat ?? "loop", join: s.join }, n - l.in, l.out - l.in + 1) };
  return { take, frame: n };
}

/** The end of the pass before, which a loop with `join` still shows at frame `n` under the start of the next, and the share of the start. */
export function dissolveUnder(recipe: Recipe, l: PatchLayer, n: number): { ref: FrameRef; share: number } | null {
  const { from, to, repeat, join = 0, take = recipe.shot.take } = l.source;
  if (!join || from === undefined || to === undefined || (repeat ?? "loop") !== "loop") return null;
  const period = loopPeriod(from, to, join);
  const at = (n - l.in) % period;
  if (n - l.in < period || at >= join) return null;
  return { ref: { take, frame: from + period + at }, share: (at + 1) / (join + 1) };
}

/** Frames after which a loop starts again: its ends overlap by `join`, at most half of it. */
const loopPeriod = (from: number, to: number, join = 0) => to - from + 1 - join;

/**
 * The frame of a borrowed stretch at step `k` (from 0) of a layer of `length` frames: run round and round, its ends overlapping
 * by `join`; to and fro (its ends shown once a turn); or slowed by repeating frames so that it fills the layer.
 */
export function borrowedFrame(
  { from, to, repeat, join }: { from: number; to: number; repeat: "loop" | "bounce" | "slow"; join?: number },
  k: number,
  length: number,
): number {
  const count = to - from + 1;
  if (repeat === "slow") return from + Math.floor((k * count) / Math.max(length, count));
  if (repeat === "loop") return from + (k % loopPeriod(from, to, join));
  if (count === 1) return from;
  const turn = k % (2 * count - 2);
  return from + (turn < count ? turn : 2 * count - 2 - turn);
}

/** What composing works in: the size of the pictures, their scale to the take, and where chroma lies. */
export interface Canvas {
  /** Luma samples across. */
  width: number;
  /** Luma samples down. */
  height: number;
  /** Picture pixels per take pixel: 1 for exact frames, less for previews. */
  scale: number;
  /** Where chroma samples lie between luma samples. */
  siting: SitingName;
  /** Pictures that are used as masks. */
  masks?: MaskPictures;
  /** Whether codes run from 0 (full range) or from 16 (limited range, which counts without it). */
  full?: boolean;
  /** Whether codes go by a logarithm or a curve like one: light is then a gain and an offset. */
  adds?: boolean;
  /** For a quick picture: soft mattes may be worked out at half the size. */
  quick?: boolean;
}

/** Mattes that did not change since the last frame, kept by the mask they came from. */
export type MatteCache = WeakMap<object, { key: string; alphas: PlaneAlpha[] }>;

/** α of a mask for each plane at frame `n`. A mask that stays as it is is computed once. */
export function maskAlphas(mask: Mask, n: number, c: Canvas, format: PixelFormat, planes: number, cache?: MatteCache): PlaneAlpha[] {
  const still = !changesInTime(mask);
  const key = `${still ? "still" : n}/${c.width}x${c.height}/${c.scale}/${c.siting}/${format.subX}${format.subY}`;
  const hit = cache?.get(mask);
  if (hit?.key === key) return hit.alphas;
  const quick = c.quick && planes === 3 ? quickAlphas(mask, n, c, format) : null;
  const alphas = quick ? [quick[0], quick[1], quick[1]] : alphasOf(maskMatte(mask, n, c.width, c.height, c.scale, c.masks), format, planes, c);
  cache?.set(mask, { key, alphas });
  return alphas;
}

/** Both chroma planes lie alike, so they share one α. */
function alphasOf(m: Matte, format: PixelFormat, planes: number, c: Canvas): PlaneAlpha[] {
  const [luma, chroma] = [0, 1].map((p) => planeAlpha(m, format, p, c.siting, c.width, c.height));
  return planes === 1 ? [luma] : [luma, chroma, chroma];
}

/** Whether a mask is another one from frame to frame: a value has more than one key, or strokes are painted for some frames. */
export function changesInTime(value: unknown): boolean {
  if (typeof value !== "object" || value === null) return false;
  if (isKeyed(value)) return value.keys.length > 1;
  if (Array.isArray(value)) return typeof value[0] === "object" && value.some(changesInTime);
  return "frames" in value || Object.values(value).some(changesInTime);
}

/** A patch at one frame, ready to be laid. */
export interface PreparedPatch {
  /** The planes of its picture, as they come to lie. */
  sources: ResampledPlane[];
  /** α of its mask, a plane each. */
  alphas: PlaneAlpha[];
  /** 0 … 1, with its fades. */
  opacity: number;
  /** Whether the picture reaches to a luma pixel, and is not transparent there. */
  covers: (x: number, y: number) => boolean;
}

/** A patch at frame `n`, ready to be laid over a picture of `format`: its source and α, plane by plane. */
export function preparePatch(
  recipe: Recipe,
  l: PatchLayer,
  n: number,
  source: Frame,
  format: PixelFormat,
  c: Canvas,
  cache?: MatteCache,
): PreparedPatch {
  if (!sameFormat(source.format, format)) {
    throw new NotSupportedYet("A source whose pixel format differs from the shot's");
  }
  const place = placingOf(l, n, source, c);
  const { x, y } = place;
  const plain = place.scale === 1 && place.angle === 0;
  const planes = format.model === "gray" ? 1 : 3;
  const covers = plain && x <= 0 && y <= 0 && x + source.width >= c.width && y + source.height >= c.height;
  const alphaPlane = source.format.alpha && l.source.alpha !== "ignore" ? source.planes[source.planes.length - 1] : undefined;
  const laid = (p: number, plane: Plane) => {
    const { sx, sy } = planeShift(format, p);
    if (plain) return movedPlane(plane, x / (1 << sx), y / (1 << sy), maxCode(format));
    return placedPlane(plane, sitedPlane(format, p, c.siting), place, maxCode(format));
  };
  let alphas: PlaneAlpha[];
  if (covers && !alphaPlane) alphas = maskAlphas(maskOf(recipe, l), n, c, format, planes, cache);
  else {
    const m = maskMatte(maskOf(recipe, l), n, c.width, c.height, c.scale, c.masks);
    const top = maxCode(source.format);
    const read = alphaPlane && laid(0, alphaPlane).read;
    alphas = alphasOf(
      withinSource(m, place, source, (px, py) => (read ? read(px, py) / top : 1)),
      format,
      planes,
      c,
    );
  }
  const sources = Array.from({ length: planes }, (_, p) => laid(p, source.planes[p]));
  return { sources, alphas, opacity: layerOpacity(l, n), covers: covers && !alphaPlane ? () => true : reachesTo(place, source, alphaPlane) };
}

/** Whether a placed picture reaches to a luma pixel, and is not transparent there. */
function reachesTo(place: Placing, source: Frame, alpha?: Plane): (x: number, y: number) => boolean {
  const cos = Math.cos((place.angle * Math.PI) / 180) / place.scale;
  const sin = Math.sin((place.angle * Math.PI) / 180) / place.scale;
  const top = maxCode(source.format);
  return (x, y) => {
    const [dx, dy] = [x + 0.5 - place.cx - place.x, y + 0.5 - place.cy - place.y];
    const [ix, iy] = [Math.floor(cos * dx + sin * dy + place.cx), Math.floor(cos * dy - sin * dx + place.cy)];
    if (ix < 0 || iy < 0 || ix >= source.width || iy >= source.height) return false;
    return !alpha || alpha.data[iy * alpha.width + ix] === top;
  };
}

/** A layer's place at frame `n` in pixels of the canvas; the pivot is the source's centre unless set. */
function placingOf(l: PatchLayer, n: number, source: Frame, c: Canvas): Placing {
  const p = l.place;
  const pivot = p?.pivot ? valueAt(p.pivot, n).map((v) => v * c.scale) : [source.width / 2, source.height / 2];
  return {
    x: valueAt(p?.x ?? 0, n) * c.scale,
    y: valueAt(p?.y ?? 0, n) * c.scale,
    scale: valueAt(p?.scale ?? 1, n, SCALE),
    angle: valueAt(p?.angle ?? 0, n),
    cx: pivot[0],
    cy: pivot[1],
  };
}

/** α times the exact coverage of each pixel by the placed source's rectangle, times the source's own α. */
function withinSource(m: Matte, place: Placing, source: Frame, own: (x: number, y: number) => number): Matte {
  const cos = Math.cos((place.angle * Math.PI) / 180) * place.scale;
  const sin = Math.sin((place.angle * Math.PI) / 180) * place.scale;
  const corners = [
    [0, 0],
    [source.width, 0],
    [source.width, source.height],
    [0, source.height],
  ].flatMap(([qx, qy]) => {
    const [dx, dy] = [qx - place.cx, qy - place.cy];
    return [place.cx + place.x + cos * dx - sin * dy, place.cy + place.y + sin * dx + cos * dy];
  });
  const share = coverage(boundaryOf(Float64Array.from(corners)), m);
  const data = m.data.slice();
  const w = m.x1 - m.x0;
  for (let i = 0; i < data.length; i++) if (data[i]) data[i] *= share[i] * own(m.x0 + (i % w), m.y0 + Math.floor(i / w));
  return { ...m, data };
}
