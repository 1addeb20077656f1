import type { PatchLayer } from "../../core/document/layer";
import type { Recipe } from "../../core/document/recipe";
import type { Ease } from "../../core/time/easing";
import type { Key } from "../../core/time/keyed";
import type { Draft } from "../../recipe/edits";
import { fieldOf, isObject, keysIn, setField } from "../../recipe/fields";
import { maskIn, patchById } from "../../recipe/query";
import { maskOf } from "../../core/document/recipe";

/** A list of keys within a layer, and the fields that lead to it. */
interface Track {
  path: (string | number)[];
  keys: Key<unknown>[];
}

/** Every keyed value within `value`, wherever it stands. */
function tracksIn(value: unknown, path: (string | number)[] = [], found: Track[] = []): Track[] {
  const keys = keysIn(value);
  if (!isObject(value)) return found;
  if (keys) found.push({ path, keys });
  else if (!Array.isArray(value) || typeof value[0] === "object")
    for (const [k, v] of Object.entries(value)) tracksIn(v, [...path, Array.isArray(value) ? Number(k) : k], found);
  return found;
}

/** All keyed values of a layer, with those of a mask it shares. */
export function tracksOf(r: Pick<Recipe, "masks">, l: PatchLayer): Track[] {
  return tracksIn({ ...l, mask: maskOf(r, l) });
}

/** The frames at which a layer has keyframes, in order. */
export function keyframesOf(r: Pick<Recipe, "masks">, l: PatchLayer): number[] {
  return [...new Set(tracksOf(r, l).flatMap((t) => t.keys.map((k) => k.f)))].sort((a, b) => a - b);
}

/** The same within a draft, to be changed. */
function draftTracks(d: Draft<Recipe>, id: string): Track[] {
  const l = patchById(d, id);
  if (!l) return [];
  const own = tracksIn(l);
  return "use" in l.mask ? [...own, ...tracksIn(maskIn(d, l), ["mask"])] : own;
}

const put = (t: Track, keys: Key<unknown>[]) => t.keys.splice(0, t.keys.length, ...keys.sort((a, b) => a.f - b.f));

/** Moves the keys of a layer that stand at `frames` by `by`; one that stands where another comes to is replaced. */
export function moveKeys(d: Draft<Recipe>, layer: string, frames: readonly number[], by: number): void {
  const chosen = new Set(frames);
  for (const t of draftTracks(d, layer)) {
    const moved = t.keys.filter((k) => chosen.has(k.f)).map((k) => ({ ...k, f: Math.max(0, k.f + by) }));
    if (!moved.length) continue;
    const taken = new Set(moved.map((k) => k.f));
    put(t, [...t.keys.filter((k) => !chosen.has(k.f) && !taken.has(k.f)), ...moved]);
  }
}

/** Takes the keys at `frames` out; the last key of a value leaves it as a constant. */
export function removeKeys(d: Draft<Recipe>, layer: string, frames: readonly number[]): void {
  const chosen = new Set(frames);
  const l = patchById(d, layer);
  if (!l) return;
  const strip = (holder: object) => {
    for (const [k, v] of Object.entries(holder)) {
      const keys = keysIn(v);
      if (keys) {
        const kept = keys.filter((x) => !chosen.has(x.f));
        if (kept.length) put({ path: [], keys }, kept);
        else setField(holder, k, keys[0].v);
      } else if (isObject(v)) strip(v);
    }
  };
  strip(l);
  if ("use" in l.mask) strip(maskIn(d, l) ?? {});
}

/** Sets how the keys at `frames` are left. */
export function easeKeys(d: Draft<Recipe>, layer: string, frames: readonly number[], ease: Ease): void {
  for (const t of draftTracks(d, layer)) for (const k of t.keys) if (frames.includes(k.f)) k.ease = ease;
}

/** What holds the value that `path` leads to, within a layer of a draft and the mask it shares; a place that is not there yet is made. */
export function holderOf(d: Draft<Recipe>, l: Draft<PatchLayer>, path: readonly (string | number)[]): object | null {
  let holder: object = l;
  for (const k of path.slice(0, -1)) {
    if (k === "place" && !isObject(fieldOf(holder, k))) setField(holder, k, {});
    const next = k === "mask" && holder === l ? maskIn(d, l) : fieldOf(holder, k);
    if (!isObject(next)) return null;
    holder = next;
  }
  return holder;
}

/** Keys copied from a layer, by the values they belong to; frames count from the first. */
export type CopiedKeys = { path: (string | number)[]; keys: Key<unknown>[] }[];

export function copyKeys(r: Pick<Recipe, "masks">, l: PatchLayer, frames: readonly number[]): CopiedKeys {
  const first = Math.min(...frames);
  return tracksOf(r, l).flatMap((t) => {
    const keys = t.keys.filter((k) => frames.includes(k.f)).map((k) => ({ ...k, f: k.f - first }));
    return keys.length ? [{ path: t.path, keys }] : [];
  });
}

/**
 * Puts copied keys in from frame `at` on, where the layer has the values they belong to (an outline only with as many points).
 * @returns how many values took keys
 */
export function pasteKeys(d: Draft<Recipe>, layer: string, copied: CopiedKeys, at: number): number {
  const l = patchById(d, layer);
  if (!l) return 0;
  let took = 0;
  for (const { path, keys } of copied) {
    const holder = holderOf(d, l, path);
    const field = path.at(-1)!;
    if (!holder || (path.includes("shapes") && fieldOf(holder, field) === undefined)) continue;
    const now = fieldOf(holder, field);
    const had = keysIn(now);
    const like = had ? had[0].v : now;
    if (Array.isArray(like) && Array.isArray(keys[0].v) && like.length !== keys[0].v.length) continue;
    const fresh = keys.map((k) => ({ ...k, f: k.f + at }));
    const taken = new Set(fresh.map((k) => k.f));
    const old = had?.filter((k) => !taken.has(k.f)) ?? [];
    setField(holder, field, { keys: [...old, ...fresh].sort((a, b) => a.f - b.f) });
    took++;
  }
  return took;
}
