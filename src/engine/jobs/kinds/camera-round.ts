import { cutoutsIn } from "../../../recipe/assets";
import { readFile } from "node:fs/promises";
import type { CutoutData } from "../../../core/cutout/cutout-data";
import { readCutout } from "../../../recipe/cutout-file";
import { type CameraRound, cameraRound, type CameraRoundAsk } from "../../analysis/camera-round";
import { readIndex } from "../../media/index-file";
import type { Kind } from "../kind";

interface Spec extends CameraRoundAsk {
  take: string;
}

/** Fits the camera's track round a place of a take. */
export const cameraRoundKind: Kind<Spec, CameraRound | null> = {
  lane: "now",
  failed: "Following the camera failed",
  async run({ take, ...ask }, { paths, store }, watch) {
    const cutouts = new Map<string, CutoutData>();
    for (const hash of cutoutsIn([ask.mask])) cutouts.set(hash, readCutout(await readFile(paths.measured(hash))));
    return cameraRound(store, take, await readIndex(paths.index(take)), ask, cutouts, watch);
  },
};
