import { UserError } from "../user-error";
import { FINITE, type Range } from "../ranges";
import { easeAt, type Ease } from "./easing";

export interface Key<T> {
  /** Frame number of the take. */
  f: number;
  v: T;
  ease?: Ease;
}

/** A constant, or keys in rising order, one a frame. */
export type Keyed<T> = T | { keys: Key<T>[] };

/** Numbers, or lists (of lists) of numbers of the same shape. */
export type Value = number | readonly Value[];

export function isKeyed<T>(k: Keyed<T>): k is { keys: Key<T>[] } {
  return typeof k === "object" && k !== null && Object.hasOwn(k, "keys");
}

/** Whether a mask is another one from frame to frame: a value has more than one key, strokes are painted for some frames, or a thing is cut out. */
export function changesInTime(value: unknown): boolean {
  if (typeof value !== "object" || value === null) return false;
  if (isKeyed(value)) return value.keys.length > 1;
  if (Array.isArray(value)) return typeof value[0] === "object" && value.some(changesInTime);
  return "frames" in value || ("kind" in value && value.kind === "cutout") || Object.values(value).some(changesInTime);
}

/** Two neighbouring keyframes have values of different shapes. */
export class KeyShapeError extends UserError {
  constructor(message: string) {
    super("refused", message);
  }
}

/**
 * The value at frame `n`, every number of it within its field's range, which an ease may leave on its way from key to key. Before
 * the first and after the last key the value stays.
 * @throws KeyShapeError when two neighbouring keys have different numbers of points; it names both frames.
 */
export function valueAt<T extends Value>(k: Keyed<T>, n: number, range: Range = FINITE): T {
  if (!isKeyed(k)) return k;
  const { keys } = k;
  if (n <= keys[0].f) return keys[0].v;
  const last = keys[keys.length - 1];
  if (n >= last.f) return last.v;
  let i = 0;
  while (keys[i + 1].f <= n) i++;
  const a = keys[i];
  const b = keys[i + 1];
  const t = easeAt(a.ease ?? "linear", (n - a.f) / (b.f - a.f));
  const between = mix(a.v, b.v, t, a.f, b.f) as T;
  return t >= 0 && t <= 1 ? between : (clamped(between, range) as T);
}

const clamped = (v: Value, r: Range): Value => (typeof v === "number" ? Math.min(r.max, Math.max(r.min, v)) : v.map((x) => clamped(x, r)));

function mix(a: Value, b: Value, t: number, fa: number, fb: number): Value {
  if (typeof a === "number" && typeof b === "number") return t === 0 ? a : a + (b - a) * t;
  if (typeof a === "number" || typeof b === "number") throw new KeyShapeError(`The keys at frames ${fa} and ${fb} hold values of different kinds.`);
  if (a.length !== b.length) {
    // A corner point (two numbers) and a curve point (six) are the same point: arms of a corner are zero.
    const flat = a.every((v) => typeof v === "number") && b.every((v) => typeof v === "number");
    if (flat && Math.min(a.length, b.length) === 2 && Math.max(a.length, b.length) === 6) {
      const full = (p: readonly Value[]) => (p.length === 2 ? [...p, 0, 0, 0, 0] : p);
      return mix(full(a), full(b), t, fa, fb);
    }
    throw new KeyShapeError(`The outline has ${a.length} points at frame ${fa} and ${b.length} at frame ${fb}; both keys need the same number.`);
  }
  return a.map((v, i) => mix(v, b[i], t, fa, fb));
}

/** Sets the value at frame `n`: replaces or adds a key where there are keys, else replaces the constant. */
export function withValue<T>(k: Keyed<T>, n: number, v: T): Keyed<T> {
  if (!isKeyed(k)) return v;
  const kept = k.keys.filter((x) => x.f !== n);
  const old = k.keys.find((x) => x.f === n);
  return { keys: [...kept, { ...old, f: n, v }].sort((a, b) => a.f - b.f) };
}

/** Changes every value: the constant, or each key's. */
export const mapValues = <T>(k: Keyed<T>, change: (v: T) => T): Keyed<T> =>
  isKeyed(k) ? { keys: k.keys.map((x) => ({ ...x, v: change(x.v) })) } : change(k);

/** Turns a constant into a key at `n`, or adds one there holding the present value. */
export function withKey<T extends Value>(k: Keyed<T>, n: number, range: Range = FINITE): Keyed<T> {
  if (!isKeyed(k)) return { keys: [{ f: n, v: k }] };
  return withValue(k, n, valueAt(k, n, range));
}

/** Removes the key at `n`; the last key leaves its value as a constant. */
export function withoutKey<T>(k: Keyed<T>, n: number): Keyed<T> {
  if (!isKeyed(k)) return k;
  const kept = k.keys.filter((x) => x.f !== n);
  return kept.length ? { keys: kept } : k.keys[0].v;
}
