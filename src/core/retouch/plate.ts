import { NotSupportedYet, type Plate, type Recipe, type Touch } from "../document";
import type { SitingName } from "../pixels/colour";
import { copyFrame, type Frame } from "../pixels/frame";
import { applyTouch } from "./touch";

/** A picture somebody has to fetch before a plate or a frame can be computed. */
export type PictureRef = { take: string; frame: number } | { plate: string };

export const sameRef = (a: PictureRef, b: PictureRef) =>
  "plate" in a ? "plate" in b && a.plate === b.plate : !("plate" in b) && a.take === b.take && a.frame === b.frame;

/** The frame a plate was held from. @throws NotSupportedYet for plates brought in as pictures. */
export function plateBase(id: string, plate: Plate): { take: string; frame: number } {
  const { take, frame } = plate.from;
  if (take === undefined || frame === undefined) throw new NotSupportedYet(`A picture as plate (“${plate.name || id}”)`);
  return { take, frame };
}

/** The picture a touch's source names; a slip counts from the frame the plate holds. */
export function touchSourceRef(t: Touch, id: string, plate: Plate): PictureRef | null {
  if (!t.source || t.kind === "restore") return null;
  if (t.source.plate !== undefined) return { plate: t.source.plate };
  const base = plateBase(id, plate);
  const frame = t.source.frame ?? (t.source.slip !== undefined ? Math.floor(base.frame + t.source.slip + 0.5) : base.frame);
  return { take: t.source.take ?? base.take, frame };
}

/** All pictures needed to compute a plate. @throws when plates need each other in a circle. */
export function platePictures(recipe: Recipe, id: string, path: string[] = []): { take: string; frame: number }[] {
  const plate = recipe.plates[id];
  if (!plate) throw new Error(`There is no plate “${id}” in the recipe.`);
  if (path.includes(id))
    throw new Error(`The plates ${[...path, id].map((p) => `“${p}”`).join(" → ")} need each other in a circle; change one touch's source.`);
  const out = [plateBase(id, plate)];
  for (const t of touchesOn(plate)) {
    const ref = touchSourceRef(t, id, plate);
    if (!ref) continue;
    if ("plate" in ref) out.push(...platePictures(recipe, ref.plate, [...path, id]));
    else out.push(ref);
  }
  return out.filter((r, i) => out.findIndex((q) => sameRef(q, r)) === i);
}

/** Gives frames of takes that were loaded beforehand. */
type TakeFrames = (take: string, frame: number) => Frame;

/** Lays touches of a plate over `work`, in place and in order; `original` is the plate's held frame. */
export function applyTouches(
  work: Frame,
  original: Frame,
  touches: readonly Touch[],
  recipe: Recipe,
  id: string,
  take: TakeFrames,
  siting: SitingName,
): void {
  for (const t of touches) {
    const ref = touchSourceRef(t, id, recipe.plates[id]);
    const source = ref ? ("plate" in ref ? evaluatePlate(recipe, ref.plate, take, siting) : take(ref.take, ref.frame)) : undefined;
    applyTouch(work, t, { original, source, siting });
  }
}

/** The touches of a plate that are switched on. */
export const touchesOn = (plate: Plate): Touch[] => plate.touches.filter((t) => t.on !== false);

/**
 * Computes a plate: its held frame with its touches in order. `take` answers frames listed by `platePictures`.
 * With no touch on, the held frame itself is returned.
 */
export function evaluatePlate(recipe: Recipe, id: string, take: TakeFrames, siting: SitingName): Frame {
  const plate = recipe.plates[id];
  const base = plateBase(id, plate);
  const original = take(base.take, base.frame);
  const touches = touchesOn(plate);
  if (touches.length === 0) return original;
  const work = copyFrame(original);
  applyTouches(work, original, touches, recipe, id, take, siting);
  return work;
}
