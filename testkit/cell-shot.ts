import type { Cells } from "../src/core/plate/cells";
import { random } from "../src/core/random";

export const [ACROSS, DOWN] = [60, 40];

/** What is seen at a cell: luma alone, or with both colour differences; null where nothing stands. */
type Look = number | readonly [number, number, number] | null;

/** A made-up shot in cells: a still ground with noise, and over it whatever `thing` says is there. */
export function shot(
  count: number,
  thing: (f: number, x: number, y: number, ground: number) => Look,
  seed = 1,
): { frames: Cells[]; ground: Float32Array } {
  const rnd = random(seed);
  const ground = Float32Array.from({ length: ACROSS * DOWN }, (_, i) => 80 + 40 * Math.sin(i / 7) + 20 * rnd());
  const frames = Array.from({ length: count }, (_, f) => {
    const planes = [0, 1, 2].map((p) => {
      const v = new Float32Array(ACROSS * DOWN);
      for (let y = 0, i = 0; y < DOWN; y++)
        for (let x = 0; x < ACROSS; x++, i++) {
          const t = thing(f, x, y, ground[i]);
          const look = typeof t === "number" ? (p ? 128 : t) : t?.[p];
          v[i] = (look ?? (p ? 128 : ground[i])) + (rnd() - 0.5);
        }
      return v;
    });
    return { width: ACROSS, height: DOWN, cell: 4, planes, light: [0, 1, 2].map(() => ({ gain: 1, offset: 0 })) };
  });
  return { frames, ground };
}

export const box = (x: number, y: number, x0: number, y0: number, x1: number, y1: number) => x >= x0 && x < x1 && y >= y0 && y < y1;
