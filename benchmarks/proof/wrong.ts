import type { PatchLayer } from "../../src/core/document/layer";
import { maskOf, type Recipe } from "../../src/core/document/recipe";
import type { FindingKind } from "../../src/core/proof/finding";
import { shapePolygon } from "../../src/core/shape/polygon";

/** A recipe that is wrong in one way, and as what that has to be found; of a right one, nothing. */
export interface Case {
  name: string;
  recipe: Recipe;
  /** Any of these says it. */
  kinds: FindingKind[];
}

type Change = (l: PatchLayer, r: Recipe) => PatchLayer | null;

const changed = (recipe: Recipe, change: Change): Recipe | null => {
  const out = structuredClone(recipe);
  let any = false;
  for (const i of out.intruders)
    i.layers = i.layers.map((l) => {
      if (l.kind !== "patch") return l;
      const next = change(l, out);
      any ||= next !== null;
      return next ?? l;
    });
  return any ? out : null;
};

const grownBy = (l: PatchLayer, r: Recipe, by: number): PatchLayer => {
  const mask = maskOf(r, l);
  return { ...l, mask: { ...mask, grow: ((mask.grow as number | undefined) ?? 0) + by } };
};

/** The patch's held frame as a plate in another light or place: read from the same film under another name. */
const heldOtherwise = (l: PatchLayer, r: Recipe, line: { x: number; y: number; light: [number, number][] }): PatchLayer | null => {
  if (l.source.hold === undefined) return null;
  r.takes.other = { ...r.takes[l.source.take!] };
  r.plates.wrong = { from: { take: "other", frame: l.source.hold, line: { scale: 1, angle: 0, ...line } }, touches: [] };
  return { ...l, source: { plate: "wrong" } };
};

const unmatched = ({ light: _, ...l }: PatchLayer): PatchLayer => l;

/**
 * A good recipe and what goes wrong by hand: the same patch with one thing changed.
 * @param room by how many pixels its mask is wider than the thing @param tight first and last frame in which the thing is seen
 * @param full whether codes run from 0
 */
export function casesOf(good: Recipe, room: number, tight: { in: number; out: number }, full: boolean): Case[] {
  const pivot = full ? 0 : 16;
  const out: Case[] = [{ name: "good", recipe: good, kinds: [] }];
  const add = (name: string, kinds: FindingKind[], change: Change) => {
    const recipe = changed(good, change);
    if (recipe) out.push({ name, kinds, recipe });
  };
  for (const by of [1, 3]) {
    add(`late by ${by}`, ["leak"], (l) => ({ ...l, in: tight.in + by }));
    add(`early by ${by}`, ["leak"], (l) => ({ ...l, out: tight.out - by }));
  }
  for (const by of [4, 8]) add(`too small by ${by}`, ["leak"], (l, r) => grownBy(l, r, -room - by));
  add("mask misplaced", ["leak"], (l, r) => {
    const mask = maskOf(r, l);
    const shapes = mask.shapes.map((s) => {
      if (s.kind !== "path") return s;
      const flat = shapePolygon(s, Math.round((l.in + l.out) / 2));
      return { ...s, points: Array.from({ length: flat.length / 2 }, (_, i): [number, number] => [flat[2 * i] + 24, flat[2 * i + 1] + 4]) };
    });
    return { ...l, mask: { ...mask, shapes } };
  });
  for (const gain of [0.97, 1.03]) {
    const offset = pivot * (1 - gain);
    add(`light × ${gain}`, ["seam", "runaway-light"], (l, r) =>
      heldOtherwise(unmatched(l), r, { x: 0, y: 0, light: [[gain, offset], [1, 0], [1, 0]] })); // prettier-ignore
  }
  for (const [x, y] of [[0.5, 0], [2, 1]] as const)
    add(`picture off by ${x}, ${y}`, ["drift"], (l, r) => heldOtherwise(l, r, { x, y, light: [[1, 0], [1, 0], [1, 0]] })); // prettier-ignore
  add("no grain", ["dead-grain"], (l) => (l.grain ? { ...l, grain: undefined } : null));
  add("grain doubled", ["dead-grain"], (l) => (l.grain ? { ...l, grain: { ...l.grain, strength: 2 } } : null));
  add("picture shows the thing", ["leak"], (l) =>
    l.source.hold === undefined ? null : { ...l, source: { ...l.source, hold: Math.round((tight.in + tight.out) / 2) } as PatchLayer["source"] },
  );
  return out;
}
