import type { FigureKind, PatchFigures } from "./finding";

/** From where on a figure is worth a look: a fiftieth of the thing, an edge that is seen, half a code of light. */
export const FIGURE_LIMITS: Record<FigureKind, number> = { left: 0.02, edge: 1, light: 0.5 };

/** The frame in which a figure is farthest from 0, and what it is there; null where no frame tells it. */
export function worstFrame({ from, ...figures }: PatchFigures, kind: FigureKind): { f: number; value: number } | null {
  let worst: { f: number; value: number } | null = null;
  figures[kind].forEach((value, k) => {
    if (value !== null && (!worst || Math.abs(value) > Math.abs(worst.value))) worst = { f: from + k, value };
  });
  return worst;
}
