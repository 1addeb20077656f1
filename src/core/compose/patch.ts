import { SCALE, UNIT } from "../ranges";
import type { Mask } from "../document/mask";
import { NotSupportedYet, type Recipe } from "../document/recipe";
import type { PatchLayer } from "../document/layer";
import type { Cutouts } from "../cutout/cutout-data";
import type { SitingName } from "../pixels/colour";
import { type Frame, maxCode, type Plane, type PixelFormat, sameFormat } from "../pixels/frame";
import type { Placing, ResampledPlane } from "../pixels/resample";
import { boundaryOf } from "../shape/boundary";
import { coverage } from "../shape/coverage";
import { carried, type Lying, placed } from "./lying";
import { quickAlphas } from "./quick-alphas";
import { maskAt, pictureMap, type Tracks } from "./tie";
import { planeAlpha, type PlaneAlpha } from "../shape/chroma";
import { maskMatte, type MaskPictures } from "../shape/mask";
import type { Matte } from "../shape/matte";
import { changesInTime, valueAt } from "../time/keyed";

/** opacity × min(1, (n − in + 1)/(fadeIn + 1), (out − n + 1)/(fadeOut + 1)); 0 outside the layer's frames. */
export function layerOpacity(l: PatchLayer, n: number): number {
  if (n < l.in || n > l.out) return 0;
  const fade = Math.min(1, (n - l.in + 1) / ((l.fadeIn ?? 0) + 1), (l.out - n + 1) / ((l.fadeOut ?? 0) + 1));
  return valueAt(l.opacity ?? 1, n, UNIT) * fade;
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
  /** What was cut out, for masks. */
  cutouts?: Cutouts;
  /** What was measured of the tracks that patches follow. */
  tracks?: Tracks;
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
  const alphas = quick
    ? [quick[0], quick[1], quick[1]]
    : alphasOf(maskMatte(mask, n, c.width, c.height, c.scale, c.masks, c.cutouts), format, planes, c);
  cache?.set(mask, { key, alphas });
  return alphas;
}

/** Both chroma planes lie alike, so they share one α. */
function alphasOf(m: Matte, format: PixelFormat, planes: number, c: Canvas): PlaneAlpha[] {
  const [luma, chroma] = [0, 1].map((p) => planeAlpha(m, format, p, c.siting, c.width, c.height));
  return planes === 1 ? [luma] : [luma, chroma, chroma];
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
  const planes = format.model === "gray" ? 1 : 3;
  const alphaPlane = source.format.alpha && l.source.alpha !== "ignore" ? source.planes[source.planes.length - 1] : undefined;
  const mask = maskAt(recipe, l, n, c.tracks);
  const tie = pictureMap(recipe, l, n, [source.width / 2 / c.scale, source.height / 2 / c.scale], c.tracks);
  const lies = tie ? carried(tie, n, source, format, mask, c) : placed(placingOf(l, n, source, c), source, format, c);
  const covers = lies.everywhere && !alphaPlane;
  let alphas: PlaneAlpha[];
  if (covers) alphas = maskAlphas(mask, n, c, format, planes, cache);
  else {
    const m = maskMatte(mask, n, c.width, c.height, c.scale, c.masks, c.cutouts);
    const top = maxCode(source.format);
    const read = alphaPlane && lies.laid(0, alphaPlane).read;
    alphas = alphasOf(
      withinSource(m, lies, source, (px, py) => (read ? read(px, py) / top : 1)),
      format,
      planes,
      c,
    );
  }
  const sources = Array.from({ length: planes }, (_, p) => lies.laid(p, source.planes[p]));
  return { sources, alphas, opacity: layerOpacity(l, n), covers: covers ? () => true : reachesTo(lies, source, alphaPlane) };
}

/** Whether a laid picture reaches to a luma pixel, and is not transparent there. */
function reachesTo(lies: Lying, source: Frame, alpha?: Plane): (x: number, y: number) => boolean {
  const top = maxCode(source.format);
  return (x, y) => {
    const [u, v] = lies.back(x + 0.5, y + 0.5);
    const [ix, iy] = [Math.floor(u), Math.floor(v)];
    if (!(ix >= 0 && iy >= 0 && ix < source.width && iy < source.height)) return false;
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

/** α times the exact coverage of each pixel by the laid source's outline, times the source's own α. */
function withinSource(m: Matte, lies: Lying, source: Frame, own: (x: number, y: number) => number): Matte {
  const corners = lies.corners();
  const share = corners && coverage(boundaryOf(Float64Array.from(corners)), m);
  const reaches = reachesTo(lies, source);
  const data = m.data.slice();
  const w = m.x1 - m.x0;
  for (let i = 0; i < data.length; i++) {
    if (!data[i]) continue;
    const [x, y] = [m.x0 + (i % w), m.y0 + Math.floor(i / w)];
    data[i] *= (share ? share[i] : Number(reaches(x, y))) * own(x, y);
  }
  return { ...m, data };
}
