import { random } from "../../../src/core/random";
import type { Image } from "../image";

/** Value noise that repeats after 1024 whole places: 0 … 1, smooth between whole places. */
export function valueNoise(seed: number): (x: number, y: number) => number {
  const at = (x: number, y: number) => random(Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(seed + 1, 83492791))();
  const s = (t: number) => t * t * (3 - 2 * t);
  const kept = new Float32Array(1 << 20).fill(-1);
  const corner = (x: number, y: number) => {
    const key = ((x & 1023) << 10) | (y & 1023);
    return kept[key] < 0 ? (kept[key] = at(x & 1023, y & 1023)) : kept[key];
  };
  return (x, y) => {
    const [ix, iy] = [Math.floor(x), Math.floor(y)];
    const [tx, ty] = [s(x - ix), s(y - iy)];
    const row = (j: number) => corner(ix, j) + tx * (corner(ix + 1, j) - corner(ix, j));
    return row(iy) + ty * (row(iy + 1) - row(iy));
  };
}

/** Octaves of value noise, 0 … 1. @param size of the coarsest, pixels */
export function clouds(seed: number, size: number, octaves = 4): (x: number, y: number) => number {
  const list = Array.from({ length: octaves }, (_, i) => valueNoise(seed * 31 + i));
  return (x, y) => {
    let [sum, all, w, f] = [0, 0, 1, 1 / size];
    for (const n of list) {
      sum += w * n(x * f, y * f);
      all += w;
      w /= 2;
      f *= 2;
    }
    return sum / all;
  };
}

type Rgb = [number, number, number];
type Paint = (x: number, y: number) => Rgb;
const mix = (a: Rgb, b: Rgb, t: number): Rgb => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])];
const times = (a: Rgb, k: number): Rgb => [a[0] * k, a[1] * k, a[2] * k];
/** How far a pixel lies within [from, to], with an edge a pixel wide. */
const within = (v: number, from: number, to: number) => Math.min(1, Math.max(0, v - from + 0.5)) * Math.min(1, Math.max(0, to - v + 0.5));

