import type { Plane } from "../pixels/frame";
import type { MovedPlane } from "../pixels/resample";
import type { PlaneAlpha } from "../shape/chroma";

/**
 * Lays a source over `below`, in place, within α's rectangle (Porter & Duff 1984, *over*, on code values):
 * a = round(65535·α·opacity); out = floor((src·a + below·(65535 − a) + 32767) / 65535).
 * Samples with a = 0 are not written; a = 65535 copies.
 */
export function layOver(below: Plane, source: MovedPlane, alpha: PlaneAlpha, opacity: number): void {
  const w = alpha.x1 - alpha.x0;
  const k = 65535 * opacity;
  const { data, whole } = source;
  const out = below.data;
  for (let y = alpha.y0; y < alpha.y1; y++) {
    const row = y * below.width;
    const from = (y - alpha.y0) * w - alpha.x0;
    // where the shift is by whole samples and the row lies inside the source, its samples are read directly
    const line = whole && whole.y + y >= 0 && whole.y + y < source.height ? (whole.y + y) * source.width + whole.x : null;
    const first = line === null ? Infinity : -whole!.x;
    const end = line === null ? -Infinity : source.width - whole!.x;
    for (let x = alpha.x0; x < alpha.x1; x++) {
      const v = alpha.data[from + x];
      if (v === 0) continue;
      const a = Math.floor(v * k + 0.5);
      if (a === 0) continue;
      const src = x >= first && x < end ? data[line! + x] : source.read(x, y);
      out[row + x] = a === 65535 ? src : Math.floor((src * a + out[row + x] * (65535 - a) + 32767) / 65535);
    }
  }
}
