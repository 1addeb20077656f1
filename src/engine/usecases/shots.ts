import { basename } from "node:path";
import { isPatch } from "../../core/document/layer";
import type { Mask } from "../../core/document/mask";
import type { Recipe } from "../../core/document/recipe";
import { stillValues, type Values } from "../../core/pixels/still";
import type { ShotDocument } from "../../wire/shot";
import { type Documents, NotFound } from "../db/documents";
import type { Library } from "../library/library";
import type { WrittenOut } from "../library/outside";
import type { Plates } from "../library/plates";
import type { Takes } from "../library/takes";
import type { FrameStore } from "../media/frame-store";
import { readPicture } from "../media/picture";
import { pictureName, writtenName } from "../render/names";
import { framePng } from "../media/stills";
import { checkFrames, composer } from "../render/composer";
import { located, readPictures } from "../render/pictures";
import type { TakeFile } from "../render/spec";
import { measuredOf } from "../../recipe/assets";
import { layerById, shotTakeId, takeId } from "../../recipe/query";

/** What can be asked about one shot: its document, its takes, single pictures of it. */
export class Shots {
  constructor(
    private readonly library: Library,
    private readonly documents: Documents,
    private readonly takes: Takes,
    private readonly store: FrameStore,
    private readonly plates: Plates,
  ) {}

  async document(id: string): Promise<ShotDocument> {
    const row = await this.library.shotRow(id);
    const { rev, recipe } = await this.documents.read(id);
    const takes = Object.fromEntries(
      await Promise.all(
        Object.entries(recipe.takes).map(async ([k, t]) => [k, this.library.toTake(await this.library.takeRow(takeId(k, t)))] as const),
      ),
    );
    return { id, name: row.name, rev, recipe, takes, production: await this.library.productionOf(row.takeId), ...(await this.documents.next(id)) };
  }

  async takeFiles(recipe: Recipe): Promise<Record<string, TakeFile>> {
    return Object.fromEntries(
      await Promise.all(
        Object.entries(recipe.takes).map(async ([k, t]) => [k, { id: takeId(k, t), index: await this.takes.index(takeId(k, t)) }] as const),
      ),
    );
  }

  /**
   * The recipe as a file: takes are named by their own file names, beside which it should be put, and pictures that were brought
   * in by names under which they go with it.
   */
  async exported(id: string): Promise<{ name: string; recipe: Recipe; measured: string[]; pictures: { name: string; path: string }[] }> {
    const row = await this.library.shotRow(id);
    const { recipe } = await this.documents.read(id);
    const takes = Object.fromEntries(
      await Promise.all(
        Object.entries(recipe.takes).map(async ([k, t]) => {
          const { asset: _, ...rest } = t;
          return [k, { ...rest, path: (await this.library.takeRow(takeId(k, t))).name }] as const;
        }),
      ),
    );
    const pictures: { name: string; path: string }[] = [];
    const named = async <T extends { path?: string; asset?: string }>(from: T): Promise<T> => {
      if (from.asset === undefined) return from;
      const path = await this.plates.fileOf(from.asset);
      const name = `pictures/${basename(path)}`;
      if (!pictures.some((p) => p.name === name)) pictures.push({ name, path });
      const { asset: _, ...rest } = from;
      return { ...(rest as T), path: name };
    };
    const plates = Object.fromEntries(
      await Promise.all(
        Object.entries(recipe.plates).map(
          async ([k, p]) => [k, { ...p, from: await named(p.from), ...(p.returned ? { returned: await named(p.returned) } : {}) }] as const,
        ),
      ),
    );
    const shaped = async (m: Mask): Promise<Mask> => ({
      ...m,
      shapes: await Promise.all(m.shapes.map((s) => (s.kind === "picture" ? named(s) : Promise.resolve(s)))),
    });
    const intruders = await Promise.all(
      recipe.intruders.map(async (i) => ({
        ...i,
        layers: await Promise.all(i.layers.map(async (l) => (isPatch(l) && !("use" in l.mask) ? { ...l, mask: await shaped(l.mask) } : l))),
      })),
    );
    const shared =
      recipe.masks && Object.fromEntries(await Promise.all(Object.entries(recipe.masks).map(async ([k, m]) => [k, await shaped(m)] as const)));
    return {
      name: row.name,
      recipe: { ...recipe, takes, plates, intruders, ...(shared ? { masks: shared } : {}) },
      measured: measuredOf(recipe),
      pictures,
    };
  }

