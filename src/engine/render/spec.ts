import type { Recipe } from "../../core/document";
import type { TakeIndex } from "../media/index-file";
import { MediaError } from "../media/media-error";
import type { Codec } from "./encoder";
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
  /** The mended picture, or what mends it alone: the patches together, or their matte. */
  what?: Written;
  /** Whether samples a codec cannot carry may be converted. */
  convert?: boolean;
}

export const WRITTEN = ["result", "patch", "matte"] as const;
export type Written = (typeof WRITTEN)[number];

export interface RenderHooks {
  progress?: (done: number, total: number) => void;
  signal?: AbortSignal;
}

export class Stopped extends MediaError {
  constructor() {
    super("The render was stopped; no file was written.");
  }
}