/** What stands before the camera, by kind: brick fronts, hills, shelves, boards, tiles, a bare wall. R′G′B′, 0 … 1. */
const SCENES = {
  front: (seed: number, w: number, h: number): Paint => {
    const rnd = random(seed);
    const fine = clouds(seed, 9, 3);
    const stains = clouds(seed + 1, h / 2);
    const windows = Array.from({ length: 3 }, (_, i) => ({
      x: w * (0.12 + 0.3 * i + 0.06 * rnd()),
      y: h * (0.25 + 0.1 * rnd()),
      w: w * 0.13,
      h: h * 0.3,
    }));
    const base: Rgb = [0.45 + 0.15 * rnd(), 0.3 + 0.08 * rnd(), 0.24];
    const tone = valueNoise(seed + 2);
    return (x, y) => {
      const row = Math.floor(y / 11);
      const u = x + (row % 2) * 14;
      const joint = Math.max(1 - within(y % 11, 1.2, 10.8), 1 - within(((u % 28) + 28) % 28, 1.2, 27.8));
      let c = times(base, 0.75 + 0.5 * tone(Math.floor(u / 28) + 0.5, row + 0.5));
      c = mix(c, [0.55, 0.53, 0.5], 0.7 * joint);
      c = times(c, 0.8 + 0.25 * stains(x, y) + 0.18 * (fine(x, y) - 0.5));
      for (const o of windows) {
        const a = within(x, o.x, o.x + o.w) * within(y, o.y, o.y + o.h);
        if (a) c = mix(c, mix([0.12, 0.15, 0.2], [0.5, 0.58, 0.66], 0.6 * stains(3 * x, 2 * y)), a);
        const bar = a * within(Math.abs(x - o.x - o.w / 2), -9, 1.5);
        if (bar) c = mix(c, [0.78, 0.77, 0.72], bar);
      }
      return c;
    };
  },
  hills: (seed: number, w: number, h: number): Paint => {
    const line = clouds(seed, w / 3, 5);
    const [leaf, sky] = [clouds(seed + 1, 14, 4), clouds(seed + 2, w / 2, 4)];
    return (x, y) => {
      const far = h * (0.3 + 0.25 * line(x, 0));
      const near = h * (0.5 + 0.3 * line(x * 1.3 + 900, 50));
      let c = mix([0.55, 0.68, 0.85], [0.86, 0.88, 0.9], Math.min(1, (y / h) * 1.3) * 0.6 + 0.4 * sky(x, 2 * y));
      c = mix(c, times([0.42, 0.5, 0.52], 0.85 + 0.3 * leaf(x, y)), within(y, far, 2 * h));
      return mix(c, times([0.33, 0.4, 0.2], 0.5 + leaf(x * 0.7, y * 1.1)), within(y, near, 2 * h));
    };
  },
  shelves: (seed: number, w: number, h: number): Paint => {
    const wood = clouds(seed, 60, 5);
    const rnd = random(seed);
    const boxes = Array.from({ length: 34 }, (_, i) => {
      const shelf = i % 3;
      const bh = h * (0.1 + 0.13 * rnd());
      return {
        x: w * rnd(),
        w: w * (0.03 + 0.06 * rnd()),
        y: h * (0.3 + 0.3 * shelf) - bh,
        h: bh,
        c: [0.15 + 0.7 * rnd(), 0.15 + 0.6 * rnd(), 0.15 + 0.6 * rnd()] as Rgb,
      };
    });
    const fine = clouds(seed + 7, 6, 2);
    return (x, y) => {
      let c: Rgb = times([0.5, 0.46, 0.4], 0.85 + 0.2 * wood(x, y));
      for (const b of boxes) {
        const a = within(x, b.x, b.x + b.w) * within(y, b.y, b.y + b.h);
        if (!a) continue;
        const label = within(y, b.y + b.h * 0.4, b.y + b.h * 0.55);
        c = mix(c, times(mix(b.c, [0.9, 0.88, 0.82], label), 0.85 + 0.25 * fine(x, y) - (0.25 * (x - b.x)) / b.w), a);
      }
      for (const s of [0, 1, 2])
        c = mix(c, times([0.36, 0.24, 0.15], 0.7 + 0.6 * wood(x * 0.2, y * 3)), within(y, h * (0.3 + 0.3 * s), h * (0.3 + 0.3 * s) + 8));
      return c;
    };
  },
  boards: (seed: number, w: number, h: number): Paint => {
    const grain = clouds(seed, 40, 5);
    const knots = valueNoise(seed + 3);
    return (x, y) => {
      const board = Math.floor(y / (h / 6));
      const ring = 0.5 + 0.5 * Math.sin(0.35 * (y + 26 * grain(x * 0.12 + board * 77, y * 0.8)) + board);
      const c = mix([0.56, 0.4, 0.24], [0.36, 0.23, 0.12], 0.65 * ring * grain(x * 0.3, y * 2));
      return times(c, (0.8 + 0.4 * knots(board * 3.3, x / w)) * (0.55 + 0.45 * within(y % (h / 6), 1.5, h / 6 - 1)));
    };
  },
  tiles: (seed: number, w: number, h: number): Paint => {
    const tone = valueNoise(seed);
    const dirt = clouds(seed + 1, h / 3);
    return (x, y) => {
      const [i, j] = [Math.floor(x / 23), Math.floor(y / 23)];
      const face = within(((x % 23) + 23) % 23, 1, 22) * within(y % 23, 1, 22);
      const c = mix([0.66, 0.64, 0.6], (i + j) % 5 === 0 ? [0.2, 0.34, 0.42] : [0.8, 0.82, 0.8], face);
      return times(c, 0.75 + 0.12 * tone(i + 0.5, j + 0.5) + 0.18 * dirt(x, y) - 0.1 * (x / w));
    };
  },
  wall: (seed: number, w: number, h: number): Paint => {
    const plaster = clouds(seed, 5, 2);
    const wash = clouds(seed + 1, w, 3);
    return (x, y) => times([0.62, 0.6, 0.55], 0.8 + 0.3 * wash(x, y) - (0.3 * y) / h + 0.03 * (plaster(x, y) - 0.5));
  },
} satisfies Record<string, (seed: number, w: number, h: number) => Paint>;

export type SceneKind = keyof typeof SCENES;

export function paintScene(kind: SceneKind, seed: number, width: number, height: number): Image {
  const paint = SCENES[kind](seed, width, height);
  const data = new Float32Array(width * height * 3);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i += 3) data.set(paint(x, y), i);
  return { width, height, data };
}
