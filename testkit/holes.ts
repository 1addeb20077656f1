import { join } from "node:path";
import { frames } from "../demo/make/decode";
import { frameFromBytes } from "../src/core/pixels/frame";
import { ciede2000, toLab } from "../src/core/measure/ciede2000";
import { toRgba8 } from "../src/core/pixels/toRgb";
import { distanceTo } from "../src/core/retouch/fill/distance";
import { CHANNELS, createFillPicture, type FillPicture } from "../src/core/retouch/fill/picture";

/** A hole cut into the truth of a demo take, whose filling can be held against what was there. */
export interface Hole {
  take: string;
  name: string;
  x: number;
  y: number;
  w: number;
  h: number;
}

/** Sizes of the truth pictures. */
const SIZES: Record<string, [number, number]> = { hall: [1280, 720], office: [1100, 950], quay: [1280, 540], hull: [390, 220], letter: [1160, 810] };
const hole = (take: string, name: string, x: number, y: number, w: number, h: number): Hole => ({ take, name, x, y, w, h });

/** Twelve: textures, straight edges that cross, slow changes of tone. Chosen once, by looking at the pictures, before any of them was filled. */
export const HOLES: Hole[] = [
  hole("hall", "boards of the wall", 147, 453, 98, 74),
  hole("hall", "edge of the door", 955, 294, 50, 98),
  hole("hall", "floor tiles", 1030, 642, 120, 56),
  hole("hall", "light on the wall", 588, 147, 122, 123),
  hole("hall", "bench", 416, 416, 147, 86),
  hole("office", "drawers", 227, 596, 58, 116),
  hole("office", "planks of the floor", 110, 829, 146, 87),
  hole("office", "pipe before two colours", 619, 262, 88, 174),
  hole("quay", "stones", 257, 392, 123, 73),
  hole("quay", "edge of the quay", 86, 282, 98, 48),
  hole("hull", "paint", 80, 60, 100, 80),
  hole("letter", "gold lines", 491, 45, 149, 62),
];

export interface Cut {
  /** R, G, B, interleaved, 0–255: what was there. */
  truth: Float32Array;
  /** The same with the hole in it, ready to be filled. */
  picture: FillPicture;
  width: number;
  height: number;
}

/** Cuts a hole with round corners out of the first frame of a truth, with as much around it as it is large. */
export function cut({ take, x, y, w, h }: Hole): Cut {
  const [W, H] = SIZES[take];
  const [raw] = [...frames(join(import.meta.dirname, `../demo/truth/${take}-clean.mkv`), [0], "yuv420p", W * H * 1.5)];
  const frame = frameFromBytes(new Uint8Array(raw), W, H, { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false });
  const far = Math.max(w, h);
  const r = { x0: Math.max(0, x - far), y0: Math.max(0, y - far), x1: Math.min(W, x + w + far), y1: Math.min(H, y + h + far) };
  const [width, height] = [r.x1 - r.x0, r.y1 - r.y0];
  const rgba = new Uint8ClampedArray(4 * width * height);
  toRgba8(frame, { matrix: "bt709", range: "limited", siting: "left", primaries: "bt709", transfer: "bt709" }, r, rgba, "linear");
  const picture = createFillPicture(width, height);
  const truth = new Float32Array(3 * width * height);
  for (let i = 0; i < width * height; i++) {
    const u = ((i % width) + r.x0 - x - w / 2) / (w / 2);
    const v = (Math.floor(i / width) + r.y0 - y - h / 2) / (h / 2);
    picture.hole[i] = u ** 4 + v ** 4 < 1 ? 1 : 0;
    for (let k = 0; k < 3; k++) {
      truth[3 * i + k] = rgba[4 * i + k];
      if (!picture.hole[i]) picture.data[CHANNELS * i + k] = rgba[4 * i + k];
    }
  }
  return { truth, picture, width, height };
}

/** The colours of a working picture. */
export const coloursOf = (p: FillPicture): Float32Array => {
  const out = new Float32Array(3 * p.width * p.height);
  for (let i = 0; i < p.width * p.height; i++) for (let k = 0; k < 3; k++) out[3 * i + k] = p.data[CHANNELS * i + k];
  return out;
};

