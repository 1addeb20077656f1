import type { Intruder, Recipe } from "../core/document/recipe";
import { type EvenLightLayer, isEvenLight, isLively, isPaint, isPatch, type PaintLayer, type PatchLayer } from "../core/document/layer";
import type { Layer } from "../core/document/layer";
import type { Mask } from "../core/document/mask";
import type { TakeRef } from "../core/document/take";
import type { Draft } from "./edits";

/*
 * Finding things in a recipe by their ids. Each works on a recipe and on a draft of one; what is found in a draft may be changed in place.
 */

/** Where layers are found. */
type Home = Pick<Recipe, "intruders">;
type DraftHome = Pick<Draft<Recipe>, "intruders">;

/** All layers, in the order in which they are laid. */
export function layersOf(r: DraftHome): Draft<Layer>[];
export function layersOf(r: Home): Layer[];
export function layersOf(r: Home): Layer[] {
  return r.intruders.flatMap((i) => i.layers);
}

export const patchesOf = (r: Home): PatchLayer[] => layersOf(r).filter(isPatch);
export const paintsOf = (r: Home): PaintLayer[] => layersOf(r).filter(isPaint);

/** An intruder by its id; null where there is none. */
export function intruderById(r: DraftHome, id: string): Draft<Intruder> | null;
export function intruderById(r: Home, id: string): Intruder | null;
export function intruderById(r: Home, id: string): Intruder | null {
  return r.intruders.find((i) => i.id === id) ?? null;
}

/** A layer of any kind by its id; null where there is none. */
export function layerById(r: DraftHome, id: string): Draft<Layer> | null;
export function layerById(r: Home, id: string): Layer | null;
export function layerById(r: Home, id: string): Layer | null {
  return layersOf(r).find((l) => l.id === id) ?? null;
}

/** A patch by its id; null where there is none, or where the layer is of another kind. */
export function patchById(r: DraftHome, id: string): Draft<PatchLayer> | null;
export function patchById(r: Home, id: string): PatchLayer | null;
export function patchById(r: Home, id: string): PatchLayer | null {
  const l = layerById(r, id);
  return l && isPatch(l) ? l : null;
}

/** A paint layer by its id; null where there is none, or where the layer is of another kind. */
export function paintById(r: DraftHome, id: string): Draft<PaintLayer> | null;
export function paintById(r: Home, id: string): PaintLayer | null;
export function paintById(r: Home, id: string): PaintLayer | null {
  const l = layerById(r, id);
  return l && isPaint(l) ? l : null;
}

/** The intruder that a layer belongs to. */
export function intruderOf(r: DraftHome, layer: string): Draft<Intruder> | null;
export function intruderOf(r: Home, layer: string): Intruder | null;
export function intruderOf(r: Home, layer: string): Intruder | null {
  return r.intruders.find((i) => i.layers.some((l) => l.id === layer)) ?? null;
}

/** What a layer is called: by its intruder. */
export const layerTitle = (r: Home, id: string): string => intruderOf(r, id)?.name ?? "patch";

/** The mask of a layer of a draft, to be changed; null where the shared one it names is missing. */
export function maskIn(d: Pick<Draft<Recipe>, "masks">, l: Pick<Draft<PatchLayer>, "mask">): Draft<Mask> | null {
  return "use" in l.mask ? (d.masks?.[l.mask.use] ?? null) : l.mask;
}

/** The patches of the intruders that are switched on. */
export const patchesOn = (r: Home): PatchLayer[] => patchesOf({ intruders: r.intruders.filter((i) => i.on !== false) });

/** The id of a take by the recipe's key. @throws Error of one that is named by its path, as only the command line's may be */
export function takeId(key: string, t: TakeRef): string {
  if (t.asset) return t.asset;
  throw new Error(`The take “${key}” is named by its path, and only the command line reads paths: bring the take in, and name it by its id.`);
}

/** The ids of the takes that a recipe names, and of the take of its shot. @throws Error as `takeId` */
export const takeIds = (r: Pick<Recipe, "takes">): string[] => Object.entries(r.takes).map(([key, t]) => takeId(key, t));
export const shotTakeId = (r: Pick<Recipe, "takes" | "shot">): string => takeId(r.shot.take, r.takes[r.shot.take]);

/** Whether an intruder is none, but the light of the whole shot. */
export const isOfLight = (i: Pick<Intruder, "layers" | "seen">): boolean => !i.seen && i.layers.length > 0 && i.layers.every(isEvenLight);

/** What is to go from a shot. */
export const thingsOf = (r: Home): Intruder[] => r.intruders.filter((i) => !isOfLight(i));

/** What is done to the flicker of a whole shot: the layers that steady it, and those that put it back. */
export function flickerLayers(r: Home): { steady: EvenLightLayer[]; lively: EvenLightLayer[] } {
  const all = layersOf(r)
    .filter(isEvenLight)
    .filter((l) => l.on !== false);
  return { steady: all.filter((l) => !isLively(l)), lively: all.filter(isLively) };
}

/** Whether a source shows frames of the shot's own take, on which the track is known as well. */
export function carriesFrom(recipe: Recipe, l: Pick<PatchLayer, "source">): boolean {
  const { plate, take } = l.source;
  if (plate === undefined) return (take ?? recipe.shot.take) === recipe.shot.take;
  const { from } = recipe.plates[plate];
  return from.take === recipe.shot.take && (from.frame !== undefined || from.built !== undefined);
}
