import { mkdir, rename, rm } from "node:fs/promises";
import { join } from "node:path";
import type { BuiltFrom } from "../../../core/document/plate";
import { bytesOf } from "../../../core/pixels/frame";
import { type BuiltInfo, buildPlate } from "../../analysis/build";
import { readIndex, writeWhole } from "../../media/index-file";
import { BUILT_INFO, BUILT_PICTURE } from "../../paths";
import type { Kind } from "../kind";
import { keptSurvey } from "./kept-survey";

interface Spec {
  take: string;
  built: BuiltFrom;
  /** The name of its folder among the built plates. */
  folder: string;
}

/** Builds a plate from many frames, and keeps it. */
export const build: Kind<Spec, BuiltInfo> = {
  lane: "now",
  failed: "Building the plate failed",
  async run({ take, built, folder }, { paths, store }, watch) {
    const found = await keptSurvey(paths, take);
    const index = await readIndex(paths.index(take));
    const { frame, info } = await buildPlate(store, take, index, built, found?.stillness ?? null, paths.take(take), watch);
    const out = paths.builtPlate(folder);
    const part = `${out}.${process.pid}.part`;
    await mkdir(part, { recursive: true });
    await writeWhole(join(part, BUILT_PICTURE), bytesOf(frame));
    await writeWhole(join(part, BUILT_INFO), JSON.stringify(info));
    await rm(out, { recursive: true, force: true });
    await rename(part, out);
    return info;
  },
};
