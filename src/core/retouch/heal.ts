import { AREA, NOTHING, toneField } from "../blend/tone";
import { maxCode, type PixelFormat, type Plane } from "../pixels/frame";
import { type MovedPlane, readRow } from "../pixels/resample";
import type { PlaneAlpha } from "../shape/chroma";

/** How far around an area the picture is looked at, in samples. */
const PAD = 12;

/**
 * The source with the tone of what surrounds the area (Pérez, Gangnet & Blake 2003; Georgiev 2004): source plus the field of
 * tone that the differences between picture and source around it span.
 * @param work the picture, as it was before
 * @param alpha where the area is: all samples with α > 0
 */
export function healedPlane(work: Plane, source: MovedPlane, alpha: PlaneAlpha, format: PixelFormat): MovedPlane {
  const one = 1 << (format.bits - 8);
  const top = maxCode(format);
  const [x0, y0] = [alpha.x0 - PAD, alpha.y0 - PAD];
  const aw = alpha.x1 - alpha.x0;
  const ah = alpha.y1 - alpha.y0;
  const [w, h] = [aw + 2 * PAD, ah + 2 * PAD];
  const kind = new Uint8Array(w * h);
  for (let y = 0; y < ah; y++) {
    const o = (y + PAD) * w + PAD;
    for (let x = 0, i = y * aw; x < aw; x++, i++) if (alpha.data[i] > 0) kind[o + x] = AREA;
  }
  // beyond the picture
  for (let y = 0; y < h; y++) {
    if (y0 + y < 0 || y0 + y >= work.height) kind.fill(NOTHING, y * w, (y + 1) * w);
    else {
      if (x0 < 0) kind.fill(NOTHING, y * w, y * w - x0);
      if (x0 + w > work.width) kind.fill(NOTHING, y * w + work.width - x0, (y + 1) * w);
    }
  }
  const field = toneField(w, h, kind, (i) => {
    const [x, y] = [x0 + (i % w), y0 + Math.floor(i / w)];
    return (work.data[y * work.width + x] - source.read(x, y)) / one;
  });
  const data = work.data.constructor === Uint8Array ? new Uint8Array(aw * ah) : new Uint16Array(aw * ah);
  const line = new Float64Array(aw);
  for (let y = 0; y < ah; y++) {
    const row = field(y + PAD);
    readRow(source, alpha.x0, alpha.y0 + y, line);
    for (let x = 0, i = y * aw; x < aw; x++, i++) {
      const v = (line[x] + row[x + PAD] * one + 0.5) | 0; // negative values are clipped anyway
      data[i] = v < 0 ? 0 : v > top ? top : v;
    }
  }
  return { width: aw, height: ah, data, whole: { x: -alpha.x0, y: -alpha.y0 }, read: (x, y) => data[(y - alpha.y0) * aw + x - alpha.x0] };
}
