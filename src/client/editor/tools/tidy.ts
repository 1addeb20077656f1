import type { Point } from "../../../core/document/geometry";
import { round } from "../names";

/** A place of a stroke as it is kept: hundredths of a pixel, a pen's pressure where it is not full. */
export const tidy = (p: Point): Point => (p[2] === undefined || p[2] === 1 ? [round(p[0]), round(p[1])] : [round(p[0]), round(p[1]), round(p[2], 3)]);
