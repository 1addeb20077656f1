import { assertRuns } from "../../core/compose/compose";
import type { FrameStore } from "../media/frame-store";
import { checkFrames } from "./composer";
import { isStills } from "../../wire/formats";
import { refuse } from "./encoder";
import { renderStills } from "./sequence";
import type { RenderSpec } from "./spec";
import type { Watch } from "../watch";
import { renderVideo } from "./video";

/** Renders a recipe. A whole file under its name, or no file. @returns what is worth saying about it. */
export async function render(spec: RenderSpec, store: FrameStore, hooks: Watch = {}): Promise<string[]> {
  const { recipe, takes } = spec;
  const take = takes[recipe.shot.take].index;
  assertRuns(recipe);
  checkFrames(recipe, takes);
  refuse(spec.codec, spec.out, take, spec.convert, spec.what);
  return isStills(spec.codec) ? renderStills(spec, spec.codec, store, hooks) : renderVideo(spec, spec.codec, store, hooks);
}
