import type { Place } from "../../core/follow/homography";
import { Usage } from "./usage";

/** Corners of a region at most. */
const MOST_CORNERS = 3000;

/** Corners as “x,y x,y …”. @param option what they were given for @throws Usage */
export function corners(option: string, text: string | boolean | undefined): Place[] {
  const list = String(text ?? "")
    .trim()
    .split(/\s+/)
    .map((p) => p.split(",").map(Number));
  if (list.length < 3 || list.length > MOST_CORNERS || list.some((p) => p.length !== 2 || !p.every(Number.isFinite)))
    throw new Usage(`--${option} was “${String(text ?? "")}”; three corners or more are allowed, such as "100,80 220,80 220,160 100,160"`);
  return list as Place[];
}
