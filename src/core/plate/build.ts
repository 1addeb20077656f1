import { type Light, pivotOf, SAME_LIGHT } from "../match/light";
import type { Alignment } from "../motion/register";
import { createFrame, type Frame, isChroma, maxCode, planeShift } from "../pixels/frame";
import { type MovedPlane, movedPlane, placedPlane } from "../pixels/resample";
import { sitedPlane } from "../pixels/siting";
import type { SitingName } from "../pixels/colour";
import type { Choice } from "./choose";

/** A frame in the place and light of a reference: what its samples are read through. */
export interface Brought {
  /** Sample (x, y) of plane p, not rounded unless it is a sample of the frame itself. */
  read: ((x: number, y: number) => number)[];
}

/** How to place a picture so that it lies on the reference, when `a` says how it lies against that: the inverse. */
export function inverseOf(a: Alignment): { x: number; y: number; scale: number; angle: number } {
  const r = (-a.angle * Math.PI) / 180;
  const [c, s] = [Math.cos(r) / a.scale, Math.sin(r) / a.scale];
  return { x: -(c * a.dx - s * a.dy), y: -(s * a.dx + c * a.dy), scale: 1 / a.scale, angle: -a.angle };
}

/** A plane of a frame where a place about the frame's centre puts it (Catmull–Rom, Keys 1981). */
export function placedAt(frame: Frame, p: number, place: { x: number; y: number; scale: number; angle: number }, siting: SitingName): MovedPlane {
  const plane = frame.planes[p];
  const top = maxCode(frame.format);
  const { sx, sy } = planeShift(frame.format, p);
  const { x, y, scale, angle } = place;
  if (scale === 1 && angle === 0) return movedPlane(plane, x / (1 << sx), y / (1 << sy), top);
  return placedPlane(plane, sitedPlane(frame.format, p, siting), { x, y, scale, angle, cx: frame.width / 2, cy: frame.height / 2 }, top);
}

/**
 * Brings a frame to the reference's place and light. `light` is what took the reference's light to the frame's, and is taken off.
 * Without either, samples are read as they are.
 */
export function bring(frame: Frame, a: Alignment, light: readonly Light[], siting: SitingName, full: boolean): Brought {
  const { format } = frame;
  const one = 1 << (format.bits - 8);
  const place = inverseOf(a);
  const read = frame.planes.slice(0, format.model === "gray" ? 1 : 3).map((_, p) => {
    const at = placedAt(frame, p, place, siting).read;
    const { gain, offset } = light[p] ?? SAME_LIGHT;
    if (gain === 1 && offset === 0) return at;
    const pivot = pivotOf(isChroma(format, p), full || format.model === "rgb") * one;
    return (x: number, y: number) => pivot + (at(x, y) - pivot - offset * one) / gain;
  });
  return { read };
}

/** The first sample of a plane whose middle lies at or beyond a cell's middle. */
const firstBeyond = (cellIndex: number, cell: number, shift: number) => Math.max(0, Math.ceil(((cellIndex + 0.5) * cell) / (1 << shift) - 0.5));

/**
 * Lays a plate together from real frames. Where one frame serves, its samples are taken as they are; across a seam they are
 * mixed, by tents over the cells' middles, so that a seam is as wide as two cells.
 * @param brought the frames by their index in the choice; only those that the choice names are read
 */
export function laidTogether(c: Choice, like: Frame, brought: (label: number) => Brought): Frame {
  const out = createFrame(like.width, like.height, { ...like.format, alpha: false });
  const top = maxCode(like.format);
  const { width: w, height: h, cell, label } = c;
  const clip = (v: number) => Math.min(top, Math.max(0, Math.floor(v + 0.5)));
  out.planes.forEach((plane, p) => {
    const { sx, sy } = planeShift(like.format, p);
    const { width, height, data } = plane;
    for (let cy = -1; cy < h; cy++) {
      const y0 = cy < 0 ? 0 : firstBeyond(cy, cell, sy);
      const y1 = cy === h - 1 ? height : Math.min(height, firstBeyond(cy + 1, cell, sy));
      for (let cx = -1; cx < w; cx++) {
        const x0 = cx < 0 ? 0 : firstBeyond(cx, cell, sx);
        const x1 = cx === w - 1 ? width : Math.min(width, firstBeyond(cx + 1, cell, sx));
        const [ax, bx] = [Math.max(0, cx), Math.min(w - 1, cx + 1)];
        const [ay, by] = [Math.max(0, cy), Math.min(h - 1, cy + 1)];
        const labels = [label[ay * w + ax], label[ay * w + bx], label[by * w + ax], label[by * w + bx]];
        if (labels.every((l) => l === labels[0])) {
          const read = brought(labels[0]).read[p];
          for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) data[y * width + x] = clip(read(x, y));
          continue;
        }
        const reads = labels.map((l) => brought(l).read[p]);
        for (let y = y0; y < y1; y++) {
          const fy = Math.min(1, Math.max(0, ((y + 0.5) * (1 << sy)) / cell - 0.5 - cy));
          for (let x = x0; x < x1; x++) {
            const fx = Math.min(1, Math.max(0, ((x + 0.5) * (1 << sx)) / cell - 0.5 - cx));
            const upper = reads[0](x, y) * (1 - fx) + reads[1](x, y) * fx;
            const lower = reads[2](x, y) * (1 - fx) + reads[3](x, y) * fx;
            data[y * width + x] = clip(upper * (1 - fy) + lower * fy);
          }
        }
      }
    }
  });
  return out;
}

/** Sums clean frames up, for a plate without grain: the mean of all frames in which a cell was clean. */
export class Averager {
  private readonly sums: Float64Array[];
  private readonly shares: Float32Array[];

  constructor(
    private readonly c: Choice,
    private readonly like: Frame,
  ) {
    const planes = like.planes.slice(0, like.format.model === "gray" ? 1 : 3);
    this.sums = planes.map((p) => new Float64Array(p.data.length));
    this.shares = planes.map((p) => new Float32Array(p.data.length));
  }

  add(label: number, { read }: Brought): void {
    const { c, like } = this;
    const clean = c.clean[label];
    this.sums.forEach((sums, p) => {
      const { sx, sy } = planeShift(like.format, p);
      const { width, height } = like.planes[p];
      for (let y = 0, i = 0; y < height; y++) {
        const row = Math.min(c.height - 1, Math.floor(((y + 0.5) * (1 << sy)) / c.cell)) * c.width;
        for (let x = 0; x < width; x++, i++) {
          if (!clean[row + Math.min(c.width - 1, Math.floor(((x + 0.5) * (1 << sx)) / c.cell))]) continue;
          sums[i] += read[p](x, y);
          this.shares[p][i]++;
        }
      }
    });
  }

  /** The mean; where no frame was clean, what `rest` has there. */
  result(rest: Frame): Frame {
    const out = createFrame(rest.width, rest.height, rest.format);
    this.sums.forEach((s, p) => {
      const to = out.planes[p].data;
      for (let i = 0; i < s.length; i++) to[i] = this.shares[p][i] ? Math.floor(s[i] / this.shares[p][i] + 0.5) : rest.planes[p].data[i];
    });
    return out;
  }
}
