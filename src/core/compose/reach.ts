import { isPaint, type PaintLayer, type PatchLayer } from "../document/layer";
import type { Recipe } from "../document/recipe";
import { RING } from "../match/light-ring";
import { intersect, isEmpty, type Rect } from "../pixels/frame";
import { paintBounds, paintReads } from "../retouch/paint";
import { maskBounds } from "../shape/mask";
import { isMatched } from "./matched";
import { maskAt, type Tracks } from "./tie";

/** How many luma samples beyond an edge its chroma footprint reaches. */
const CHROMA = 4;

/** How far around it a matched patch looks, in luma pixels: the ring by which light is told, and a chroma sample. */
const AROUND = RING.to + 2;

const NOTHING: Rect = { x0: 0, y0: 0, x1: 0, y1: 0 };

/** A rectangle with the reach of the chroma footprint, its sides on whole chroma samples. */
function toChroma(r: Rect, width: number, height: number): Rect {
  if (isEmpty(r)) return NOTHING;
  const far = { x0: (r.x0 - CHROMA) & ~1, y0: (r.y0 - CHROMA) & ~1, x1: (r.x1 + CHROMA + 1) & ~1, y1: (r.y1 + CHROMA + 1) & ~1 };
  return intersect({ x0: 0, y0: 0, x1: width, y1: height }, far);
}

/**
 * What a layer writes at frame `n`: a rectangle outside which no sample of any plane is changed by it, its sides on whole chroma
 * samples. Empty where it is switched off.
 */
export function layerWrites(recipe: Recipe, l: PatchLayer | PaintLayer, n: number, width: number, height: number, tracks?: Tracks): Rect {
  if (l.on === false) return NOTHING;
  return toChroma(isPaint(l) ? paintBounds(l, n, width, height) : maskBounds(maskAt(recipe, l, n, tracks), n, width, height), width, height);
}

/**
 * What a layer reads of the picture below it at frame `n`: a rectangle outside which nothing of it has a say in what the layer
 * writes. It holds what is written; a patch that only covers reads no more, one that is matched looks around it, touches read what they
 * copy or blend into.
 */
export function layerReads(recipe: Recipe, l: PatchLayer | PaintLayer, n: number, width: number, height: number, tracks?: Tracks): Rect {
  if (l.on === false) return NOTHING;
  if (isPaint(l)) return toChroma(paintReads(l, n, width, height), width, height);
  const writes = layerWrites(recipe, l, n, width, height, tracks);
  if (!isMatched(l) || isEmpty(writes)) return writes;
  return toChroma({ x0: writes.x0 - AROUND, y0: writes.y0 - AROUND, x1: writes.x1 + AROUND, y1: writes.y1 + AROUND }, width, height);
}
