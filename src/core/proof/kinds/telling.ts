import { nth } from "../../motion/gray";
import type { Rect } from "../../pixels/frame";
import { boxOf } from "../crossing";
import type { Finding, FindingKind, Remedy } from "../finding";
import { pixelsOf } from "../grid";
import type { PatchRecord } from "../patch-record";

/** A finding with a patch. @param frames those in which it is so @param worst of them */
export const finding = (
  r: PatchRecord,
  kind: FindingKind,
  frames: readonly number[],
  worst: number,
  box: Rect,
  measure: { value: number; limit: number },
  words: { says: string; do: string; remedy: Remedy },
): Finding => ({
  kind,
  intruder: r.intruder,
  layer: r.layer.id,
  in: Math.min(...frames),
  out: Math.max(...frames),
  worst,
  box,
  ...measure,
  ...words,
});

/** In words, how much stronger something is than noise. */
export const times = (v: number) => `${v.toFixed(v < 10 ? 1 : 0)} times what noise does`;

/** The frames in which a patch is laid, in their order. */
export const framesOf = (r: PatchRecord): number[] => [...r.hidden.keys()].sort((a, b) => a - b);

/** The bounds of a patch's mask in a frame. */
export const maskBox = (r: PatchRecord, n: number): Rect => {
  const mask = r.masks.get(n);
  const cells: number[] = [];
  mask?.forEach((v, i) => v && cells.push(i));
  return pixelsOf(r.grid, boxOf(r.grid, cells));
};

/** The value below which so large a share of others lies; 0 of none. */
export const chanceOf = (values: number[], share: number): number =>
  values.length ? nth(Float64Array.from(values), Math.floor(share * (values.length - 1))) : 0;
