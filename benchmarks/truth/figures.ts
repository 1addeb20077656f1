import { blur } from "../../demo/make/image";
import { ciede2000, toLab, type Lab } from "../../src/core/measure/ciede2000";
import { psnr } from "../../src/core/measure/psnr";
import { ssim } from "../../src/core/measure/ssim";
import { ycbcrToRgb } from "../../src/core/pixels/colour";
import { p95 } from "../measure";
import type { Picture } from "./truth";

/** How near one mended frame is to the truth. */
export interface Figures {
  /** Luma, within the mask; dB. */
  psnr: number;
  ssim: number;
  /** CIEDE2000 within ±3 px of the mask's edge, both low-passed with σ 2 px: 95th percentile. */
  edge: number;
  /** How far the light within is off: low-passed with σ 8 px, 95th percentile of luma, codes of 8 bits. */
  light: number;
  /** Power of the noise within the mask against that around it. */
  noise: number;
  /** The share of the intruder that is still there: 1 untouched, 0 gone. */
  left: number;
}

/** Where a frame is measured: 1 within the mask, near its edge, around it. */
export interface Areas {
  inside: Uint8Array;
  edge: Uint8Array;
  around: Uint8Array;
}

/** Low-passed by a Gaussian of σ 2 px, edges repeated. */
const lowPass = (data: Float32Array, width: number, height: number) => blur(data, width, height, 1, 2);

/** The areas of a mask's α over the box: inside at α > ½. */
export function areasOf(alpha: Float64Array, width: number, height: number): Areas {
  const n = width * height;
  const inside = Uint8Array.from({ length: n }, (_, i) => (alpha[i] > 0.5 ? 1 : 0));
  const near = (r: number, of: Uint8Array, value: number) => {
    const out = new Uint8Array(n);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        if (of[y * width + x] !== value) continue;
        // only what lies on the border of its area reaches anything new
        const border =
          x === 0 || y === 0 || x === width - 1 || y === height - 1 || [-1, 1, -width, width].some((d) => of[y * width + x + d] !== value);
        if (!border) continue;
        for (let j = -r; j <= r; j++)
          for (let i = -r; i <= r; i++) {
            if (i * i + j * j > r * r || y + j < 0 || y + j >= height || x + i < 0 || x + i >= width) continue;
            out[(y + j) * width + x + i] = 1;
          }
      }
    return out;
  };
  const fromIn = near(3, inside, 1);
  const fromOut = near(3, inside, 0);
  const wide = near(24, inside, 1);
  return {
    inside,
    edge: Uint8Array.from({ length: n }, (_, i) => (inside[i] ? fromOut[i] : fromIn[i])),
    around: Uint8Array.from({ length: n }, (_, i) => (wide[i] && !inside[i] && alpha[i] === 0 ? 1 : 0)),
  };
}

/** Where `where` is 1, the mean square of what is left after a low-pass. */
function noisePower(difference: Float32Array, width: number, height: number, where: Uint8Array): number {
  const low = lowPass(difference, width, height);
  let s = 0;
  let n = 0;
  for (let i = 0; i < difference.length; i++)
    if (where[i]) {
      s += (difference[i] - low[i]) ** 2;
      n++;
    }
  return s / n;
}

function labs(p: Picture, where: Uint8Array): Lab[] {
  const { width, height } = p;
  const rgb = [0, 1, 2].map(() => new Float32Array(width * height));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const c = (y >> 1) * (width >> 1) + (x >> 1);
      const v = ycbcrToRgb(p.y[i], p.cb[c], p.cr[c], { matrix: "bt709", range: "limited" }, 8);
      for (let k = 0; k < 3; k++) rgb[k][i] = Math.min(1, Math.max(0, v[k]));
    }
  const low = rgb.map((d) => lowPass(d, width, height));
  const out: Lab[] = [];
  where.forEach((w, i) => w && out.push(toLab(low[0][i], low[1][i], low[2][i])));
  return out;
}

const within = (d: Float32Array, where: Uint8Array) => Array.from(d).filter((_, i) => where[i]);

/** A twelfth, the power of rounding to whole codes of 8 bits: what moves by less stands still for anybody who looks. */
const UNSEEN = 1 / 12;

