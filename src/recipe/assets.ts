import type { Mask } from "../core/document/mask";
import { isEvenLight } from "../core/document/layer";
import { masksOf, type Recipe } from "../core/document/recipe";
import { layersOf } from "./query";

/** Hashes of all that was measured and a recipe names: facts of takes, tracks, grain, gains, cut-outs; each once. */
export function measuredOf(r: Recipe): string[] {
  const data = [
    ...Object.values(r.takes).map((t) => t.measured),
    ...Object.values(r.tracks ?? {}).map((t) => t.data),
    ...Object.values(r.profiles ?? {}).map((p) => p.data),
    ...layersOf(r).map((l) => (isEvenLight(l) ? l.data : undefined)),
    ...masksOf(r).flatMap((m) => m.shapes.map((s) => (s.kind === "cutout" ? s.data : undefined))),
  ];
  return [...new Set(data.filter((d) => d !== undefined))];
}

/** Hashes of the grain that patches of a recipe are to have, each once; of profiles that nothing uses, none. */
export function grainsOf(r: Recipe): string[] {
  const used = layersOf(r).flatMap((l) => (l.kind === "patch" && l.grain ? [l.grain.profile] : []));
  return [...new Set(used.flatMap((id) => r.profiles?.[id]?.data ?? []))];
}

/** Hashes of the light that layers go by which steady it or make it lively, each once; of those that are switched off, none. */
export function gainsOfLayers(r: Recipe): string[] {
  const used = layersOf(r).flatMap((l) => (isEvenLight(l) && l.on !== false && l.data !== undefined ? [l.data] : []));
  return [...new Set(used)];
}

/** Hashes of the tracks that patches of a recipe follow, each once; of those that nothing follows, none. */
export function tracksOf(r: Recipe): string[] {
  const used = layersOf(r).flatMap((l) => (l.kind === "patch" && l.tied ? [l.tied.mask, l.tied.to, l.tied.from] : []));
  return [...new Set(used.flatMap((id) => (id === undefined ? [] : (r.tracks?.[id]?.data ?? []))))];
}

/** Hashes of what is cut out for a recipe's masks, each once; of shapes that are switched off, none. */
export const cutoutsOf = (r: Recipe): string[] => cutoutsIn(masksOf(r));

/** The same of some masks. */
export function cutoutsIn(masks: readonly Mask[]): string[] {
  const shapes = masks.flatMap((m) => m.shapes);
  return [...new Set(shapes.flatMap((s) => (s.kind === "cutout" && s.on !== false ? [s.data] : [])))];
}

/** Ids of the takes and hashes of the pictures a stored recipe names, each once. */
export function assetsOf(r: Recipe): string[] {
  const of = (v: { asset?: string } | undefined) => (v?.asset === undefined ? [] : [v.asset]);
  return [
    ...new Set([
      ...Object.values(r.takes).flatMap(of),
      ...Object.values(r.plates).flatMap((p) => [...of(p.from), ...of(p.returned)]),
      ...masksOf(r).flatMap((m) => m.shapes.flatMap((s) => (s.kind === "picture" ? of(s) : []))),
    ]),
  ];
}
