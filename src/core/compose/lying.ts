import type { Mask } from "../document/mask";
import { type Homography, inCoordinates, inverse, mapped } from "../follow/homography";
import { warpedPlane } from "../follow/warp";
import { type Frame, maxCode, type PixelFormat, type Plane, planeShift } from "../pixels/frame";
import { movedPlane, placedPlane, type Placing, type ResampledPlane } from "../pixels/resample";
import { sitedPlane } from "../pixels/siting";
import { maskBounds } from "../shape/mask";
import { UserError } from "../user-error";
import type { Canvas } from "./canvas";

/** How a source picture comes to lie on the canvas. */
export interface Lying {
  /** Plane `p` as it lies. */
  laid: (p: number, plane: Plane) => ResampledPlane;
  /** The picture's corners, x and y in turn, in pixels of the canvas; null where one lies behind the horizon. */
  corners: () => number[] | null;
  /** The point of the source that is seen at a point of the canvas. */
  back: (x: number, y: number) => readonly [number, number];
  /** Whether the source is known to cover the canvas. */
  everywhere: boolean;
}

const cornersOf = ({ width, height }: Pick<Frame, "width" | "height">) =>
  [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ] as const;

/** A source that is moved, scaled and turned. */
export function placed(place: Placing, source: Frame, format: PixelFormat, c: Canvas): Lying {
  const { x, y, cx, cy } = place;
  const plain = place.scale === 1 && place.angle === 0;
  const [cos, sin] = [Math.cos((place.angle * Math.PI) / 180), Math.sin((place.angle * Math.PI) / 180)];
  return {
    laid(p, plane) {
      const { sx, sy } = planeShift(format, p);
      if (plain) return movedPlane(plane, x / (1 << sx), y / (1 << sy), maxCode(format));
      return placedPlane(plane, sitedPlane(format, p, c.siting), place, maxCode(format));
    },
    corners: () =>
      cornersOf(source).flatMap(([qx, qy]) => {
        const [dx, dy] = [(qx - cx) * place.scale, (qy - cy) * place.scale];
        return [cx + x + cos * dx - sin * dy, cy + y + sin * dx + cos * dy];
      }),
    back(px, py) {
      const [dx, dy] = [(px - cx - x) / place.scale, (py - cy - y) / place.scale];
      return [cos * dx + sin * dy + cx, cos * dy - sin * dx + cy];
    },
    everywhere: plain && x <= 0 && y <= 0 && x + source.width >= c.width && y + source.height >= c.height,
  };
}

/** A source that a track carries. @param map from the source to the take, both in take pixels @throws UserError where it would turn its back */
export function carried(map: Homography, n: number, source: Frame, format: PixelFormat, mask: Mask, c: Canvas): Lying {
  const onCanvas = inCoordinates(map, c.scale, 0, 0);
  const back = inverse(onCanvas);
  const corners = cornersOf(source).map((p) => mapped(onCanvas, p));
  if (!back)
    throw new UserError("refused", `At frame ${n} the picture of a patch would fold over with the track it follows: let it follow fewer frames.`);
  const box = maskBounds(mask, n, c.width / c.scale, c.height / c.scale);
  const about = [((box.x0 + box.x1) / 2) * c.scale, ((box.y0 + box.y1) / 2) * c.scale] as const;
  return {
    laid: (p, plane) => warpedPlane(plane, sitedPlane(format, p, c.siting), back, about, maxCode(format)),
    corners: () => (corners.every((p) => p !== null) ? corners.flat() : null),
    back: (x, y) => mapped(back, [x, y]) ?? [NaN, NaN],
    everywhere: false,
  };
}
