import type { PatchLayer } from "../../core/document";
import { isKeyed } from "../../core/time/keyed";
import type { Draft } from "../../recipe/edits";

type KeyList = { f: number }[];

/** Every keyed value within a layer, wherever it stands. */
function keyedValues(value: unknown, found: { keys: KeyList }[] = []): { keys: KeyList }[] {
  if (typeof value !== "object" || value === null) return found;
  if (isKeyed(value)) found.push(value as unknown as { keys: KeyList });
  else Object.values(value).forEach((v) => keyedValues(v, found));
  return found;
}

/** The frames at which a layer has keyframes, in order. */
export function keyframesOf(layer: PatchLayer): number[] {
  return [...new Set(keyedValues(layer).flatMap((k) => k.keys.map((x) => x.f)))].sort((a, b) => a - b);
}

/** Moves all keys at frame `from` to frame `to`; a key that stands there is replaced. */
export function moveKeys(layer: Draft<PatchLayer>, from: number, to: number): void {
  if (from === to) return;
  for (const k of keyedValues(layer)) {
    if (!k.keys.some((x) => x.f === from)) continue;
    k.keys = k.keys
      .filter((x) => x.f !== to)
      .map((x) => (x.f === from ? { ...x, f: to } : x))
      .sort((a, b) => a.f - b.f);
  }
}
