import { assertRuns } from "../../core/compose/compose";
import type { FrameStore } from "../media/frame-store";
import { MediaError } from "../media/media-error";
import { checkFrames } from "./composer";
import { isSequence, refuse } from "./encoder";
import { renderStills } from "./sequence";
import type { RenderHooks, RenderSpec } from "./spec";
import { renderVideo } from "./video";

/** Renders a recipe. A whole file under its name, or no file. @returns what is worth saying about it. */
export async function render(spec: RenderSpec, store: FrameStore, hooks: RenderHooks = {}): Promise<string[]> {
  const { recipe, takes } = spec;
  const take = takes[recipe.shot.take].index;
  assertRuns(recipe);
  checkFrames(recipe, takes);
  if (spec.what && spec.what !== "result" && !isSequence(spec.codec))
    throw new MediaError(`The ${spec.what} alone is written with transparency, as stills: choose PNG or TIFF.`);
  refuse(spec.codec, spec.out, take, spec.convert);
  return isSequence(spec.codec) ? renderStills(spec, spec.codec, store, hooks) : renderVideo(spec, store, hooks);
}
