import { isKeyed, type Key } from "../core/time/keyed";

/*
 * Values that are reached by names known only while the program runs: a curve's, a copied keyframe's. What is written so is checked
 * with the whole recipe when it is stored.
 */

export const fieldOf = (holder: object, name: PropertyKey): unknown => Reflect.get(holder, name);
export const setField = (holder: object, name: PropertyKey, value: unknown): void => void Reflect.set(holder, name, value);
export const isObject = (v: unknown): v is object => typeof v === "object" && v !== null;

/** The keys of a value; null of one that is no keyed value. */
export const keysIn = (v: unknown): Key<unknown>[] | null => (isObject(v) && isKeyed<unknown>(v) ? v.keys : null);
