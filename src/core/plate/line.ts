import { layOver } from "../blend/over";
import type { InLine } from "../document/plate";
import { colourPlanes, createFrame, type Frame, maxCode } from "../pixels/frame";
import { movedPlane } from "../pixels/resample";
import type { SitingName } from "../pixels/colour";
import { boundaryOf } from "../shape/boundary";
import { planeAlpha } from "../shape/chroma";
import { coverage } from "../shape/coverage";
import { placedAt } from "./build";

/**
 * A frame of another take as it would be on the shot: placed (Catmull–Rom, Keys 1981), then its light changed, value′ =
 * gain·value + offset on each plane. Values are rounded once more and clipped. Where the other frame does not reach, its border is
 * not repeated: α is the exact coverage of each pixel by its transformed rectangle, and the picture has no alpha where that is all of it.
 */
export function broughtIntoLine(frame: Frame, line: InLine, siting: SitingName): Frame {
  const { format, width, height } = frame;
  const cover = coverOf(width, height, line);
  const out = createFrame(width, height, { ...format, alpha: cover !== null });
  const top = maxCode(format);
  if (cover) out.planes[out.planes.length - 1].data.set(cover.map((v) => Math.floor(v * top + 0.5)));
  const one = 1 << (format.bits - 8);
  for (let p = 0; p < colourPlanes(format); p++) {
    const { read } = placedAt(frame, p, line, siting);
    const [gain, offset] = line.light[p] ?? [1, 0];
    const to = out.planes[p];
    for (let y = 0, i = 0; y < to.height; y++)
      for (let x = 0; x < to.width; x++, i++) {
        const v = Math.floor(gain * read(x, y) + offset * one + 0.5);
        to.data[i] = v < 0 ? 0 : v > top ? top : v;
      }
  }
  return out;
}

/** How much of each pixel a placed picture covers, 0–1; null where that is all of it. */
function coverOf(width: number, height: number, { x, y, scale, angle }: InLine): Float64Array | null {
  const [c, s] = [Math.cos((angle * Math.PI) / 180) * scale, Math.sin((angle * Math.PI) / 180) * scale];
  const corners = [[0, 0], [width, 0], [width, height], [0, height]].flatMap(([px, py]) => {
    const [dx, dy] = [px - width / 2, py - height / 2];
    return [width / 2 + x + c * dx - s * dy, height / 2 + y + s * dx + c * dy];
  }); // prettier-ignore
  const share = coverage(boundaryOf(Float64Array.from(corners)), { x0: 0, y0: 0, x1: width, y1: height });
  return share.every((v) => v === 1) ? null : share;
}

/** Lays a picture with straight alpha over a frame of the same size, in place; without alpha it covers all of it. */
export function layPicture(below: Frame, picture: Frame, siting: SitingName): void {
  const { width, height, format } = below;
  if (picture.width !== width || picture.height !== height)
    throw new RangeError(
      `A picture of ${picture.width}×${picture.height} cannot be laid over a plate of ${width}×${height}: give it the plate's size.`,
    );
  const top = maxCode(picture.format);
  const data = new Float64Array(width * height);
  const alpha = picture.format.alpha ? picture.planes[picture.planes.length - 1].data : null;
  for (let i = 0; i < data.length; i++) data[i] = alpha ? alpha[i] / top : 1;
  const matte = { x0: 0, y0: 0, x1: width, y1: height, data, outside: 0 };
  for (let p = 0; p < colourPlanes(format); p++) {
    const source = movedPlane(picture.planes[p], 0, 0, maxCode(format));
    layOver(below.planes[p], source, planeAlpha(matte, format, p, siting, width, height), 1);
  }
}