/** PSNR in dB over the hole, all three channels. */
export function holePsnr(a: Float32Array, truth: Float32Array, hole: Uint8Array): number {
  let [sum, n] = [0, 0];
  for (let i = 0; i < hole.length; i++) if (hole[i]) for (let k = 0; k < 3; k++, n++) sum += (a[3 * i + k] - truth[3 * i + k]) ** 2;
  return 10 * Math.log10((255 * 255 * n) / sum);
}

const lumaOf = (a: Float32Array) =>
  Float32Array.from({ length: a.length / 3 }, (_, i) => 0.2126 * a[3 * i] + 0.7152 * a[3 * i + 1] + 0.0722 * a[3 * i + 2]);

/** Mean SSIM (Wang et al. 2004) of luma over the hole, by squares of 7 × 7. */
export function holeSsim(a: Float32Array, truth: Float32Array, hole: Uint8Array, w: number, h: number): number {
  const [p, q] = [lumaOf(a), lumaOf(truth)];
  let [sum, n] = [0, 0];
  for (let y = 3; y < h - 3; y++)
    for (let x = 3; x < w - 3; x++) {
      if (!hole[y * w + x]) continue;
      let [ma, mb, aa, bb, ab] = [0, 0, 0, 0, 0];
      for (let j = -3; j <= 3; j++)
        for (let i = -3; i <= 3; i++) {
          const u = p[(y + j) * w + x + i];
          const v = q[(y + j) * w + x + i];
          ma += u;
          mb += v;
          aa += u * u;
          bb += v * v;
          ab += u * v;
        }
      ma /= 49;
      mb /= 49;
      const c1 = (0.01 * 255) ** 2;
      const c2 = (0.03 * 255) ** 2;
      sum += ((2 * ma * mb + c1) * (2 * (ab / 49 - ma * mb) + c2)) / ((ma * ma + mb * mb + c1) * (aa / 49 - ma * ma + bb / 49 - mb * mb + c2));
      n++;
    }
  return sum / n;
}

/** Pixels within 3 px of the hole's rim, on either side. */
function rimOf(hole: Uint8Array, w: number, h: number): number[] {
  const [inside, outside] = [distanceTo(hole, w, h, 0), distanceTo(hole, w, h, 1)];
  return [...hole.keys()].filter((i) => (hole[i] ? inside[i] : outside[i]) <= 3);
}

/** Low-passed by a Gaussian of σ 2 px. */
function lowPassed(v: Float32Array, w: number, h: number): Float32Array {
  const kernel = Array.from({ length: 13 }, (_, i) => Math.exp(-((i - 6) ** 2) / 8));
  const sum = kernel.reduce((a, b) => a + b, 0);
  const pass = (from: Float32Array, dx: number, dy: number) => {
    const to = new Float32Array(from.length);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++)
        for (let k = 0; k < 3; k++) {
          let s = 0;
          for (let t = -6; t <= 6; t++)
            s += kernel[t + 6] * from[3 * (Math.min(h - 1, Math.max(0, y + t * dy)) * w + Math.min(w - 1, Math.max(0, x + t * dx))) + k];
          to[3 * (y * w + x) + k] = s / sum;
        }
    return to;
  };
  return pass(pass(v, 1, 0), 0, 1);
}

/** CIEDE2000 against the truth within 3 px of the hole's rim, both low-passed with σ 2 px: the 95th percentile. */
export function rimError(a: Float32Array, truth: Float32Array, hole: Uint8Array, w: number, h: number): number {
  const [p, q] = [lowPassed(a, w, h), lowPassed(truth, w, h)];
  const lab = (v: Float32Array, i: number) => toLab(v[3 * i] / 255, v[3 * i + 1] / 255, v[3 * i + 2] / 255);
  const off = rimOf(hole, w, h)
    .map((i) => ciede2000(lab(p, i), lab(q, i)))
    .sort((x, y) => x - y);
  return off[Math.floor(0.95 * off.length)];
}
