import type { PatchLayer } from "../../core/document/layer";
import type { Recipe } from "../../core/document/recipe";
import { patchesOf } from "../../recipe/query";

export type SourceKind = "plate" | "hold" | "slip" | "stretch" | "beside";

/** What kind of picture a patch shows. */
export function sourceKind({ source: s }: PatchLayer): SourceKind {
  if (s.plate !== undefined) return "plate";
  if (s.hold !== undefined) return "hold";
  if (s.from !== undefined) return "stretch";
  return s.slip !== undefined ? "slip" : "beside";
}

/** The plate the topmost patch uses, else the newest plate. */
export function lastPlateUsed(r: Recipe): string | null {
  const used = patchesOf(r)
    .map((l) => l.source.plate)
    .filter((p) => p !== undefined);
  return used.at(-1) ?? Object.keys(r.plates).at(-1) ?? null;
}
