import { NotSupportedYet, type Recipe } from "../document/recipe";
import type { Plate } from "../document/plate";
import type { Touch } from "../document/touch";
import type { SitingName } from "../pixels/colour";
import { copyFrame, type Frame } from "../pixels/frame";
import { broughtIntoLine, layPicture } from "../plate/line";
import { pictureKey } from "../plate/keys";
import { assertTouchRuns, touchSteps } from "./touch";

export type FrameRef = { take: string; frame: number };
/** What comes from a file: a frame of a take, or a picture that was brought in. */
export type FileRef = FrameRef | { picture: string };
/** A picture somebody has to fetch before a plate or a frame can be computed. */
export type PictureRef = FrameRef | { plate: string };

export const sameRef = (a: PictureRef | FileRef, b: PictureRef | FileRef) => keyOf(a) === keyOf(b);

/** Names a picture among all others of a recipe. */
export const keyOf = (r: PictureRef | FileRef) =>
  "plate" in r ? `plate/${r.plate}` : "picture" in r ? `picture/${r.picture}` : `${r.take}/${r.frame}`;

/** What a plate starts from: the frame it holds, or a picture that was brought in or is worked out from many frames. */
export function plateBase({ from }: Plate): FileRef {
  return from.take !== undefined && from.frame !== undefined ? { take: from.take, frame: from.frame } : { picture: pictureKey(from) };
}

/** The frame in whose place and light a plate is; null for a picture from elsewhere. */
export function heldFrame({ from }: Plate): FrameRef | null {
  if (from.take === undefined) return null;
  return { take: from.take, frame: from.frame ?? from.built?.at ?? from.built?.in ?? 0 };
}

/** The frame a touch's slip counts from, and whose take is meant when it names none; null on a picture from elsewhere. */
export type Home = FrameRef | null;

/** The picture a touch's source names. @throws where it counts from a frame and there is none. */
export function touchSourceRef(t: Touch, home: Home): PictureRef | null {
  if (!t.source || t.kind === "restore" || t.kind === "flat" || t.kind === "fill") return null;
  if (t.source.plate !== undefined) return { plate: t.source.plate };
  if (t.source.take !== undefined && t.source.frame !== undefined) return { take: t.source.take, frame: t.source.frame };
  if (!home) throw new NotSupportedYet("A frame as source on a picture from elsewhere");
  const frame = t.source.frame ?? (t.source.slip !== undefined ? Math.floor(home.frame + t.source.slip + 0.5) : home.frame);
  return { take: t.source.take ?? home.take, frame };
}

/** All pictures needed to compute a plate. @throws when plates need each other in a circle. */
export function platePictures(recipe: Recipe, id: string, path: string[] = []): FileRef[] {
  const plate = recipe.plates[id];
  if (!plate) throw new Error(`There is no plate “${id}” in the recipe.`);
  if (path.includes(id))
    throw new Error(`The plates ${[...path, id].map((p) => `“${p}”`).join(" → ")} need each other in a circle; change one touch's source.`);
  const out = [plateBase(plate)];
  const back = returnedPicture(plate);
  if (back) out.push(back);
  for (const t of touchesOn(plate)) {
    const ref = touchSourceRef(t, heldFrame(plate));
    if (!ref) continue;
    if ("plate" in ref) out.push(...platePictures(recipe, ref.plate, [...path, id]));
    else out.push(ref);
  }
  return out.filter((r, i) => out.findIndex((q) => sameRef(q, r)) === i);
}

/** Gives pictures that were loaded beforehand. */
export type Loaded = (ref: FileRef) => Frame;

/** What touches of a plate are laid with. */
export interface PlateDesk {
  recipe: Recipe;
  id: string;
  /** The plate's base, brought into line. */
  original: Frame;
  loaded: Loaded;
  siting: SitingName;
}

/** Lays touches of a plate over `work`, in place and in order; yields how far it is, 0–1, after each and within long ones. */
export function* touchesSteps(work: Frame, touches: readonly Touch[], { recipe, id, original, loaded, siting }: PlateDesk): Generator<number, void> {
  const home = heldFrame(recipe.plates[id]);
  for (const [i, t] of touches.entries()) {
    assertTouchRuns(t);
    const ref = touchSourceRef(t, home);
    const source = ref ? ("plate" in ref ? evaluatePlate(recipe, ref.plate, loaded, siting) : loaded(ref)) : undefined;
    const steps = touchSteps(work, t, { original, source, siting, seed: recipe.seed });
    for (let s = steps.next(); !s.done; s = steps.next()) yield (i + s.value) / touches.length;
    yield (i + 1) / touches.length;
  }
}

/** The touches of a plate that are switched on. */
export const touchesOn = (plate: Plate): Touch[] => plate.touches.filter((t) => t.on !== false);

/** The picture that came back from outside. */
export function returnedPicture({ returned }: Plate): { picture: string } | null {
  return returned ? { picture: pictureKey(returned) } : null;
}

/**
 * Computes a plate: its base, brought into line, its touches in order, and over them what came back from outside. `loaded`
 * answers what `platePictures` lists. With nothing done to it, the base itself is returned.
 */
export function evaluatePlate(recipe: Recipe, id: string, loaded: Loaded, siting: SitingName): Frame {
  const plate = recipe.plates[id];
  const original = plateStart(plate, loaded, siting);
  const touches = touchesOn(plate);
  if (touches.length === 0) return plateEnd(plate, original, original, loaded, siting);
  const work = copyFrame(original);
  for (const _ of touchesSteps(work, touches, { recipe, id, original, loaded, siting }));
  return plateEnd(plate, work, original, loaded, siting);
}

/** What the touches are laid on: the base, brought into line. */
export function plateStart(plate: Plate, loaded: Loaded, siting: SitingName): Frame {
  const base = loaded(plateBase(plate));
  return plate.from.line ? broughtIntoLine(base, plate.from.line, siting) : base;
}

/** Lays what came back from outside over the touched plate; `work` itself is changed unless it is the original. */
export function plateEnd(plate: Plate, work: Frame, original: Frame, loaded: Loaded, siting: SitingName): Frame {
  const ref = returnedPicture(plate);
  if (!ref) return work;
  const out = work === original ? copyFrame(original) : work;
  layPicture(out, loaded(ref), siting);
  return out;
}
