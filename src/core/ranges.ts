/**
 * What the recipe's numbers may be. The schema refuses others, and a keyed value is brought into its range after easing, since an
 * ease may overshoot: opacity beyond 1 would wrap, a scale of 0 would divide.
 */
export interface Range {
  min: number;
  max: number;
}

/** Anything that has no range of its own: places, shifts, angles in degrees, growth. */
export const FINITE: Range = { min: -1e6, max: 1e6 };
/** Opacity, hardness, flow, pressure, roundness. */
export const UNIT: Range = { min: 0, max: 1 };
/** Lengths in pixels: feather, radii, sides. */
export const PX: Range = { min: 0, max: 10_000 };
/** By how much an outline grows, in pixels; less than 0 shrinks it. */
export const GROW: Range = { min: -10_000, max: 10_000 };
/** Scale of a placed picture. */
export const SCALE: Range = { min: 0.01, max: 100 };
/** A blur that is undone, or below 0 laid on: standard deviation in pixels. */
export const SHARPNESS: Range = { min: -8, max: 2 };
/** Most dabs of one stroke: what is drawn by hand in minutes with the finest spacing. */
export const MOST_DABS = 200_000;
