import { lightBetween, pivotOf } from "../match/light";
import { median } from "../motion/gray";
import type { Alignment } from "../motion/register";
import { colourPlanes, type Frame, isChroma, planeShift, type Rect } from "../pixels/frame";
import { grown } from "../plate/regions";
import { Colours } from "./colours";
import { type Placed, placedBy, stands } from "./placed";

/** Side of the cells whose spread in time is known, luma pixels. */
const CELL_BITS = 2;
const CELL = 1 << CELL_BITS;
/** Places by which the light is told: every so many samples. */
const EVERY = 397;
/** The share of frames that may be taken to show a place as it is, where something stands before it for long. */
const QUIET = 0.125;
/**
 * Of places before which something always stands: codes by which they spread at least, how many times closer together they lie, and half the
 * length of the shortest half of normal values, in their standard deviations.
 */
const RESTING = { least: 3, closer: 3, half: 0.6745 };
/** What squares of a plane of half the width say. */
const COARSE = 0.25;
/** Codes of 8 bits below which the spread of means is rounding. */
const LEAST = 0.35;
/** Standard deviations that stand for “it may be something” where the ground is not known. */
export const UNTOLD = 4;
/** Pixels about what is not known of the ground, by which its colours are told. */
const NEAR = 40;

/** A frame beside the ground, within a rectangle; one value a luma pixel, row by row, three planes each. */
export interface Sight {
  rect: Rect;
  /** What is seen, and what the ground would be in this light; codes of 8 bits. */
  seen: Float32Array[];
  ground: Float32Array[];
  /** Means of 3 × 3 of what they differ by, in standard deviations of what they differ by where nothing stands. */
  off: Float32Array[];
  /** Those of all planes together: their root sum of squares, by what they say. */
  z: Float32Array;
  /** How much a plane's squares count: coarse chroma reaches beyond a thing's rim. */
  says: readonly number[];
  /** 1 where the ground is known; null where it is so everywhere. Elsewhere nothing is off, and z is `UNTOLD`. */
  known: Uint8Array | null;
  /** Standard deviations of a pixel's means of 3 × 3, codes of 8 bits, by its place in the take: a plane each, put into `out`. */
  spreadAt: (x: number, y: number, out: Float64Array) => void;
}

/** What a frame's planes become where the ground is looked at in its light. */
interface Light {
  gain: number;
  offset: number;
}

/** A clean picture of a place, and how much its frames differ from it where nothing stands: as noise does, and leaves, and water. */
export class Ground {
  readonly width: number;
  readonly height: number;
  /** The code a gain leaves alone, a plane each. */
  readonly pivots: number[];
  /** The colours near what is not known of it. */
  readonly about: Colours;
  /** The clean picture where the camera stood that took it. */
  private readonly own: Placed;
  /** Standard deviations by cells. */
  private readonly sigma: Float32Array[];
  private readonly across: number;
  private readonly down: number;
  /** The last one that was asked for. */
  private placed: { a: Alignment; ground: Placed } | null = null;

  /**
   * @param full whether codes run from 0
   * @param frames of the take, spread over it, by which the spread is known, and how each lies against the plate: none, where the camera stands
   * @param unknown where the plate does not show the ground, 1 at every pixel, since something is there on all frames
   */
  constructor(
    plate: Frame,
    full: boolean,
    frames: readonly Frame[],
    aligned?: readonly Alignment[],
    private readonly unknown: Uint8Array | null = null,
  ) {
    const { width, height, format } = plate;
    [this.width, this.height] = [width, height];
    this.pivots = [0, 1, 2].map((p) => (colourPlanes(format) === 1 && p > 0 ? 128 : pivotOf(isChroma(format, p), full || format.model === "rgb")));
    [this.across, this.down] = [Math.ceil(width / CELL), Math.ceil(height / CELL)];
    this.own = {
      clean: planesOf(plate, { x0: 0, y0: 0, x1: width, y1: height }),
      known: unknown && unknown.map((v) => 1 - v),
      cellOf: (x, y) => (y >> CELL_BITS) * this.across + (x >> CELL_BITS),
    };
    this.about = this.coloursAbout();
    const cells = this.across * this.down;
    this.sigma = [0, 1, 2].map(() => new Float32Array(cells).fill(1));
    const told = frames.map((f, k) => this.cellsOf(f, aligned?.[k]));
    for (let p = 0; p < 3; p++) {
      if (colourPlanes(format) === 1 && p > 0) continue;
      const some = new Float64Array(told.length * Math.floor(cells / 7));
      for (let i = 0; i < some.length; i++) some[i] = Math.abs(told[i % told.length][p][7 * Math.floor(i / told.length)]);
      const usual = some.length ? median(some) : 0;
      const least = Math.max(LEAST, 1.4826 * usual);
      const values = new Float64Array(told.length);
      for (let i = 0; i < cells; i++) {
        for (let k = 0; k < told.length; k++) values[k] = told[k][p][i];
        this.sigma[p][i] = Math.max(least, spreadOf(values));
      }
    }
  }

