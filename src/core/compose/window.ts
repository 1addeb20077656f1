import { isPaint, isPatch, type PaintLayer, type PatchLayer } from "../document/layer";
import { maskOf, type Recipe } from "../document/recipe";
import { type Frame, intersect, isEmpty, type PixelFormat, planeShift, type Rect, union } from "../pixels/frame";
import { activeLayers, changesWhole } from "./compose";
import { isMatched } from "./matched";
import { changesInTime } from "../time/keyed";
import { layerReads, layerWrites } from "./reach";
import { carriesMask, type Tracks } from "./tie";

/**
 * A rectangle outside which no frame from `from` to `to` differs from the take, and nothing of the take is read: what all layers
 * that show read and write. Its sides lie on whole chroma samples. Empty when none shows.
 */
export function patchWindow(recipe: Recipe, from: number, to: number, width: number, height: number, tracks?: Tracks): Rect {
  const still = new Set<object>();
  let all = NOTHING;
  for (let n = from; n <= to; n++) {
    if (changesWhole(recipe, n)) return { x0: 0, y0: 0, x1: width, y1: height };
    for (const l of activeLayers(recipe, n)) {
      if (still.has(l)) continue;
      if (isPatch(l) && !carriesMask(l) && !changesInTime(maskOf(recipe, l))) still.add(l);
      all = union(all, layerReads(recipe, l, n, width, height, tracks));
    }
  }
  return all;
}

const NOTHING: Rect = { x0: 0, y0: 0, x1: 0, y1: 0 };

const layersOf = (r: Recipe) =>
  r.intruders.flatMap((i) => (i.on === false ? [] : i.layers.filter((l): l is PatchLayer | PaintLayer => isPatch(l) || isPaint(l))));

/**
 * The rectangle outside which frame `n` of two states of a recipe is the same, told by which parts are the same objects
 * (edits keep what they do not change). Null where more than single layers differ.
 */
export function changedWindow(before: Recipe, after: Recipe, n: number, width: number, height: number, tracks?: Tracks): Rect | null {
  if (before.plates !== after.plates || before.takes !== after.takes || before.tracks !== after.tracks || before.shot !== after.shot) return null;
  if (changesWhole(before, n) || changesWhole(after, n)) return null;
  const [old, now] = [layersOf(before), layersOf(after)];
  if (old.length !== now.length || old.some((l, i) => l.id !== now[i].id)) return null;
  const differ = (a: PatchLayer | PaintLayer, b: PatchLayer | PaintLayer) =>
    a !== b || (isPatch(a) && isPatch(b) && maskOf(before, a) !== maskOf(after, b));
  const writes = (i: number) => union(layerWrites(before, old[i], n, width, height, tracks), layerWrites(after, now[i], n, width, height, tracks));
  const changed = old.map((l, i) => differ(l, now[i]));
  let all = changed.reduce((r, c, i) => (c ? union(r, writes(i)) : r), NOTHING);
  // what changes below a layer may come up anywhere it writes, if it reads there; and a matched patch looks around other layers, also those above it
  for (let more = true; more;) {
    more = false;
    now.forEach((l, i) => {
      if (changed[i] || isEmpty(all) || !(isPaint(l) || isMatched(l))) return;
      if (isEmpty(intersect(all, layerReads(after, l, n, width, height, tracks)))) return;
      changed[i] = more = true;
      all = union(all, writes(i));
    });
  }
  return all;
}

/**
 * The recipe with only those patches that have a say in a rectangle at frame `n`; paint is kept, since it reads beyond what it lays, and
 * with patches that are matched all that lies around them.
 */
export function reachingInto(recipe: Recipe, n: number, rect: Rect, width: number, height: number, tracks?: Tracks): Recipe {
  const patches = recipe.intruders.flatMap((i) => i.layers.filter(isPatch));
  const reach = patches.map((l) => !isEmpty(intersect(rect, layerWrites(recipe, l, n, width, height, tracks))));
  for (let more = true; more;) {
    more = false;
    patches.forEach((l, i) => {
      if (!reach[i] || !isMatched(l)) return;
      const reads = layerReads(recipe, l, n, width, height, tracks);
      patches.forEach((o, k) => {
        if (reach[k] || isEmpty(intersect(reads, layerWrites(recipe, o, n, width, height)))) return;
        reach[k] = more = true;
      });
    });
  }
  const kept = new Set(patches.filter((_, i) => reach[i]));
  const intruders = recipe.intruders.map((i) => ({ ...i, layers: i.layers.filter((l) => !isPatch(l) || kept.has(l)) }));
  return { ...recipe, intruders };
}

/** Copies the samples of rectangle `rect` of `frame`, planes in order, to or from `bytes`. Its sides lie on whole chroma samples. */
function exchange(frame: Frame, rect: Rect, bytes: Uint8Array, into: boolean): void {
  const wide = frame.format.bits > 8 ? 2 : 1;
  let at = 0;
  frame.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(frame.format, p);
    const data = new Uint8Array(plane.data.buffer, plane.data.byteOffset, plane.data.byteLength);
    const row = ((rect.x1 - rect.x0) >> sx) * wide;
    for (let y = rect.y0 >> sy; y < rect.y1 >> sy; y++, at += row) {
      const from = (y * plane.width + (rect.x0 >> sx)) * wide;
      if (into) data.set(bytes.subarray(at, at + row), from);
      else bytes.set(data.subarray(from, from + row), at);
    }
  });
}

/** Copies the whole rows that a rectangle touches from one frame to another of its size and format. */
export function copyRows(from: Frame, to: Frame, rect: Rect): void {
  from.planes.forEach((plane, p) => {
    const { sy } = planeShift(from.format, p);
    const [a, b] = [(rect.y0 >> sy) * plane.width, Math.min(plane.height, (rect.y1 + sy) >> sy) * plane.width];
    to.planes[p].data.set(plane.data.subarray(a, b), a);
  });
}

/** Puts the samples of a window into a whole frame. */
export const putWindow = (frame: Frame, rect: Rect, bytes: Uint8Array) => exchange(frame, rect, bytes, true);

/** Takes the samples of a window out of a whole frame, into `bytes`. */
export const takeWindow = (frame: Frame, rect: Rect, bytes: Uint8Array) => exchange(frame, rect, bytes, false);

/** Whether a picture's window can be taken out sample by sample: no side lies within a chroma sample, no alpha. */
export const hasWindow = (width: number, height: number, f: PixelFormat) => !f.alpha && !(width & f.subX) && !(height & f.subY);
