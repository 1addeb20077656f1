import type { Alignment } from "../motion/register";
import { straightened } from "../motion/straighten";
import { within } from "../pixels/within";
import { inverseOf } from "../plate/build";

/** The ground in the place of one frame. */
export interface Placed {
  /** Three planes, 8-bit codes at luma size. */
  clean: Float32Array[];
  /** 1 where it is known; null where it is so everywhere. */
  known: Uint8Array | null;
  /** The cell of a pixel. */
  cellOf: (x: number, y: number) => number;
}

/** Whether a picture lies just as the one it is held against. */
export const stands = ({ dx, dy, angle, scale }: Alignment): boolean => dx === 0 && dy === 0 && angle === 0 && scale === 1;

/** The ground as a frame has it that lies so against the plate: linear between samples, and not known beyond the plate's border. */
export function placedBy(a: Alignment, own: Placed, { width, height }: { width: number; height: number }): Placed {
  const { x, y, angle, scale } = inverseOf(a);
  const back: Alignment = { dx: x, dy: y, angle, scale, agree: 1 };
  const to = pointOf(back, width, height);
  const known = new Uint8Array(width * height);
  const p: [number, number] = [0, 0];
  for (let j = 0, i = 0; j < height; j++)
    for (let k = 0; k < width; k++, i++) {
      to(k, j, p);
      const [u, v] = [Math.floor(p[0]), Math.floor(p[1])];
      if (u >= 0 && v >= 0 && u < width && v < height) known[i] = own.known ? own.known[v * width + u] : 1;
    }
  return {
    clean: own.clean.map((data) => straightened({ width, height, data }, back).data),
    known: known.includes(0) ? known : null,
    cellOf: (k, j) => {
      to(k, j, p);
      return own.cellOf(within(Math.floor(p[0]), width), within(Math.floor(p[1]), height));
    },
  };
}

/** Where a picture's pixels have their middles in another that lies so against it. */
export function pointOf(a: Alignment, width: number, height: number): (x: number, y: number, out: [number, number]) => void {
  const r = (a.angle * Math.PI) / 180;
  const [c, s] = [a.scale * Math.cos(r), a.scale * Math.sin(r)];
  const [cx, cy] = [width / 2, height / 2];
  return (x, y, out) => {
    const [u, v] = [x + 0.5 - cx, y + 0.5 - cy];
    out[0] = cx + c * u - s * v + a.dx;
    out[1] = cy + s * u + c * v + a.dy;
  };
}
