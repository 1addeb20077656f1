import type { PatchLayer, Recipe } from "../document";
import { createFrame, type Frame } from "../pixels/frame";
import { layerOpacity, maskOf, preparePatch, type Canvas, type MatteCache } from "./patch";
import { maskMatte } from "../shape/mask";
import { over } from "../shape/matte";

/** α × opacity of some layers together over the whole picture: 1 − Π(1 − α), values 0–1. */
export function togetherMatte(recipe: Recipe, layers: PatchLayer[], n: number, c: Canvas): Float64Array {
  const rect = { x0: 0, y0: 0, x1: c.width, y1: c.height };
  const clear = new Float64Array(c.width * c.height).fill(1);
  for (const l of layers) {
    const opacity = layerOpacity(l, n);
    if (!opacity) continue;
    const a = over(maskMatte(maskOf(recipe, l), n, c.width, c.height, c.scale), rect);
    for (let i = 0; i < a.length; i++) clear[i] *= 1 - a[i] * opacity;
  }
  for (let i = 0; i < clear.length; i++) clear[i] = 1 - clear[i];
  return clear;
}

/** One patch by itself: its source as it lies at frame `n`, with α × opacity beside it (0–1, one a pixel). */
export function patchAlone(
  recipe: Recipe,
  l: PatchLayer,
  n: number,
  source: Frame,
  like: Frame,
  c: Canvas,
  cache?: MatteCache,
): { picture: Frame; alpha: Float64Array } {
  const patch = preparePatch(recipe, l, n, source, like.format, c, cache);
  const picture = createFrame(like.width, like.height, { ...like.format, alpha: false });
  picture.planes.forEach((plane, p) => {
    for (let y = 0, i = 0; y < plane.height; y++) for (let x = 0; x < plane.width; x++, i++) plane.data[i] = patch.sources[p].read(x, y);
  });
  const [m] = patch.alphas;
  const alpha = over({ ...m, outside: 0 }, { x0: 0, y0: 0, x1: c.width, y1: c.height });
  for (let i = 0; i < alpha.length; i++) alpha[i] *= patch.opacity;
  return { picture, alpha };
}