  /** A plate as it is, without what came back before, and what its touches lie on; with a frame of the shot. */
  async plateParts(id: string, which: string, n: number): Promise<WrittenOut> {
    const { recipe } = await this.documents.read(id);
    const plate = Object.hasOwn(recipe.plates, which) && recipe.plates[which];
    if (!plate) throw new NotFound("This plate does not exist (any more).");
    const files = await this.takeFiles(recipe);
    const shot = files[recipe.shot.take];
    const pictures = await readPictures(await located(await this.plates.names(recipe, files), this.plates.paths));
    const evaluated = async (p: Recipe["plates"][string]) => {
      const r = { ...recipe, plates: { ...recipe.plates, [which]: p } };
      const work = composer(r, files, this.store, pictures);
      await work.loadPlate(which);
      return work.pictures.plate(which);
    };
    const { returned: _, ...bare } = plate;
    return {
      plate: await evaluated(plate),
      bare: await evaluated(bare),
      base: await evaluated({ ...bare, touches: [] }),
      frame: await this.store.frame(shot.id, shot.index, n),
      frameNumber: n,
      colour: shot.index.info.colour,
      name: plate.name || which,
    };
  }

  /** A brought-in picture as a mask over the shot. */
  async maskValues(id: string, asset: string, use: "alpha" | "brightness"): Promise<Values> {
    const { recipe } = await this.documents.read(id);
    const { colour } = (await this.takes.index(shotTakeId(recipe))).info;
    const { still } = await readPicture(await this.plates.fileOf(asset));
    return stillValues(still, use, colour.matrix, "the picture");
  }

  /** A picture as PNG: the mended frame, the original, a plate, or one patch alone with transparency. */
  async still(id: string, what: "frame" | "original" | "patch" | "plate", n: number, which?: string): Promise<{ png: Buffer; name: string }> {
    const row = await this.library.shotRow(id);
    const { recipe } = await this.documents.read(id);
    const files = await this.takeFiles(recipe);
    const shot = files[recipe.shot.take];
    const { colour, frames } = shot.index.info;
    if (n >= frames) throw new NotFound(`Frame ${n} lies outside the take, which has frames 0 to ${frames - 1}.`);
    checkFrames(recipe, files);
    const named = (what: string) => `${pictureName(row.name, what, n)}.png`;
    if (what === "original") return { png: await framePng(await this.store.frame(shot.id, shot.index, n), colour), name: named("original") };
    const work = composer(recipe, files, this.store, await readPictures(await located(await this.plates.names(recipe, files), this.plates.paths)));
    if (what === "frame") return { png: await framePng(await work.frame(n), colour), name: named("mended") };
    if (what === "plate") {
      if (!which || !Object.hasOwn(recipe.plates, which)) throw new NotFound("This plate does not exist (any more).");
      await work.loadPlate(which);
      return {
        png: await framePng(work.pictures.plate(which), colour),
        name: `${writtenName(row.name, `plate ${recipe.plates[which].name ?? which}`)}.png`,
      };
    }
    const layer = (which && layerById(recipe, which)) || undefined;
    if (!layer) throw new NotFound("This patch does not exist (any more).");
    if (n < layer.in || n > layer.out)
      throw new NotFound(`The patch shows from frame ${layer.in} to ${layer.out}, not at frame ${n}: go to one of its frames first.`);
    const alone = (await work.parts(n)).find((p) => p.layer === which);
    if (!alone) throw new NotFound(`Nothing of this layer shows at frame ${n}: switch it on, or go to one of its frames.`);
    return { png: await framePng(alone.picture, colour, alone.alpha), name: named("patch") };
  }
}
