import { masksOf, type Recipe } from "../core/document/recipe";

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