  /** The ground where a frame has it that lies so against the plate. */
  private at(a?: Alignment): Placed {
    if (!a || stands(a)) return this.own;
    if (this.placed?.a !== a) this.placed = { a, ground: placedBy(a, this.own, this) };
    return this.placed.ground;
  }

  /** The colours of the ground near what is not known of it; where all is, those of its whole. */
  private coloursAbout(): Colours {
    const { width, height, unknown } = this;
    const [a, b, c] = this.own.clean;
    const out = new Colours();
    const near = unknown?.includes(0) ? grown({ width, height, data: unknown }, NEAR).data : null;
    for (let i = 0; i < a.length; i += near ? 1 : EVERY) if (!near || (near[i] && !unknown![i])) out.add(a[i], b[i], c[i]);
    return out;
  }

  /** The light of a frame against that of the clean picture, a plane each. */
  private lights(frame: Frame, { clean }: Placed): Light[] {
    const unit = 1 / 2 ** (frame.format.bits - 8);
    return frame.planes.slice(0, colourPlanes(frame.format)).map((plane, p) => {
      const { sx, sy } = planeShift(frame.format, p);
      const { width } = this;
      const count = Math.ceil(clean[p].length / EVERY);
      const here = Float32Array.from({ length: count }, (_, i) => {
        const x = (i * EVERY) % width;
        const y = (i * EVERY - x) / width;
        return plane.data[(y >> sy) * plane.width + (x >> sx)] * unit;
      });
      return lightBetween(
        Float32Array.from({ length: count }, (_, i) => clean[p][i * EVERY]),
        here,
        this.pivots[p],
      );
    });
  }

  /** How far means of 3 × 3 lie off the clean picture at the middle of each cell, codes, a plane each. */
  private cellsOf(frame: Frame, a?: Alignment): Float32Array[] {
    const ground = this.at(a);
    const lights = this.lights(frame, ground);
    const { width, height } = this;
    const unit = 1 / 2 ** (frame.format.bits - 8);
    return [0, 1, 2].map((p) => {
      const out = new Float32Array(this.across * this.down);
      if (p >= colourPlanes(frame.format)) return out;
      const { gain, offset } = lights[p];
      const pivot = this.pivots[p];
      const { sx, sy } = planeShift(frame.format, p);
      const plane = frame.planes[p];
      for (let cy = 0; cy < height; cy += CELL)
        for (let cx = 0; cx < width; cx += CELL) {
          const [x, y] = [Math.min(width - 2, Math.max(1, cx + 1)), Math.min(height - 2, Math.max(1, cy + 1))];
          let s = 0;
          for (let j = -1; j <= 1; j++)
            for (let i = -1; i <= 1; i++) {
              const seen = plane.data[((y + j) >> sy) * plane.width + ((x + i) >> sx)] * unit;
              const lit = pivot + gain * (ground.clean[p][(y + j) * width + x + i] - pivot) + offset;
              s += (seen - lit) * (i ? 1 : 2) * (j ? 1 : 2);
            }
          out[ground.cellOf(x, y)] = s / 16;
        }
      return out;
    });
  }

  /** A frame beside the ground. @param a how it lies against the plate */
  look(frame: Frame, rect: Rect, a?: Alignment): Sight {
    const there = this.at(a);
    const lights = this.lights(frame, there);
    const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
    const seen = planesOf(frame, rect);
    const z = new Float32Array(w * h);
    const says = [0, 1, 2].map((p) => (planeShift(frame.format, p).sx ? COARSE : 1));
    const ground: Float32Array[] = [];
    const cells = this.cellsIn(rect, there);
    const off = seen.map((s, p) => {
      const { gain, offset } = lights[p] ?? { gain: 1, offset: 0 };
      const clean = there.clean[p];
      const zero = this.pivots[p] * (1 - gain) + offset;
      const b = new Float32Array(w * h);
      const d = new Float32Array(w * h);
      for (let y = 0, i = 0; y < h; y++)
        for (let k = (y + rect.y0) * this.width + rect.x0, end = k + w; k < end; i++, k++) {
          b[i] = zero + gain * clean[k];
          d[i] = s[i] - b[i];
        }
      ground.push(b);
      const mean = meanOf3(d, w, h);
      const sigma = this.sigma[p];
      const weight = says[p];
      for (let i = 0; i < mean.length; i++) {
        const v = mean[i] / sigma[cells[i]];
        mean[i] = v;
        z[i] += weight * v * v;
      }
      return mean;
    });
    for (let i = 0; i < z.length; i++) z[i] = Math.sqrt(z[i]);
    const known = there.known && partOf(there.known, this.width, rect);
    if (known)
      for (let i = 0; i < z.length; i++) {
        if (known[i]) continue;
        z[i] = UNTOLD;
        for (const o of off) o[i] = 0;
      }
    const spreadAt = (x: number, y: number, out: Float64Array) => {
      const cell = cells[(y - rect.y0) * w + x - rect.x0];
      for (let p = 0; p < 3; p++) out[p] = this.sigma[p][cell];
    };
    return { rect, seen, ground, off, z, says, known, spreadAt };
  }

