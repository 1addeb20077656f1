import type { CutoutData } from "../../core/cutout/cutout-data";
import type { CutoutShape } from "../../core/document/mask";
import { cutoutMatte } from "../../core/shape/cutout";
import { over } from "../../core/shape/matte";
import type { FrameMatte } from "./cut-out";

/** A cut-out by its hash, and what was corrected of it by brush. */
export interface Corrected {
  data: string;
  strokes: NonNullable<CutoutShape["strokes"]>;
}

/** Where a thing is on a frame once that was corrected, 1 at every pixel of it. */
export function correctedAt(f: number, { data, strokes }: Corrected, old: CutoutData, size: { width: number; height: number }): Uint8Array {
  const whole = { x0: 0, y0: 0, x1: size.width, y1: size.height };
  const matte = cutoutMatte({ kind: "cutout", op: "add", data, strokes }, f, whole, 1, new Map([[data, old]]));
  return Uint8Array.from(over(matte, whole), (a) => Number(a >= 0.5));
}

/** What was cut out on frames before and after some. */
export const beyond = (old: CutoutData, from: number, to: number): FrameMatte[] =>
  [...old].flatMap(([f, { rect, alpha }]) => (f < from || f > to ? [{ f, rect, alpha: alpha() }] : []));
