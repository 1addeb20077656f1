import type { ColourTable } from "../../core/look/cube";
import type { Recipe } from "../../core/document/recipe";
import type { TakeIndex } from "../media/index-file";
import { Stopped } from "../watch";
import type { Codec } from "../../wire/formats";
import type { Written } from "../../wire/job";
import type { Pictures } from "./pictures";

/** A take of a recipe, found and read. `id` names its frames in the store. */
export interface TakeFile {
  id: string;
  index: TakeIndex;
}

export interface RenderSpec {
  recipe: Recipe;
  takes: Record<string, TakeFile>;
  /** Pictures the recipe uses that are no frames. */
  pictures?: Pictures;
  out: string;
  codec: Codec;
  preset: string;
  crf: number;
  /** The mended picture; what mends it alone, the patches together or their matte; or both sides of it beside each other, numbered. */
  what?: Written;
  /** Whether samples a codec cannot carry may be converted. */
  convert?: boolean;
  /** A look that is laid on a film, behind everything. */
  look?: { table: ColourTable; strength: number };
}

/** A render that somebody stops leaves nothing. */
export const stoppedRender = (): Stopped => new Stopped("The render was stopped; no file was written.");
