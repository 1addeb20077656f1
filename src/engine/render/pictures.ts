import { masksOf, type Recipe } from "../../core/document/recipe";
import type { Grains } from "../../core/compose/compose";
import type { GainsByHash } from "../../core/compose/evenlight";
import type { Cutouts } from "../../core/cutout/cutout-data";
import type { Tracks } from "../../core/compose/tie";
import type { Plate } from "../../core/document/plate";
import { plainFrame } from "../../core/plate/colour";
import { pictureKey, pictureSpec } from "../../core/plate/keys";
import type { Colour } from "../../core/pixels/colour";
import { type Frame, frameFromBytes, type PixelFormat } from "../../core/pixels/frame";
import { stillFrame, stillValues, type Still, type Values } from "../../core/pixels/still";
import type { MaskPictures } from "../../core/shape/picture";
import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import { BUILT_PICTURE, type DataPaths } from "../paths";
import { MediaError } from "../media/media-error";
import { readPicture } from "../media/picture";

/** Pictures a recipe uses that are no frames, by their keys: brought in, or worked out before. */
export interface Pictures {
  stills: ReadonlyMap<string, Still>;
  frames: ReadonlyMap<string, Frame>;
  /** The grain that patches are to have, by what was measured. */
  grains?: Grains;
  /** The light that is steadied or made lively, by what was measured. */
  gains?: GainsByHash;
  /** The tracks that patches follow, by what was measured. */
  tracks?: Tracks;
  /** What is cut out for masks, by what was measured. */
  cutouts?: Cutouts;
}

export const NO_PICTURES: Pictures = { stills: new Map(), frames: new Map() };

/** Such a picture by its name below the data folder: one that was brought in, by its hash, or a built plate, by that of what it is made of. */
export type PictureName = { asset: string } | { built: string; width: number; height: number; format: PixelFormat };

/** Where such a picture lies: a picture file, or the planes of a frame. */
export type PictureFile = { file: string } | { raw: string; width: number; height: number; format: PixelFormat };

const basesOf = (p: Plate): string[] => {
  const { from } = p;
  const own = from.take !== undefined && from.frame !== undefined ? [] : [pictureKey(from)];
  return p.returned ? [...own, pictureKey(p.returned)] : own;
};

/** The keys of all pictures a recipe uses that are no frames, for plates and for masks. */
export function pictureKeys(recipe: Recipe): string[] {
  const shapes = masksOf(recipe)
    .flatMap((m) => m.shapes)
    .flatMap((s) => (s.kind === "picture" ? [(s.path ?? s.asset)!] : []));
  return [...new Set([...Object.values(recipe.plates).flatMap(basesOf), ...shapes])];
}

/** Where named pictures lie. @throws MediaError where one was brought in and is not there any more */
export async function located(names: Record<string, PictureName>, paths: DataPaths): Promise<Record<string, PictureFile>> {
  const out: Record<string, PictureFile> = {};
  for (const [key, name] of Object.entries(names)) {
    if ("asset" in name) out[key] = { file: await pictureFile(paths, name.asset) };
    else {
      const { built, ...layout } = name;
      out[key] = { raw: join(paths.builtPlate(built), BUILT_PICTURE), ...layout };
    }
  }
  return out;
}

/** Where a brought-in picture lies. @throws MediaError when it is not there */
export async function pictureFile({ pictures }: DataPaths, asset: string): Promise<string> {
  const name = /^[0-9a-f]{64}$/.test(asset) ? (await readdir(pictures).catch(() => [])).find((f) => f.startsWith(asset)) : undefined;
  if (!name) throw new MediaError("A picture that a plate uses is missing: bring it in again.");
  return join(pictures, name);
}

/** Reads pictures that were found before. */
export async function readPictures(files: Record<string, PictureFile>): Promise<Pictures & { notes: string[] }> {
  const stills = new Map<string, Still>();
  const frames = new Map<string, Frame>();
  const notes: string[] = [];
  for (const [key, f] of Object.entries(files))
    if ("raw" in f) frames.set(key, frameFromBytes(new Uint8Array(await readFile(f.raw)), f.width, f.height, f.format));
    else {
      const read = await readPicture(f.file);
      stills.set(key, read.still);
      notes.push(...read.notes);
    }
  return { stills, frames, notes };
}

/** The pictures on the planes of a take, and as masks; each is worked out once. */
export function pictureSources({ stills, frames: made }: Pictures, look: { width: number; height: number; format: PixelFormat; colour: Colour }) {
  const frames = new Map<string, Frame>(made);
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
    return once(values, `${use}/${name}`, () => stillValues(still(name), use, look.colour.matrix, name));
  };
  const make = (key: string): Frame => {
    const spec = pictureSpec(key);
    if ("colour" in spec) return plainFrame(spec.colour, look.width, look.height, look.format);
    return stillFrame(still(key), look.format, look.colour);
  };
  return { frame: (key: string) => once(frames, key, () => make(key)), masks };
}
