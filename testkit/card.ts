import { inverse, type Homography, type Place, times } from "../src/core/follow/homography";
import type { Gray } from "../src/core/motion/gray";
import { random } from "../src/core/random";
import { normals } from "./normals";

/** A frame's size, and the card's in its own units. */
export const [W, H] = [320, 240];
const SIDE = 200;
const FINE = 3;
/** Blobs on a card, finely sampled. */
const card = (() => {
  const rnd = random(4);
  const out = new Float32Array((SIDE * FINE) ** 2);
  for (let k = 0; k < 420; k++) {
    const [cx, cy, s, a] = [rnd() * SIDE, rnd() * SIDE, 2 + 8 * rnd() ** 2, (rnd() - 0.5) * 120];
    const r = 3 * s;
    for (let y = Math.max(0, Math.floor((cy - r) * FINE)); y < Math.min(SIDE * FINE, (cy + r) * FINE); y++)
      for (let x = Math.max(0, Math.floor((cx - r) * FINE)); x < Math.min(SIDE * FINE, (cx + r) * FINE); x++) {
        const d = ((x / FINE - cx) ** 2 + (y / FINE - cy) ** 2) / (s * s);
        out[y * SIDE * FINE + x] += a * (d < 1 ? 1 : Math.exp(-2 * (d - 1)));
      }
  }
  return out;
})();
function onCard(x: number, y: number): number {
  const [u, v] = [x * FINE - 0.5, y * FINE - 0.5];
  const [i, j] = [Math.floor(u), Math.floor(v)];
  if (i < 0 || j < 0 || i >= SIDE * FINE - 1 || j >= SIDE * FINE - 1) return NaN;
  const k = j * SIDE * FINE + i;
  const below = k + SIDE * FINE;
  const [upper, lower] = [card[k] + (u - i) * (card[k + 1] - card[k]), card[below] + (u - i) * (card[below + 1] - card[below])];
  return upper + (v - j) * (lower - upper);
}

/** How a frame shows the card. */
export interface Look {
  noise?: number;
  gain?: number;
  offset?: number;
  /** Box-blurred over so many pixels across. */
  blur?: number;
  hidden?: (x: number, y: number) => boolean;
  /** Where on the card a highlight lies, and how wide it is: its light comes on top. */
  gloss?: { x: number; y: number; sigma: number };
}

/** A frame that shows the card as a map lays it, before a soft ground. */
export function cardFrame(map: Homography, seed: number, { noise = 1.5, gain = 1, offset = 0, blur = 1, hidden, gloss }: Look = {}): Gray {
  const normal = normals(seed + 99);
  const back = inverse(map)!;
  const sharp = new Float32Array(W * H);
  for (let y = 0, i = 0; y < H; y++)
    for (let x = 0; x < W; x++, i++) {
      let s = 0;
      for (let k = 0; k < 4; k++) {
        const [px, py] = [x + 0.25 + 0.5 * (k & 1), y + 0.25 + 0.25 * (k & 2)];
        const w = back[6] * px + back[7] * py + back[8];
        const [cx, cy] = [(back[0] * px + back[1] * py + back[2]) / w, (back[3] * px + back[4] * py + back[5]) / w];
        const v = w > 0 ? onCard(cx, cy) : NaN;
        s += Number.isNaN(v) ? 25 * Math.sin(x / 17) * Math.cos(y / 13) : v;
        if (gloss) s += 70 * Math.exp(-((cx - gloss.x) ** 2 + (cy - gloss.y) ** 2) / (2 * gloss.sigma ** 2));
      }
      sharp[i] = hidden?.(x, y) ? 70 + 20 * Math.sin(0.7 * x + 0.3 * y) : 120 + s / 4;
    }
  const data = new Uint8Array(W * H);
  for (let y = 0, i = 0; y < H; y++)
    for (let x = 0; x < W; x++, i++) {
      let s = 0;
      for (let k = 0; k < blur; k++) s += sharp[y * W + Math.min(W - 1, Math.max(0, x + k - (blur >> 1)))] / blur;
      data[i] = Math.max(0, Math.min(255, Math.round(gain * s + offset + noise * normal())));
    }
  return { width: W, height: H, data };
}

/** The card turned about its middle in space, before a lens of 500 px. */
export const pose = (rx: number, ry: number, rz: number, scale: number, tx: number, ty: number): Homography =>
  pinhole({ width: SIDE, height: SIDE, lens: 500 }, rx, ry, rz, scale, tx, ty);

/** A plane turned about its middle in space, as a lens sees it (the pinhole camera, from memory). @param lens its focal length, pixels */
export function pinhole(
  { width, height, lens: f }: { width: number; height: number; lens: number },
  ...[rx, ry, rz, scale, tx, ty]: [number, number, number, number, number, number]
): Homography {
  const [cx, sx, cy, sy, cz, sz] = [Math.cos(rx), Math.sin(rx), Math.cos(ry), Math.sin(ry), Math.cos(rz), Math.sin(rz)];
  const turned: Homography = [
    ...([f * cz * cy, f * (cz * sy * sx - sz * cx), 0] as const),
    ...([f * sz * cy, f * (sz * sy * sx + cz * cx), 0] as const),
    ...([-sy, cy * sx, f / scale] as const),
  ];
  const m = times([1, 0, tx, 0, 1, ty, 0, 0, 1], times(turned, [1, 0, -width / 2, 0, 1, -height / 2, 0, 0, 1]));
  return m.map((v) => v / m[8]) as Homography;
}

/** The corners of a box. */
export const boxAt = (x0: number, y0: number, x1: number, y1: number): Place[] => [[x0, y0], [x1, y0], [x1, y1], [x0, y1]]; // prettier-ignore
