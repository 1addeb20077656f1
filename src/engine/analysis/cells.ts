import { alignedCells, type Cells, cellsFrom, cellSize, gridSize, inLightOf } from "../../core/plate/cells";
import type { Stillness } from "../../core/survey/stillness";
import { cellPlanes } from "../media/cells";
import type { TakeIndex } from "../media/index-file";
import { step, type Watch } from "../watch";

/** Frames `from` … `to` as cells, in the light and, where the camera is known to move, the place of the first of them. `folder`: the take's own. */
export async function cellFrames(
  t: TakeIndex,
  from: number,
  to: number,
  still: Stillness | null,
  folder: string | null,
  watch: Watch,
): Promise<Cells[]> {
  const { width, height } = gridSize(t.info.width, t.info.height);
  const full = t.info.colour.range === "full" || t.info.format.model !== "yuv";
  const out: Cells[] = [];
  for await (const planes of cellPlanes(t, from, to, folder)) {
    const raw = cellsFrom(planes, width, height, cellSize(t.info.width));
    const placed = still && still.verdict !== "locked" ? alignedCells(raw, between(still, from, from + out.length)) : raw;
    out.push(out.length ? inLightOf(placed, out[0], full) : placed);
    step(watch, out.length, to - from + 1);
  }
  return out;
}

/** How frame `b` lies against frame `a`, both known against the shot's reference; exact for shifts, near enough for small turns. */
export function between(still: Stillness, a: number, b: number) {
  const [p, q] = [still.perFrame[a], still.perFrame[b]];
  return { dx: q[0] - p[0], dy: q[1] - p[1], angle: q[2] - p[2], scale: q[3] / p[3], agree: 1 };
}
