import { createHash } from "node:crypto";
import { maskAt } from "../../../core/compose/tie";
import { isPatch, type Layer, type PatchLayer } from "../../../core/document/layer";
import { outputOf, type Recipe } from "../../../core/document/recipe";
import { canonical } from "../../../core/plate/keys";
import { intersect, isEmpty, type Rect, union } from "../../../core/pixels/frame";
import { maskBounds } from "../../../core/shape/mask";

/** Counts up when a patch is measured otherwise than before. */
const METHOD = 1;
/** Pixels beyond its mask from which a patch takes light, edge and chroma. */
const READS = 32;

/** All that a patch's mask reaches in the frames that are written. */
export function reachOf(
  recipe: Recipe,
  l: PatchLayer,
  range: { in: number; out: number },
  { width, height }: { width: number; height: number },
  tracks: Parameters<typeof maskAt>[3],
): Rect {
  let all: Rect = { x0: 0, y0: 0, x1: 0, y1: 0 };
  for (let n = Math.max(l.in, range.in); n <= Math.min(l.out, range.out); n++)
    all = union(all, maskBounds(maskAt(recipe, l, n, tracks), n, width, height));
  return all;
}

const grown = (r: Rect): Rect => ({ x0: r.x0 - READS, y0: r.y0 - READS, x1: r.x1 + READS, y1: r.y1 + READS });
const meet = (a: Rect, b: Rect) => !isEmpty(intersect(a, b));

/** A patch that is laid, with the intruder it takes away, and all that its mask reaches. */
export interface Laid {
  intruder: string;
  layer: PatchLayer;
  rect: Rect;
}

/** The patches that reach into a rectangle. */
export const reaching = (rect: Rect, all: readonly Laid[]): Laid[] => all.filter((l) => meet(l.rect, rect));

/**
 * A hash of all that a patch's verdict comes from: of the recipe the patch, those of its intruder, those whose pixels may become a part of
 * what is looked at around it, from one to the next, and what they name.
 * @param around where the patch is looked at @param takes what its takes are
 */
export function verdictKey(recipe: Recipe, patch: Laid, around: Rect, all: readonly Laid[], takes: Readonly<Record<string, string>>): string {
  const near = new Set(all.filter((l) => l.intruder === patch.intruder || meet(l.rect, around)));
  for (let grew = true; grew;) {
    grew = false;
    for (const l of all)
      if (!near.has(l) && [...near].some((n) => meet(grown(n.rect), l.rect))) {
        near.add(l);
        grew = true;
      }
  }
  const ids = new Set([...near].map((l) => l.layer.id));
  const counts = (l: Layer) => !isPatch(l) || ids.has(l.id);
  const layers = recipe.intruders
    .filter((i) => i.on !== false)
    .flatMap((i) => i.layers.filter((l) => l.on !== false && counts(l)))
    .map(({ name: _, locked: __, ...l }) => l);
  const { plates, masks = {}, tracks = {}, profiles = {}, shot, seed } = recipe;
  const named = namedBy(layers, [plates, masks, tracks, profiles]);
  const of = { METHOD, patch: patch.layer.id, layers, named, shot, seed, output: outputOf(recipe), takes, refs: recipe.takes };
  return createHash("sha256").update(canonical(of)).digest("hex");
}

/** What is named in a part of a recipe, and by what is named there. A text that is a name by chance does no harm. */
function namedBy(part: unknown, books: readonly Readonly<Record<string, unknown>>[]): Record<string, unknown>[] {
  const out = books.map((): Record<string, unknown> => ({}));
  const visit = (v: unknown): void => {
    if (typeof v === "string")
      books.forEach((book, i) => {
        if (!Object.hasOwn(book, v) || Object.hasOwn(out[i], v)) return;
        out[i][v] = book[v];
        visit(book[v]);
      });
    else if (v && typeof v === "object") Object.values(v).forEach(visit);
  };
  visit(part);
  return out;
}
