import type { Cutouts } from "../cutout/cutout-data";
import type { SitingName } from "../pixels/colour";
import type { MaskPictures } from "../shape/picture";
import type { Tracks } from "./tie";

/** What composing works in: the size of the pictures, their scale to the take, and where chroma lies. */
export interface Canvas {
  /** Luma samples across. */
  width: number;
  /** Luma samples down. */
  height: number;
  /** Picture pixels per take pixel: 1 for exact frames, less for previews. */
  scale: number;
  /** Where chroma samples lie between luma samples. */
  siting: SitingName;
  /** Pictures that are used as masks. */
  masks?: MaskPictures;
  /** What was cut out, for masks. */
  cutouts?: Cutouts;
  /** What was measured of the tracks that patches follow. */
  tracks?: Tracks;
  /** Whether codes run from 0 (full range) or from 16 (limited range, which counts without it). */
  full?: boolean;
  /** Whether codes go by a logarithm or a curve like one: light is then a gain and an offset. */
  adds?: boolean;
  /** For a quick picture: soft mattes may be worked out at half the size. */
  quick?: boolean;
}