/**
 * The energy in time of the noise within a mask against that around it, from two frames each of a result and of the untouched take, their
 * truths taken off: 1 as in the footage, 0 where it stands still.
 */
export function movingGrain(
  result: readonly [Picture, Picture],
  take: readonly [Picture, Picture],
  truth: readonly [Picture, Picture],
  inside: Uint8Array,
  around: Uint8Array,
): number {
  const { width, height } = truth[0];
  const inTime = ([a, b]: readonly [Picture, Picture]) => minus(minus(b.y, truth[1].y), minus(a.y, truth[0].y));
  const of = (pair: readonly [Picture, Picture], where: Uint8Array) => noisePower(inTime(pair), width, height, where) + UNSEEN;
  return of(result, inside) / of(take, around);
}

const minus = (a: Float32Array, b: Float32Array) => a.map((v, i) => v - b[i]);

/**
 * Standard deviation of a take's own noise, 8-bit luma codes, where `where` is 1.
 * Light that is a hair brighter than the truth says is none of the noise, so the mean is taken off.
 */
export function noiseOf(take: Picture, truth: Picture, where: Uint8Array): number {
  const d = minus(take.y, truth.y);
  let [s, q, n] = [0, 0, 0];
  for (let i = 0; i < d.length; i++)
    if (where[i]) {
      s += d[i];
      q += d[i] * d[i];
      n++;
    }
  return Math.sqrt(q / n - (s / n) ** 2);
}

/** What a take has by itself where it is mended, in frames in which nothing has to be. */
export interface Ground {
  /** How much more noise it has within than around, and how much more of it moves: two grounds are not alike, and a mended picture is to have the noise of its own. */
  noise: number;
  moves: number;
  /** How far its light and its edge are off the truth by its own coding and noise, as `Figures` tell them. */
  light: number;
  edge: number;
}

/** From frames of the take and their truths, two at least. */
export function groundOf(take: readonly Picture[], truth: readonly Picture[], { inside, edge, around }: Areas): Ground {
  const { width, height } = truth[0];
  const out = { noise: 0, moves: 0, light: 0, edge: 0 };
  for (let k = 1; k < take.length; k++) {
    const own = minus(take[k].y, truth[k].y);
    out.noise += Math.log(noisePower(own, width, height, inside) / noisePower(own, width, height, around));
    const both = [take[k - 1], take[k]] as const;
    out.moves += Math.log(movingGrain(both, both, [truth[k - 1], truth[k]], inside, around));
    out.light += lightOff(own, width, height, inside);
    out.edge += edgeOff(labs(take[k], edge), labs(truth[k], edge));
  }
  const n = take.length - 1;
  return { noise: Math.exp(out.noise / n), moves: Math.exp(out.moves / n), light: out.light / n, edge: out.edge / n };
}

const lightOff = (off: Float32Array, width: number, height: number, inside: Uint8Array) =>
  p95(within(blur(off, width, height, 1, 8), inside).map(Math.abs));
const edgeOff = (a: readonly Lab[], b: readonly Lab[]) => p95(a.map((l, i) => ciede2000(l, b[i])));

/** Judges results of one frame against its `truth`, with the untouched `take` and the intruder's own matte (0–255) beside them. */
export function judge(truth: Picture, take: Picture, matte: Uint8Array, { inside, edge, around }: Areas): (result: Picture) => Figures {
  const { width, height } = truth;
  const plane = (p: Picture) => ({ width, height, data: p.y });
  const colours = labs(truth, edge);
  const own = minus(take.y, truth.y);
  const noise = noisePower(own, width, height, around);
  return (result) => {
    const off = minus(result.y, truth.y);
    let [rs, ss] = [0, 0];
    for (let i = 0; i < off.length; i++)
      if (matte[i] > 127) {
        rs += off[i] * own[i];
        ss += own[i] * own[i];
      }
    return {
      psnr: psnr(plane(result), plane(truth), 255, inside),
      ssim: ssim(plane(result), plane(truth), {}, inside),
      edge: edgeOff(labs(result, edge), colours),
      light: lightOff(off, width, height, inside),
      noise: noisePower(off, width, height, inside) / noise,
      left: ss ? rs / ss : 0,
    };
  };
}
