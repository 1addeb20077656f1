import { type Mask, type PatchLayer, type Recipe, NotSupportedYet } from "../document";
import type { SitingName } from "../pixels/colour";
import { type Frame, maxCode, planeShift, type PixelFormat } from "../pixels/frame";
import { movedPlane, type MovedPlane } from "../pixels/resample";
import type { PictureRef } from "../retouch/plate";
import { planeAlpha, type PlaneAlpha } from "../shape/chroma";
import { maskMatte } from "../shape/mask";
import type { Matte } from "../shape/matte";
import { isKeyed, valueAt } from "../time/keyed";

/** opacity × min(1, (n − in + 1)/(fadeIn + 1), (out − n + 1)/(fadeOut + 1)); 0 outside the layer's frames. */
export function layerOpacity(l: PatchLayer, n: number): number {
  if (n < l.in || n > l.out) return 0;
  const fade = Math.min(1, (n - l.in + 1) / ((l.fadeIn ?? 0) + 1), (l.out - n + 1) / ((l.fadeOut ?? 0) + 1));
  return valueAt(l.opacity ?? 1, n) * fade;
}

/** Which picture a patch shows at frame `n`. Slip: floor(n + slip + ½). */
export function patchSource(recipe: Recipe, l: PatchLayer, n: number): PictureRef {
  const s = l.source;
  if (s.plate !== undefined) return { plate: s.plate };
  const take = s.take ?? recipe.shot.take;
  if (s.hold !== undefined) return { take, frame: s.hold };
  if (s.slip !== undefined) return { take, frame: Math.floor(n + valueAt(s.slip, n) + 0.5) };
  if (s.from !== undefined) throw new NotSupportedYet("A borrowed stretch as source");
  return { take, frame: n };
}

export function maskOf(recipe: Recipe, l: PatchLayer): Mask {
  if (!("use" in l.mask)) return l.mask;
  const m = recipe.masks?.[l.mask.use];
  if (!m) throw new Error(`The layer “${l.name || l.id}” uses the mask “${l.mask.use}”, which the recipe does not have.`);
  return m;
}

/** Says by name what of a patch cannot run yet. */
export function assertPatchRuns(recipe: Recipe, l: PatchLayer): void {
  const p = l.place;
  const whole = (k: unknown, v: number) => k === undefined || k === v;
  if (p && !whole(p.scale, 1)) throw new NotSupportedYet("place.scale");
  if (p && !whole(p.angle, 0)) throw new NotSupportedYet("place.angle");
  if (l.source.alpha) throw new NotSupportedYet("source.alpha");
  if (l.source.from !== undefined) throw new NotSupportedYet("A borrowed stretch as source");
  for (const s of maskOf(recipe, l).shapes) {
    if (s.kind === "picture") throw new NotSupportedYet("A picture as mask");
    if (s.kind === "painted") throw new NotSupportedYet("A painted mask");
  }
}

/** What composing works in: the size of the pictures, their scale to the take, and where chroma lies. */
export interface Canvas {
  width: number;
  height: number;
  /** Picture pixels per take pixel: 1 for exact frames, less for previews. */
  scale: number;
  siting: SitingName;
}

/** Mattes that did not change since the last frame, kept by the mask they came from. */
export type MatteCache = WeakMap<object, { key: string; alphas: PlaneAlpha[] }>;

/** α of a mask for each plane at frame `n`. A mask without keys is computed once. */
function maskAlphas(mask: Mask, n: number, c: Canvas, format: PixelFormat, planes: number, cache?: MatteCache): PlaneAlpha[] {
  const still = !hasKeys(mask);
  const key = `${still ? "still" : n}/${c.width}x${c.height}/${c.scale}/${c.siting}/${format.subX}${format.subY}`;
  const hit = cache?.get(mask);
  if (hit?.key === key) return hit.alphas;
  const alphas = alphasOf(maskMatte(mask, n, c.width, c.height, c.scale), format, planes, c);
  cache?.set(mask, { key, alphas });
  return alphas;
}

const alphasOf = (m: Matte, format: PixelFormat, planes: number, c: Canvas) =>
  Array.from({ length: planes }, (_, p) => planeAlpha(m, format, p, c.siting, c.width, c.height));

/** Whether any value of a mask is keyed. */
export function hasKeys(value: unknown): boolean {
  if (typeof value !== "object" || value === null) return false;
  if (isKeyed(value)) return true;
  return Object.values(value).some(hasKeys);
}

export interface PreparedPatch {
  sources: MovedPlane[];
  alphas: PlaneAlpha[];
  opacity: number;
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
  if (
    source.format.model !== format.model ||
    source.format.bits !== format.bits ||
    source.format.subX !== format.subX ||
    source.format.subY !== format.subY
  ) {
    throw new NotSupportedYet("A source whose pixel format differs from the shot's");
  }
  const x = valueAt(l.place?.x ?? 0, n) * c.scale;
  const y = valueAt(l.place?.y ?? 0, n) * c.scale;
  const planes = format.model === "gray" ? 1 : 3;
  const covers = x <= 0 && y <= 0 && x + source.width >= c.width && y + source.height >= c.height;
  const alphaPlane = source.format.alpha ? source.planes[source.planes.length - 1] : undefined;
  let alphas: PlaneAlpha[];
  if (covers && !alphaPlane) alphas = maskAlphas(maskOf(recipe, l), n, c, format, planes, cache);
  else {
    const m = maskMatte(maskOf(recipe, l), n, c.width, c.height, c.scale);
    const top = maxCode(source.format);
    const read = alphaPlane && movedPlane(alphaPlane, x, y, top).read;
    alphas = alphasOf(
      withinSource(m, x, y, source, (px, py) => (read ? read(px, py) / top : 1)),
      format,
      planes,
      c,
    );
  }
  const sources = Array.from({ length: planes }, (_, p) => {
    const { sx, sy } = planeShift(format, p);
    return movedPlane(source.planes[p], x / (1 << sx), y / (1 << sy), maxCode(format));
  });
  return { sources, alphas, opacity: layerOpacity(l, n) };
}

/** α times the exact coverage of each pixel by the moved source's rectangle, times the source's own α. */
function withinSource(m: Matte, x: number, y: number, source: Frame, own: (x: number, y: number) => number): Matte {
  const data = m.data.slice();
  const w = m.x1 - m.x0;
  const share = (a: number, from: number, to: number) => Math.max(0, Math.min(a + 1, to) - Math.max(a, from));
  for (let py = m.y0; py < m.y1; py++)
    for (let px = m.x0; px < m.x1; px++) {
      const i = (py - m.y0) * w + px - m.x0;
      if (data[i]) data[i] *= share(px, x, x + source.width) * share(py, y, y + source.height) * own(px, py);
    }
  return { ...m, data };
}
