import type { PatchLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { inverse, mapped, type Place } from "../follow/homography";
import { RING } from "../match/light-ring";
import { sharpened, type Sharpening } from "../match/sharpen";
import { type PixelFormat, planeShift } from "../pixels/frame";
import { SHARPNESS, UNIT } from "../ranges";
import { maskBounds } from "../shape/mask";
import { valueAt } from "../time/keyed";
import type { Canvas } from "./canvas";
import type { PreparedPatch } from "./patch";
import { maskAt, trackMap } from "./tie";

/** How the picture of a patch is made softer or sharper at frame `n`, plane by plane; null where nothing is done to it. */
export function sharpeningOf(recipe: Recipe, l: PatchLayer, n: number, format: PixelFormat, c: Canvas): Sharpening[] | null {
  if (!l.sharpness) return null;
  const amount = valueAt(l.sharpness.amount ?? 0, n, SHARPNESS) * c.scale;
  const [dx, dy] = smearOf(recipe, l, n, c).map((v) => v * c.scale);
  if (amount === 0 && dx === 0 && dy === 0) return null;
  return [0, 1, 2].map((p) => {
    const { sx, sy } = planeShift(format, p);
    return { across: amount / (1 << sx), down: amount / (1 << sy), smear: [dx / (1 << sx), dy / (1 << sy)] };
  });
}

/** The way that the middle of the mask goes along the picture's track while the shutter is open, in take pixels. */
function smearOf(recipe: Recipe, l: PatchLayer, n: number, c: Canvas): readonly [number, number] {
  const share = valueAt(l.sharpness?.motion ?? 0, n, UNIT);
  const to = l.tied?.to;
  if (!share || to === undefined) return [0, 0];
  const here = inverse(trackMap(recipe, to, n, c.tracks));
  if (!here) return [0, 0];
  const box = maskBounds(maskAt(recipe, l, n, c.tracks), n, c.width / c.scale, c.height / c.scale);
  const start = mapped(here, [(box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2]);
  const { in: first, out: last } = recipe.tracks![to];
  const [before, after] = [Math.max(first, n - 1), Math.min(last, n + 1)];
  const at = (f: number): Place | null => start && mapped(trackMap(recipe, to, f, c.tracks), start);
  const [a, b] = [at(before), at(after)];
  if (!a || !b || after <= before) return [0, 0];
  const k = share / (after - before);
  return [k * (b[0] - a[0]), k * (b[1] - a[1])];
}

/** A patch with its picture made softer or sharper, as far around it as its light and its seam look. */
export function resharpened(patch: PreparedPatch, by: readonly Sharpening[] | null): PreparedPatch {
  if (!by) return patch;
  const sources = patch.sources.map((s, p) => ({ ...s, value: sharpenedAround(s.value, patch, p, by[p]) }));
  return { ...patch, sources };
}

/** Another reading of the same plane, made softer or sharper alike. */
export function sharpenedAround(value: (x: number, y: number) => number, patch: Pick<PreparedPatch, "alphas">, p: number, by: Sharpening) {
  const { x0, y0, x1, y1 } = patch.alphas[p];
  const far = RING.to + 8;
  return sharpened(value, { x0: x0 - far, y0: y0 - far, x1: x1 + far, y1: y1 + far }, by);
}
