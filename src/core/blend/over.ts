import type { Plane } from "../pixels/frame";
import type { PlaneAlpha } from "../shape/chroma";

/** Reads the source's sample at (x, y) of a plane. */
export type Reader = (x: number, y: number) => number;

/**
 * Lays a source over `below`, in place, within α's rectangle (Porter & Duff 1984, *over*, on code values):
 * a = round(65535·α·opacity); out = floor((src·a + below·(65535 − a) + 32767) / 65535).
 * Samples with a = 0 are not written; a = 65535 copies.
 */
export function layOver(below: Plane, read: Reader, alpha: PlaneAlpha, opacity: number): void {
  const w = alpha.x1 - alpha.x0;
  for (let y = alpha.y0; y < alpha.y1; y++) {
    const row = y * below.width;
    const from = (y - alpha.y0) * w - alpha.x0;
    for (let x = alpha.x0; x < alpha.x1; x++) {
      const v = alpha.data[from + x];
      if (v === 0) continue;
      const a = Math.floor(65535 * v * opacity + 0.5);
      if (a === 0) continue;
      const src = read(x, y);
      below.data[row + x] = a === 65535 ? src : Math.floor((src * a + below.data[row + x] * (65535 - a) + 32767) / 65535);
    }
  }
}
