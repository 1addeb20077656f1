import { SCALE, UNIT } from "../ranges";
import type { Mask } from "../document/mask";
import { NotSupportedYet, type Recipe } from "../document/recipe";
import type { PatchLayer } from "../document/layer";
import { type Frame, intersect, isEmpty, maxCode, type Plane, type PixelFormat, type Rect, sameFormat } from "../pixels/frame";
import type { Placing, ResampledPlane } from "../pixels/resample";
import { boundaryOf } from "../shape/boundary";
import { coverage } from "../shape/coverage";
import type { Canvas } from "./canvas";
import { carried, type Lying, placed } from "./lying";
import { quickAlphas } from "./quick-alphas";
import { maskAt, pictureMap } from "./tie";
import { planeAlpha, type PlaneAlpha } from "../shape/chroma";
import { maskMatte } from "../shape/mask";
import type { Matte } from "../shape/matte";
import { changesInTime, valueAt } from "../time/keyed";

/** opacity × min(1, (n − in + 1)/(fadeIn + 1), (out − n + 1)/(fadeOut + 1)); 0 outside the layer's frames. */
export function layerOpacity(l: PatchLayer, n: number): number {
  if (n < l.in || n > l.out) return 0;
  const fade = Math.min(1, (n - l.in + 1) / ((l.fadeIn ?? 0) + 1), (l.out - n + 1) / ((l.fadeOut ?? 0) + 1));
  return valueAt(l.opacity ?? 1, n, UNIT) * fade;
}

/** What was worked out last of a mask, kept by the mask it came from; of one that stays as it is for all frames. */
export type MatteCache = WeakMap<object, MaskKept>;

interface MaskKept {
  key: string;
  matte?: Matte;
  alphas?: PlaneAlpha[];
  /** What of it a source leaves that does not cover it all, as it lies. */
  within?: { source: Frame; lies: string; alphas: PlaneAlpha[] };
}

function keptOf(mask: Mask, n: number, c: Canvas, format: PixelFormat, cache?: MatteCache): MaskKept {
  const key = `${changesInTime(mask) ? n : "still"}/${c.width}x${c.height}/${c.scale}/${c.siting}/${format.subX}${format.subY}`;
  const hit = cache?.get(mask);
  if (hit?.key === key) return hit;
  const fresh = { key };
  cache?.set(mask, fresh);
  return fresh;
}

const matteIn = (kept: MaskKept, mask: Mask, n: number, c: Canvas): Matte =>
  (kept.matte ??= maskMatte(mask, n, c.width, c.height, c.scale, c.masks, c.cutouts));

/** α of a mask for each plane at frame `n`. A mask that stays as it is is computed once. */
export function maskAlphas(mask: Mask, n: number, c: Canvas, format: PixelFormat, planes: number, cache?: MatteCache): PlaneAlpha[] {
  const kept = keptOf(mask, n, c, format, cache);
  if (kept.alphas) return kept.alphas;
  const quick = c.quick && planes === 3 ? quickAlphas(mask, n, c, format) : null;
  return (kept.alphas = quick ? [quick[0], quick[1], quick[1]] : alphasOf(matteIn(kept, mask, n, c), format, planes, c));
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
    const kept = keptOf(mask, n, c, format, cache);
    const corners = lies.corners();
    const how = corners && `${corners.join()}/${!!alphaPlane}`;
    if (how && kept.within?.source === source && kept.within.lies === how) ({ alphas } = kept.within);
    else {
      const m = matteIn(kept, mask, n, c);
      const cut = withinSource(m, lies, source, alphaPlane && lies.laid(0, alphaPlane).read);
      alphas = cut === m ? maskAlphas(mask, n, c, format, planes, cache) : alphasOf(cut, format, planes, c);
      if (how) kept.within = { source, lies: how, alphas };
    }
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

/**
 * α times the exact coverage of each pixel by the laid source's outline, times the source's own α; the same matte where that changes nothing.
 * @param own the source's α as it lies, in its codes
 */
function withinSource(m: Matte, lies: Lying, source: Frame, own?: (x: number, y: number) => number): Matte {
  const corners = lies.corners();
  const edges = corners && boundaryOf(Float64Array.from(corners));
  const reaches = reachesTo(lies, source);
  const top = maxCode(source.format);
  const w = m.x1 - m.x0;
  let { data } = m;
  const weigh = (rect: Rect, by: (x: number, y: number, k: number) => number) => {
    for (let y = rect.y0, k = 0; y < rect.y1; y++)
      for (let x = rect.x0, i = (y - m.y0) * w + x - m.x0; x < rect.x1; x++, i++, k++) {
        if (!data[i]) continue;
        const share = by(x, y, k);
        if (share === 1) continue;
        if (data === m.data) data = m.data.slice();
        data[i] *= share;
      }
  };
  if (edges)
    for (const part of around(m, innerOf(corners))) {
      const share = coverage(edges, part);
      weigh(part, (_, __, k) => share[k]);
    }
  else weigh(m, (x, y) => Number(reaches(x, y)));
  if (own) weigh(m, (x, y) => own(x, y) / top);
  return data === m.data ? m : { ...m, data };
}

/** A rectangle of whole pixels within a picture that is hardly turned, by its corners from the top left clockwise; an empty one where it is turned far. */
function innerOf([ax, ay, bx, by, cx, cy, dx, dy]: readonly number[]): Rect {
  const [x0, y0, x1, y1] = [Math.ceil(Math.max(ax, dx)), Math.ceil(Math.max(ay, by)), Math.floor(Math.min(bx, cx)), Math.floor(Math.min(cy, dy))];
  return { x0, y0, x1: Math.max(x0, x1), y1: Math.max(y0, y1) };
}

/** What of a rectangle lies above, below, left and right of another. */
function around(of: Rect, inner: Rect): Rect[] {
  const r = intersect(of, inner);
  if (isEmpty(r)) return [of];
  const parts = [
    { ...of, y1: r.y0 },
    { ...of, y0: r.y1 },
    { x0: of.x0, x1: r.x0, y0: r.y0, y1: r.y1 },
    { x0: r.x1, x1: of.x1, y0: r.y0, y1: r.y1 },
  ];
  return parts.filter((p) => !isEmpty(p));
}
