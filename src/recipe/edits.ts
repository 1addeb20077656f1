import { applyPatches, castDraft, type Draft, enablePatches, type Patch, produceWithPatches } from "immer";
import type { Recipe } from "../core/document/recipe";

enablePatches();

export type { Patch };

/** A change of the recipe as data: patches, and the patches that take it back. */
export interface Change {
  /** What changes, in order. */
  patches: Patch[];
  /** What takes it back, in order. */
  inverse: Patch[];
}

/** A recipe whose fields may be changed in place, for the time of one edit. */
export type { Draft };

/** Runs `change` on a draft; returns the next recipe with its patches. No patches mean that nothing changed. */
export function edit(recipe: Recipe, change: (draft: Draft<Recipe>) => void): { recipe: Recipe } & Change {
  const [next, patches, inverse] = produceWithPatches(recipe, change);
  return { recipe: next, patches, inverse };
}

/** What takes patches back from the recipe they are put on, here and now. @throws when they do not fit it */
export const inverseOn = (recipe: Recipe, patches: Patch[]): Patch[] => produceWithPatches(recipe, (d) => void applyPatches(d, patches))[2];

/**
 * Puts patches on a recipe that may come from anywhere: each is checked before it is applied, so that no list gets longer than what is
 * put into it. (A list's `length` may be named to cut it, which is how an edit says so.) What they do not touch stays the very same
 * objects; of what they lead through each is copied once.
 * @throws when one does not fit where the ones before have led
 */
export function applyChecked(recipe: Recipe, patches: Patch[]): Recipe {
  const own = new Set<unknown>();
  let root: unknown = recipe;
  const copied = (v: Container): Container => {
    if (own.has(v)) return v;
    const copy = Array.isArray(v) ? [...(v as unknown[])] : { ...v };
    own.add(copy);
    return copy as Container;
  };
  for (const p of patches) {
    assertFits(root, p);
    if (!p.path.length) {
      root = p.value;
      continue;
    }
    const top = copied(root as Container);
    root = top;
    let at = top;
    for (const key of p.path.slice(0, -1)) at = at[key] = copied(at[key] as Container);
    put(at, p);
  }
  return root as Recipe;
}

type Container = Record<string | number, unknown>;

/** One patch, where it leads. */
function put(at: Container, { op, path, value }: Patch): void {
  const key = path.at(-1)!;
  if (!Array.isArray(at)) {
    if (op === "remove") delete at[key];
    else at[key] = value;
  } else if (key === "length") at.length = value as number;
  else if (op === "remove") at.splice(Number(key), 1);
  else if (op === "add") at.splice(Number(key), 0, value);
  else at[Number(key)] = value;
}

/** @throws RangeError where a patch leads nowhere, or beyond a list */
function assertFits(root: unknown, { op, path, value }: Patch): void {
  let at: unknown = root;
  path.forEach((key, i) => {
    const last = i === path.length - 1;
    if (typeof at !== "object" || at === null) throw new RangeError("There is no such part.");
    if (Array.isArray(at)) {
      const count = at.length;
      const most = last && op === "add" ? count : count - 1;
      const place = typeof key === "number" || /^\d+$/.test(key) ? Number(key) : NaN;
      const cut =
        last && key === "length" && op === "replace" && typeof value === "number" && Number.isInteger(value) && value >= 0 && value <= count;
      if (!cut && !(place >= 0 && place <= most)) throw new RangeError("There is no such place in the list.");
    } else if (!last && !Object.hasOwn(at, key)) throw new RangeError("There is no such part.");
    at = (at as Record<string | number, unknown>)[key];
  });
}

export const apply = (recipe: Recipe, patches: Patch[]): Recipe => applyPatches(recipe, patches) as Recipe;

/** Whether two changes leave each other alone: no path of one begins with a path of the other. */
export function disjoint(a: Patch[], b: Patch[]): boolean {
  const within = (p: Patch["path"], q: Patch["path"]) => p.every((k, i) => String(k) === String(q[i]));
  // a list's entries move when one is put in or taken out before them
  const reach = (p: Patch) =>
    p.op !== "replace" && typeof p.path.at(-1) === "number" ? p.path.slice(0, -1) : p.path.at(-1) === "length" ? p.path.slice(0, -1) : p.path;
  return !a.some((x) => b.some((y) => within(reach(x), reach(y)) || within(reach(y), reach(x))));
}

/** One line of a document's history. */
export interface Revision {
  /** Its number, from 1. */
  rev: number;
  /** What was done. */
  name: string;
  /** A gesture, a step back or on, or something the program found out. */
  kind: "edit" | "undo" | "redo" | "fact";
  /** The revision that an undo takes back or a redo brings again. */
  of: number | null;
}

/** What can be undone and redone, newest last, from the history alone; so both survive a restart. A step more costs the same however many went before. */
export class Stacks {
  readonly undo: Revision[] = [];
  redo: Revision[] = [];

  /** The next line of the history. */
  add(r: Revision): void {
    if (r.kind === "fact") return; // nobody's gesture
    if (r.kind === "edit") {
      this.undo.push(r);
      this.redo = [];
      return;
    }
    const [from, to] = r.kind === "undo" ? [this.undo, this.redo] : [this.redo, this.undo];
    const at = from.findLastIndex((x) => x.rev === r.of);
    if (at >= 0) to.push(...from.splice(at, 1));
  }
}

/** The stacks of a whole history, oldest line first. */
export function stacks(history: readonly Revision[]): Stacks {
  const all = new Stacks();
  history.forEach((r) => all.add(r));
  return all;
}

/** An immutable value as it is put into a draft: the draft takes it over, and nobody changes it in place before it is put. */
export const asDraft = castDraft;