  private cellsIn({ x0, y0, x1, y1 }: Rect, { cellOf }: Placed): Uint32Array {
    const out = new Uint32Array((x1 - x0) * (y1 - y0));
    for (let y = y0, i = 0; y < y1; y++) for (let x = x0; x < x1; x++, i++) out[i] = cellOf(x, y);
    return out;
  }
}

/**
 * The standard deviation of what a place differs by from its clean picture, where on most frames something may stand before it. Where that
 * is so on more than three quarters of them and always the same, they lie close together far from it, and their own spread tells.
 */
function spreadOf(values: Float64Array): number {
  const n = values.length;
  const off = values.map(Math.abs).sort();
  if (!n) return 0;
  const least = Math.floor(QUIET * n);
  const spread = off[least] / halfNormal((least + 0.5) / n);
  if (spread < RESTING.least) return spread;
  values.sort();
  const half = n >> 1;
  let shortest = Infinity;
  for (let k = 0; k + half < n; k++) shortest = Math.min(shortest, values[k + half] - values[k]);
  const close = shortest / 2 / RESTING.half;
  return close * RESTING.closer < spread ? close : spread;
}

/** The deviation from 0 below which a share of normal values lies, in their standard deviations, up to a half: √2·erf⁻¹ by its series. */
function halfNormal(share: number): number {
  const q = share * share;
  return Math.sqrt(Math.PI / 2) * share * (1 + (Math.PI / 12) * q + ((7 * Math.PI ** 2) / 480) * q * q);
}

/** A part of a picture, row by row. */
function partOf(data: Uint8Array, width: number, { x0, y0, x1, y1 }: Rect): Uint8Array {
  const out = new Uint8Array((x1 - x0) * (y1 - y0));
  for (let y = y0; y < y1; y++) out.set(data.subarray(y * width + x0, y * width + x1), (y - y0) * (x1 - x0));
  return out;
}

/** Three planes of a part of a frame as 8-bit codes at luma size; what a grey picture has not, is neutral. */
function planesOf(frame: Frame, rect: Rect): Float32Array[] {
  const unit = 1 / 2 ** (frame.format.bits - 8);
  const [w, h] = [rect.x1 - rect.x0, rect.y1 - rect.y0];
  return [0, 1, 2].map((p) => {
    const out = new Float32Array(w * h);
    if (p >= colourPlanes(frame.format)) return out.fill(128);
    const { sx, sy } = planeShift(frame.format, p);
    const { data, width } = frame.planes[p];
    for (let y = 0, i = 0; y < h; y++) {
      const row = ((y + rect.y0) >> sy) * width;
      for (let x = rect.x0, end = x + w; x < end; x++, i++) out[i] = data[row + (x >> sx)] * unit;
    }
    return out;
  });
}

/** Means over 3 × 3 by ¼ ½ ¼ each way, at the borders of what is there. */
function meanOf3(d: Float32Array, w: number, h: number): Float32Array {
  const rows = new Float32Array(d.length);
  for (let y = 0; y < h; y++) {
    const [first, last] = [y * w, y * w + w - 1];
    for (let i = first + 1; i < last; i++) rows[i] = 0.25 * (d[i - 1] + d[i + 1]) + 0.5 * d[i];
    rows[first] = 0.25 * (d[first] + d[Math.min(last, first + 1)]) + 0.5 * d[first];
    rows[last] = 0.25 * (d[Math.max(first, last - 1)] + d[last]) + 0.5 * d[last];
  }
  const out = new Float32Array(d.length);
  for (let y = 0; y < h; y++) {
    const up = y > 0 ? w : 0;
    const down = y < h - 1 ? w : 0;
    for (let i = y * w, end = i + w; i < end; i++) out[i] = 0.25 * (rows[i - up] + rows[i + down]) + 0.5 * rows[i];
  }
  return out;
}
