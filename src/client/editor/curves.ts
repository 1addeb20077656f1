import type { PatchLayer } from "../../core/document/layer";
import type { Recipe } from "../../core/document/recipe";
import { isKeyed, type Keyed, type Value, valueAt } from "../../core/time/keyed";
import type { Draft } from "../../recipe/edits";
import { fieldOf, keysIn, setField } from "../../recipe/fields";
import { patchById } from "../../recipe/query";
import { holderOf } from "./keyframes";
import { isDrawn, shapeName } from "./shapes";
import { maskOf } from "../../core/document/recipe";

/** A value of a layer that can be keyed: how it is called, and how it is set. */
export interface Curve {
  id: string;
  label: string;
  value: Keyed<Value>;
  /** Units of the screen for one of the recipe. */
  factor: number;
  unit: string;
  path: (string | number)[];
  /** Range of the value in the recipe. */
  range: [number, number];
}

/** The values of a layer that a curve can be drawn of; shapes have one by their progress from key to key. */
export function curvesOf(r: Pick<Recipe, "masks">, l: PatchLayer): Curve[] {
  const wide: [number, number] = [-1e5, 1e5];
  const one = (label: string, path: (string | number)[], value: Keyed<Value>, unit: string, range: [number, number] = wide, factor = 1): Curve => ({
    id: path.join("."), label, value, factor, unit, path, range,
  }); // prettier-ignore
  const p = l.place ?? {};
  const mask = maskOf(r, l);
  return [
    one("Opacity", ["opacity"], l.opacity ?? 1, "%", [0, 1], 100),
    ...(l.source.slip !== undefined ? [one("Slip", ["source", "slip"], l.source.slip, "f")] : []),
    one("Across", ["place", "x"], p.x ?? 0, "px"),
    one("Down", ["place", "y"], p.y ?? 0, "px"),
    one("Size", ["place", "scale"], p.scale ?? 1, "%", [0.01, 100], 100),
    one("Turn", ["place", "angle"], p.angle ?? 0, "°"),
    one("Feather", ["mask", "feather"], mask.feather ?? 0, "px", [0, 10_000]),
    one("Grow", ["mask", "grow"], mask.grow ?? 0, "px"),
    ...mask.shapes.flatMap((s, i) => {
      if (!isDrawn(s)) return [];
      const field = s.kind === "path" ? "points" : "center";
      const name = shapeName(s, i);
      const edges = (["feather", "grow"] as const).flatMap((f) => (s[f] !== undefined ? [one(`${name}: ${f}`, ["mask", "shapes", i, f], s[f], "px", f === "feather" ? [0, 10_000] : wide)] : [])); // prettier-ignore
      const v = s.kind === "path" ? s.points : s.center;
      return [...(isKeyed<Value>(v as Keyed<Value>) ? [one(`${name}: way`, ["mask", "shapes", i, field], v as Keyed<Value>, "")] : []), ...edges];
    }),
  ];
}

/** Whether a curve is of a number, not of a shape's way from key to key. */
export const isNumber = (c: Curve): boolean => typeof valueAt(c.value, 0) === "number";

/** What is drawn of a value at a frame: the number itself, or how many keys of a shape lie behind. */
export function drawnValue(c: Curve, n: number): number {
  if (isNumber(c)) return (valueAt(c.value, n) as number) * c.factor;
  if (!isKeyed(c.value)) return 0;
  const { keys } = c.value;
  const steps: Keyed<number> = { keys: keys.map((k, i) => ({ ...k, v: i })) };
  return valueAt(steps, n);
}

/** Puts a value into a layer of a draft; a shape's other places that have keys at the same frames keep step with it. */
export function putCurve(d: Draft<Recipe>, layer: string, c: Curve, value: Keyed<Value>): void {
  const l = patchById(d, layer);
  const holder = l && !l.locked ? holderOf(d, l, c.path) : null;
  if (!holder) return;
  const field = c.path.at(-1)!;
  // what is read is kept: the draft is changed in place
  const old = keysIn(fieldOf(holder, field))?.map((k) => k.f) ?? [];
  setField(holder, field, value);
  if (field !== "center" || !isKeyed(value) || value.keys.length !== old.length) return;
  // size and turn of an oval or box go with its middle
  for (const f of ["radii", "size", "angle"]) {
    const keys = keysIn(fieldOf(holder, f));
    if (!keys || keys.length !== old.length || keys.some((k, i) => k.f !== old[i])) continue;
    setField(holder, f, { keys: keys.map((k, i) => ({ ...k, f: value.keys[i].f, ease: value.keys[i].ease })) });
  }
}
