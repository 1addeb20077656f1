import { randomUUID } from "node:crypto";
import { mkdir, readFile, rename, rm, stat, utimes } from "node:fs/promises";
import { basename, extname, join } from "node:path";
import type { BuiltFrom } from "../../core/document/plate";
import type { Recipe } from "../../core/document/recipe";
import { pictureSpec } from "../../core/plate/keys";
import { type Frame, frameBytes, frameFromBytes } from "../../core/pixels/frame";
import { plainFrame } from "../../core/plate/colour";
import type { BuiltInfo } from "../analysis/build";
import { MediaError } from "../media/media-error";
import { taken } from "../media/arriving";
import type { SpecOf } from "../jobs/kinds";
import type { Runner } from "../jobs/runner";
import { BUILT_INFO, BUILT_PICTURE, type DataPaths } from "../paths";
import { pictureFile, pictureKeys, type PictureName } from "../render/pictures";
import type { TakeFile } from "../render/spec";
import type { Watch } from "../watch";
import { madeOf } from "./measured";

/** Pictures that plates start from and that are no frames: brought in, built from many, plain. */
export class Plates {
  constructor(
    readonly paths: DataPaths,
    private readonly runner: Runner,
  ) {}

  /** Takes a picture in, from among what is coming in; what it holds names it, so that the same picture is kept once. The file given is moved. */
  async add(file: string, name: string): Promise<{ asset: string; width: number; height: number; alpha: boolean; notes: string[] }> {
    const named = (words: string) => words.replace(/“[^”]*”/, `“${name}”`);
    try {
      const read = await this.runner.run("readIn", { from: basename(file) }).catch((e: unknown) => {
        throw e instanceof MediaError ? new MediaError(named(e.message)) : e;
      });
      await mkdir(this.paths.pictures, { recursive: true });
      const ext = extname(name)
        .toLowerCase()
        .replace(/[^.a-z0-9]/g, "");
      await rename(file, join(this.paths.pictures, `${read.asset}${ext}`));
      return { ...read, notes: read.notes.map(named) };
    } catch (e) {
      await rm(file, { force: true });
      throw e;
    }
  }

  /** Whether such a picture was brought in. */
  async has(asset: string): Promise<boolean> {
    return this.fileOf(asset).then(
      () => true,
      () => false,
    );
  }

  /** Where a brought-in picture lies. @throws MediaError when it is not there */
  fileOf = (asset: string): Promise<string> => pictureFile(this.paths, asset);

  /** The name of a built plate's folder: by what it is made of. */
  private nameOf(take: TakeFile, built: BuiltFrom): string {
    return madeOf(take, built).slice(0, 32);
  }

  /** The folders of a recipe's built plates. */
  folders(recipe: Recipe, takes: Record<string, TakeFile>): string[] {
    const specs = pictureKeys(recipe).map(pictureSpec);
    return specs.flatMap((s) => ("built" in s ? [this.nameOf(takes[s.take], s.built)] : []));
  }

  /** A plate that was built before, where its picture has its whole size; else it is built again. */
  private async whole(take: TakeFile, name: string): Promise<BuiltInfo | null> {
    try {
      const folder = this.paths.builtPlate(name);
      const { size } = await stat(join(folder, BUILT_PICTURE));
      const { width, height, format } = take.index.info;
      if (size !== frameBytes(width, height, { ...format, alpha: false })) return null;
      const info = JSON.parse(await readFile(join(folder, BUILT_INFO), "utf8")) as BuiltInfo;
      const now = new Date();
      await utimes(join(folder, BUILT_INFO), now, now); // used: what nobody uses goes after a while
      return info;
    } catch {
      return null;
    }
  }

  /** Builds a plate from many frames, unless it is there. */
  async built(take: TakeFile, built: BuiltFrom, watch: Watch = {}): Promise<BuiltInfo> {
    const folder = this.nameOf(take, built);
    return (await this.whole(take, folder)) ?? this.runner.run("build", { take: take.id, built, folder }, watch);
  }

  /** The names of the pictures of a recipe, those that can be worked out made ready. @throws MediaError where one is missing */
  async names(recipe: Recipe, takes: Record<string, TakeFile>): Promise<Record<string, PictureName>> {
    const out: Record<string, PictureName> = {};
    for (const key of pictureKeys(recipe)) {
      const spec = pictureSpec(key);
      if ("file" in spec) {
        await this.fileOf(spec.file);
        out[key] = { asset: spec.file };
      } else if ("built" in spec) {
        const take = takes[spec.take];
        await this.built(take, spec.built);
        const { width, height, format } = take.index.info;
        out[key] = { built: this.nameOf(take, spec.built), width, height, format: { ...format, alpha: false } };
      }
    }
    return out;
  }

  /** The samples of a brought-in picture, on the planes of a take or as a mask. */
  async samples(asset: string, as: SpecOf<"onPlanes">["as"]) {
    const to = randomUUID();
    const read = await this.runner.run("onPlanes", { asset, as, to });
    return { ...read, data: new Uint8Array(await taken(this.paths, to)) };
  }

  /** One picture by its key, on the planes of a shot's take. @throws MediaError when the key means nothing */
  async frame(key: string, takes: Record<string, TakeFile>, shot: TakeFile): Promise<Frame> {
    const { width, height, colour } = shot.index.info;
    const format = { ...shot.index.info.format, alpha: false };
    const spec = pictureSpec(key);
    if ("file" in spec) {
      const s = await this.samples(spec.file, { format, colour });
      return frameFromBytes(s.data, s.width, s.height, s.format!);
    }
    if ("colour" in spec) return plainFrame(spec.colour, width, height, format);
    const take = Object.hasOwn(takes, spec.take) && takes[spec.take];
    if (!take) throw new MediaError("A plate was built from a take that the shot does not use any more.");
    await this.built(take, spec.built);
    const bytes = await readFile(join(this.paths.builtPlate(this.nameOf(take, spec.built)), BUILT_PICTURE));
    const info = take.index.info;
    return frameFromBytes(new Uint8Array(bytes), info.width, info.height, { ...info.format, alpha: false });
  }
}
