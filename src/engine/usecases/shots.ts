import { randomUUID } from "node:crypto";
import { basename } from "node:path";
import { isPatch } from "../../core/document/layer";
import type { Mask } from "../../core/document/mask";
import type { Recipe } from "../../core/document/recipe";
import type { ShotDocument } from "../../wire/shot";
import { type Documents, NotFound } from "../db/documents";
import type { OnShot } from "../jobs/kinds/on-shot";
import type { StillJob } from "../jobs/kinds/still";
import type { Runner } from "../jobs/runner";
import type { Library } from "../library/library";
import type { Measured } from "../library/measured";
import type { Plates } from "../library/plates";
import type { Takes } from "../library/takes";
import { taken } from "../media/arriving";
import type { FrameStore } from "../media/frame-store";
import { pictureName, writtenName } from "../render/names";
import { framePng } from "../media/stills";
import { checkFrames } from "../render/composer";
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
    private readonly measured: Measured,
    private readonly runner: Runner,
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

  /** The recipe with the names of all that it needs, for a job. */
  async forJob(id: string): Promise<OnShot> {
    const { recipe } = await this.documents.read(id);
    const files = await this.takeFiles(recipe);
    checkFrames(recipe, files);
    await this.measured.lay(measuredOf(recipe));
    return {
      recipe,
      takes: Object.fromEntries(Object.entries(files).map(([k, t]) => [k, t.id])),
      pictures: await this.plates.names(recipe, files),
    };
  }

  /** A plate written out to be retouched elsewhere. @throws NotFound where there is none */
  async plateForJob(id: string, which: string): Promise<OnShot> {
    const spec = await this.forJob(id);
    if (!Object.hasOwn(spec.recipe.plates, which)) throw new NotFound("This plate does not exist (any more).");
    return spec;
  }

  /** A brought-in picture as a mask over the shot: one value a pixel. */
  async maskValues(id: string, asset: string, use: "alpha" | "brightness") {
    const { recipe } = await this.documents.read(id);
    const { colour } = (await this.takes.index(shotTakeId(recipe))).info;
    return this.plates.samples(asset, { use, matrix: colour.matrix });
  }

  /** A picture as PNG: the mended frame, the original, a plate, or one patch alone with transparency. */
  async still(id: string, what: "frame" | "original" | "patch" | "plate", n: number, which?: string): Promise<{ png: Buffer; name: string }> {
    const row = await this.library.shotRow(id);
    const { recipe } = await this.documents.read(id);
    const files = await this.takeFiles(recipe);
    const shot = files[recipe.shot.take];
    const { colour, frames } = shot.index.info;
    if (n >= frames) throw new NotFound(`Frame ${n} lies outside the take, which has frames 0 to ${frames - 1}.`);
    const named = (what: string) => `${pictureName(row.name, what, n)}.png`;
    if (what === "original") return { png: await framePng(await this.store.frame(shot.id, shot.index, n), colour), name: named("original") };
    const made = async (what: StillJob["what"], name: string) => ({ png: await this.composed(await this.forJob(id), what, n), name });
    if (what === "frame") return made({ frame: true }, named("mended"));
    if (what === "plate") {
      if (!which || !Object.hasOwn(recipe.plates, which)) throw new NotFound("This plate does not exist (any more).");
      return made({ plate: which }, `${writtenName(row.name, `plate ${recipe.plates[which].name ?? which}`)}.png`);
    }
    const layer = (which && layerById(recipe, which)) || undefined;
    if (!layer) throw new NotFound("This patch does not exist (any more).");
    if (n < layer.in || n > layer.out)
      throw new NotFound(`The patch shows from frame ${layer.in} to ${layer.out}, not at frame ${n}: go to one of its frames first.`);
    return made({ layer: layer.id }, named("patch"));
  }

  private async composed(on: OnShot, what: StillJob["what"], n: number): Promise<Buffer> {
    const to = randomUUID();
    await this.runner.run("still", { ...on, what, n, to });
    return taken(this.plates.paths, to);
  }
}
