import type { Recipe } from "../../core/document";
import type { Frame, PixelFormat } from "../../core/pixels/frame";
import type { Colour } from "../../core/pixels/colour";
import { stillFrame, stillValues, type Still, type Values } from "../../core/pixels/still";
import type { MaskPictures } from "../../core/shape/mask";

/** Pictures a recipe brings in, by the path it gives them. */
export type Stills = ReadonlyMap<string, Still>;

/** The paths of all pictures a recipe brings in, for plates and for masks. */
export function picturePaths(recipe: Recipe): string[] {
  const layers = recipe.intruders.flatMap((i) => i.layers);
  const masks = [...Object.values(recipe.masks ?? {}), ...layers.flatMap((l) => (l.kind === "patch" && !("use" in l.mask) ? [l.mask] : []))];
  const shapes = masks.flatMap((m) => m.shapes).flatMap((s) => (s.kind === "picture" && s.path ? [s.path] : []));
  const plates = Object.values(recipe.plates).flatMap((p) => p.from.path ?? []);
  return [...new Set([...plates, ...shapes])];
}

/** The brought-in pictures on the planes of a take, and as masks; each is worked out once. */
export function pictureDesk(stills: Stills, format: PixelFormat, colour: Colour) {
  const frames = new Map<string, Frame>();
  const values = new Map<string, Values>();
  const once = <T>(kept: Map<string, T>, key: string, make: () => T): T => {
    if (!kept.has(key)) kept.set(key, make());
    return kept.get(key)!;
  };
  const still = (name: string): Still => {
    const s = stills.get(name);
    if (!s) throw new Error(`The picture “${name}” is missing; bring it in again.`);
    return s;
  };
  const masks: MaskPictures = ({ path, asset, use }) => {
    const name = (path ?? asset)!;
    return once(values, `${use}/${name}`, () => stillValues(still(name), use, colour.matrix, name));
  };
  return { frame: (name: string) => once(frames, name, () => stillFrame(still(name), format, colour)), masks };
}
