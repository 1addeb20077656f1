import { isPaint, isPatch, type PaintLayer, type PatchLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import type { Colour } from "../pixels/colour";
import { copyFrame, createFrame, type Frame, maxCode, type PixelFormat, planeShift } from "../pixels/frame";
import { toCode } from "../pixels/resample";
import { paintMatte } from "../retouch/paint";
import { activeLayers, type Grains, layLayer, litPictures, type Pictures, sourcePicture } from "./compose";
import { frameLight, type GainsByHash, relit } from "./evenlight";
import { isMatched } from "./matched";
import { maskAt } from "./tie";
import type { Canvas } from "./canvas";
import { layerOpacity, preparePatch, type MatteCache } from "./patch";
import { maskMatte } from "../shape/mask";
import { over } from "../shape/matte";
import { toRgb16 } from "../pixels/toRgb";

/** α × opacity of some layers together over the whole picture: 1 − Π(1 − α), values 0–1. */
export function togetherMatte(recipe: Recipe, layers: (PatchLayer | PaintLayer)[], n: number, c: Canvas): Float64Array {
  const rect = { x0: 0, y0: 0, x1: c.width, y1: c.height };
  const clear = new Float64Array(c.width * c.height).fill(1);
  for (const l of layers) {
    const opacity = isPaint(l) ? 1 : layerOpacity(l, n);
    if (!opacity) continue;
    const a = over(
      isPaint(l)
        ? paintMatte(l, n, c.width, c.height, c.scale)
        : maskMatte(maskAt(recipe, l, n, c.tracks), n, c.width, c.height, c.scale, c.masks, c.cutouts),
      rect,
    );
    for (let i = 0; i < a.length; i++) clear[i] *= 1 - a[i] * opacity;
  }
  for (let i = 0; i < clear.length; i++) clear[i] = 1 - clear[i];
  return clear;
}

/** One patch by itself: its source as it lies at frame `n`, with α × opacity beside it (0–1, one a pixel). */
export function patchAlone(recipe: Recipe, l: PatchLayer, n: number, source: Frame, like: PixelFormat, c: Canvas, cache?: MatteCache): Part {
  const patch = preparePatch(recipe, l, n, source, like, c, cache);
  const picture = createFrame(c.width, c.height, { ...like, alpha: false });
  picture.planes.forEach((plane, p) => {
    for (let y = 0, i = 0; y < plane.height; y++) for (let x = 0; x < plane.width; x++, i++) plane.data[i] = patch.sources[p].read(x, y);
  });
  const [m] = patch.alphas;
  const alpha = over({ ...m, outside: 0 }, { x0: 0, y0: 0, x1: c.width, y1: c.height });
  for (let i = 0; i < alpha.length; i++) alpha[i] *= patch.opacity;
  return { picture, alpha };
}

/** A matched patch by itself: where it covers altogether, what was laid; at its edge, what gives that when it is laid over what was there. */
function matchedAlone(part: Part, before: Frame, after: Frame): Part {
  const { width } = part.picture;
  part.picture.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(part.picture.format, p);
    const top = maxCode(part.picture.format);
    for (let y = 0, i = 0; y < plane.height; y++)
      for (let x = 0; x < plane.width; x++, i++) {
        const a = part.alpha[Math.min(part.picture.height - 1, y << sy) * width + Math.min(width - 1, x << sx)];
        if (a > 0) plane.data[i] = toCode(before.planes[p].data[i] + (after.planes[p].data[i] - before.planes[p].data[i]) / a, top);
      }
  });
  return part;
}

/** What one layer shows by itself: a picture, and α × opacity over it (0–1, one a pixel). */
export interface Part {
  /** As large as the take. */
  picture: Frame;
  /** 0 … 1, one a luma sample, row by row. */
  alpha: Float64Array;
}

/**
 * The layers at frame `n`, each by itself, bottom first; laid over the footage one after another they give the mended picture.
 * @param below the take's own frame; only touches on it need it
 */
export function partsAlone(
  recipe: Recipe,
  n: number,
  like: PixelFormat,
  below: Frame | null,
  pictures: Pictures,
  c: Canvas,
  grains?: Grains,
  gains?: GainsByHash,
): (Part & { layer: string })[] {
  const layers = activeLayers(recipe, n);
  const light = frameLight(recipe, n, gains);
  const lit = light ? litPictures(recipe, pictures, c, light) : pictures;
  const ground = below && light ? relit(below, light.footage, c) : below;
  const out = ground && copyFrame(ground);
  return layers.map((l) => {
    const before = out && isPatch(l) && isMatched(l) ? copyFrame(out) : null;
    if (out) for (const _ of layLayer({ recipe, n, pictures, canvas: c, grains, light }, l, out, ground));
    // what is matched is matched to what lies below: its picture is what it gave
    if (before && !isPaint(l)) return { layer: l.id, ...matchedAlone(patchAlone(recipe, l, n, sourcePicture(recipe, l, n, lit), like, c), before, out!) }; // prettier-ignore
    if (!isPaint(l)) return { layer: l.id, ...patchAlone(recipe, l, n, sourcePicture(recipe, l, n, lit), like, c) };
    const alpha = over(paintMatte(l, n, c.width, c.height, c.scale), { x0: 0, y0: 0, x1: c.width, y1: c.height });
    return { layer: l.id, picture: copyFrame(out!), alpha };
  });
}

/**
 * Several parts laid over each other and over nothing (Porter & Duff 1984, *over*): R′G′B′ with straight alpha, 16 bits,
 * interleaved. Laid over the footage they give the mended picture.
 */
export function patchesTogether(parts: readonly Part[], colour: Colour, c: Canvas): Uint16Array {
  const count = c.width * c.height;
  const sum = new Float64Array(3 * count);
  const alpha = new Float64Array(count);
  for (const one of parts) {
    const rgb = toRgb16(one.picture, colour);
    for (let i = 0; i < count; i++) {
      const a = one.alpha[i];
      if (!a) continue;
      for (let k = 0; k < 3; k++) sum[3 * i + k] = sum[3 * i + k] * (1 - a) + rgb[3 * i + k] * a;
      alpha[i] = alpha[i] * (1 - a) + a;
    }
  }
  const out = new Uint16Array(4 * count);
  for (let i = 0; i < count; i++) {
    if (!alpha[i]) continue;
    for (let k = 0; k < 3; k++) out[4 * i + k] = Math.min(65535, sum[3 * i + k] / alpha[i] + 0.5);
    out[4 * i + 3] = 65535 * alpha[i] + 0.5;
  }
  return out;
}
