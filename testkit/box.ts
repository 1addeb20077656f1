import { inverse, type Homography, mapped, type Place } from "../src/core/follow/homography";
import { random } from "../src/core/random";
import { pinhole } from "./card";
import { normals } from "./normals";

/** A film's size, and that of the printed side of the box in its own units, finely sampled. */
export const FILM = { width: 640, height: 480 } as const;
const SIDE = { width: 160, height: 220 } as const;
const FINE = 3;
/** Looks at a frame while its shutter is open, and the share of a frame for which it is. */
const LOOKS = 4;
const OPEN = 0.6;
const LENS = 700;

/** How a printed box is turned about by hand. */
export interface Turning {
  seed: number;
  /** How quickly, how steeply, how far about the line of sight (radians), how near and far (log scale). */
  speed: number;
  tilt: number;
  roll: number;
  zoom: number;
  /** Codes of a highlight that wanders over it. */
  gloss: number;
}

type Print = (x: number, y: number) => number;

/** Blocks, discs and lines of print; NaN beyond its edges. */
function print(seed: number): Print {
  const [w, h] = [SIDE.width * FINE, SIDE.height * FINE];
  const rnd = random(seed);
  const data = new Float32Array(w * h).fill(150);
  const fill = (x0: number, y0: number, x1: number, y1: number, value: number, within = (_x: number, _y: number) => true) => {
    for (let y = Math.max(0, Math.floor(y0 * FINE)); y < Math.min(h, y1 * FINE); y++)
      for (let x = Math.max(0, Math.floor(x0 * FINE)); x < Math.min(w, x1 * FINE); x++) if (within(x / FINE, y / FINE)) data[y * w + x] = value;
  };
  fill(0, 0, SIDE.width, 60, 60);
  fill(0, 170, SIDE.width, SIDE.height, 200);
  for (let k = 0; k < 60; k++) {
    const [x, y, value, round, r] = [rnd() * SIDE.width, rnd() * SIDE.height, 30 + 200 * rnd(), rnd() < 0.5, 2 + 12 * rnd()];
    if (round) fill(x - r, y - r, x + r, y + r, value, (u, v) => (u - x) ** 2 + (v - y) ** 2 < r * r);
    else fill(x, y, x + 4 + 2 * r, y + 2 + r, value);
  }
  for (let line = 0; line < 6; line++) for (let x = 20; x < 140; x += 3) if (rnd() < 0.7) fill(x, 90 + 8 * line, x + 2, 94 + 8 * line, 40);
  return (x, y) => {
    const [u, v] = [Math.floor(x * FINE), Math.floor(y * FINE)];
    return u < 0 || v < 0 || u >= w || v >= h ? NaN : data[v * w + u];
  };
}

/** Where the box is at a time, counted in frames, and how bright. */
function poses({ seed, speed, tilt, roll, zoom }: Turning) {
  const rnd = random(seed * 77);
  const phase = Array.from({ length: 8 }, () => 2 * Math.PI * rnd());
  const rate = phase.map(() => 0.6 + 0.8 * rnd());
  const sway = (k: number, t: number) => Math.sin((speed * rate[k] * t) / 18 + phase[k]) - Math.sin(phase[k]);
  const tremor = (k: number, t: number) => 1.2 * Math.sin(1.7 * rate[k] * t + phase[k]);
  return {
    /** From the box's side to the picture. */
    at: (t: number): Homography =>
      pinhole(
        { ...SIDE, lens: LENS },
        ...([0.1 + 0.5 * tilt * sway(0, t), 0.5 * tilt * sway(1, t), 0.1 + 0.5 * roll * sway(2, t)] as const),
        Math.exp(0.5 * zoom * sway(3, t)),
        ...([FILM.width / 2 + 49 * sway(4, t) + tremor(6, t), FILM.height / 2 + 28 * sway(5, t) + tremor(7, t)] as const),
      ),
    bright: (t: number) => 1 - 0.125 * tilt * sway(1, t) - 0.05 * sway(0, t),
  };
}

/** Things that stand behind it. */
function ground(seed: number): Float32Array {
  const rnd = random(seed + 5);
  const out = new Float32Array(FILM.width * FILM.height).fill(110);
  for (let k = 0; k < 60; k++) {
    const [x, y, r, value] = [rnd() * FILM.width, rnd() * FILM.height, 10 + 60 * rnd(), 40 + 170 * rnd()];
    for (let j = Math.max(0, Math.floor(y - r)); j < Math.min(FILM.height, y + r); j++)
      for (let i = Math.max(0, Math.floor(x - r)); i < Math.min(FILM.width, x + r); i++) out[j * FILM.width + i] = value;
  }
  return out;
}

/** What holds it: fingers along its left edge, NaN elsewhere. */
function fingers(x: number, y: number): number {
  for (const at of [120, 144, 168]) {
    const [dx, dy] = [(x - 2) / 16, (y - at) / 9];
    if (dx * dx + dy * dy < 1) return 165 + 10 * Math.sin(x / 3);
    if (Math.abs(y - at) < 9 && x < -3 && x > -60) return 160;
  }
  return NaN;
}

/** A printed box turned about by hand, frame by frame as 4:2:0, and where the corners of its side truly are. */
export function turnedBox(how: Turning, count: number) {
  const tone = print(how.seed);
  const back = ground(how.seed);
  const { at, bright } = poses(how);
  const { width, height } = FILM;
  const look = (t: number, [ox, oy]: readonly [number, number], sum: Float32Array) => {
    const b = inverse(at(t))!;
    const [gx, gy] = [80 + 70 * Math.sin(t / 20), 110 + 90 * Math.cos(t / 27)];
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const [px, py] = [x + ox, y + oy];
        const w = b[6] * px + b[7] * py + b[8];
        const [u, v] = [(b[0] * px + b[1] * py + b[2]) / w, (b[3] * px + b[4] * py + b[5]) / w];
        const [held, printed] = w * b[8] > 0 ? [fingers(u, v), tone(u, v)] : [NaN, NaN];
        const shine = how.gloss && how.gloss * Math.exp(-((u - gx) ** 2 + (v - gy) ** 2) / 1250);
        const value = !Number.isNaN(held) ? held * bright(t) : Number.isNaN(printed) ? back[i] : printed * bright(t) + shine;
        sum[i] += Math.min(255, value) / LOOKS;
      }
  };
  function* frames(): Generator<Uint8Array> {
    for (let n = 0; n < count; n++) {
      const normal = normals(n + 31);
      const sum = new Float32Array(width * height);
      const places = [[0.3, 0.3], [0.7, 0.3], [0.3, 0.7], [0.7, 0.7]] as const; // prettier-ignore
      for (const [k, place] of places.entries()) look(n + ((k + 0.5) / LOOKS - 0.5) * OPEN, place, sum);
      const out = new Uint8Array((width * height * 3) / 2).fill(128);
      for (let i = 0; i < sum.length; i++) out[i] = Math.max(0, Math.min(255, Math.round(sum[i] + 2.5 * normal())));
      yield out;
    }
  }
  const corners: Place[] = [[0, 0], [SIDE.width, 0], [SIDE.width, SIDE.height], [0, SIDE.height]]; // prettier-ignore
  return { frames, cornersAt: (n: number): Place[] => corners.map((p) => mapped(at(n), p)!) };
}
