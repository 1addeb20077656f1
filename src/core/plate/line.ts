import { layOver } from "../blend/over";
import type { InLine } from "../document";
import { colourPlanes, createFrame, type Frame, maxCode } from "../pixels/frame";
import { movedPlane } from "../pixels/resample";
import type { SitingName } from "../pixels/colour";
import { planeAlpha } from "../shape/chroma";
import { placedAt } from "./build";

/**
 * A frame of another take as it would be on the shot: placed (Catmull–Rom, Keys 1981), then its light changed, value′ =
 * gain·value + offset on each plane. Values are rounded once more and clipped.
 */
export function broughtIntoLine(frame: Frame, line: InLine, siting: SitingName): Frame {
  const { format, width, height } = frame;
  const out = createFrame(width, height, { ...format, alpha: false });
  const top = maxCode(format);
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
