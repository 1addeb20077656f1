import { createFrame, type Frame, type PixelFormat } from "../src/core/pixels/frame";
import { random } from "../src/core/random";
import { normals } from "./normals";

const FORMAT: PixelFormat = { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false };
export const [WIDE, HIGH, LONG] = [256, 160, 20];

type Rgb = [number, number, number];
interface Walker {
  x: number;
  speed: number;
  y: number;
  coat: Rgb;
}

/** A made-up street: a pied ground, walkers, and a boom from above that swings before them and throws a shadow. */
export class Street {
  private readonly ground: Rgb[];
  private readonly walkers: Walker[];
  /** How much larger things are than at the usual size. */
  private readonly k: number;
  /** @param far whether the walkers keep clear of the boom, below it */
  constructor(
    private readonly seed: number,
    private readonly size = { wide: WIDE, high: HIGH },
    far = false,
  ) {
    const rnd = random(seed);
    const { wide, high } = size;
    this.k = wide / WIDE;
    this.ground = Array.from({ length: wide * high }, (_, i): Rgb => {
      const [x, y] = [i % wide, Math.floor(i / wide)];
      const v = 120 + 25 * Math.sin(x / 31 + seed) * Math.cos(y / 23) + (((x >> 4) + (y >> 3)) % 2) * 10;
      return [v, 0.97 * v, 0.9 * v];
    });
    for (let k = 0; k < 50 * this.k * this.k; k++) {
      const [x0, y0, w, h] = [rnd() * wide, rnd() * high, 4 + 24 * rnd(), 4 + 20 * rnd()].map(Math.floor);
      const c = [0, 1, 2].map(() => 20 + 200 * rnd());
      for (let y = y0; y < Math.min(high, y0 + h); y++)
        for (let x = x0; x < Math.min(wide, x0 + w); x++) this.ground[y * wide + x] = this.ground[y * wide + x].map((v, p) => (v + c[p]) / 2) as Rgb;
    }
    this.walkers = Array.from({ length: 4 }, () => ({
      x: rnd() * wide,
      speed: (rnd() < 0.5 ? -1 : 1) * (2 + 3 * rnd()),
      y: (far ? 95 + 15 * rnd() : 50 + 60 * rnd()) * this.k,
      coat: [0, 1, 2].map(() => 20 + 200 * rnd()) as Rgb,
    }));
  }

  /** Where the boom's tip is, and how it hangs. */
  private boom(n: number) {
    return {
      x: this.k * (128 + 55 * Math.sin(n / 5 + this.seed)),
      y: this.k * (48 + 14 * Math.sin(n / 7)),
      angle: 0.3 * Math.sin(n / 6 + this.seed),
    };
  }

  /** The boom's share of a pixel. */
  covers(n: number, x: number, y: number): number {
    const { x: tx, y: ty, angle } = this.boom(n);
    const [dx, dy] = [Math.sin(angle), -Math.cos(angle)];
    const [px, py] = [x + 0.5 - tx, y + 0.5 - ty];
    const [along, off] = [px * dx + py * dy, Math.abs(px * dy - py * dx)];
    const pole = along > 0 ? Math.min(1, Math.max(0, 3 * this.k - off)) : 0;
    const head = Math.min(1, Math.max(0, (1 - Math.hypot((along / this.k + 8) / 14, off / this.k / 7)) * 7 * this.k + 0.5));
    return Math.max(pole, head);
  }

  /** A loop round its head and some of its pole. */
  loop(n: number): [number, number][] {
    const { x, y, angle } = this.boom(n);
    const at = (along: number, off: number): [number, number] => [
      x + Math.sin(angle) * along - Math.cos(angle) * off,
      y - Math.cos(angle) * along - Math.sin(angle) * off,
    ];
    return ([[-27, 9], [-8, 13], [25, 8], [25, -8], [-8, -13], [-27, -9]] as const).map(([a, o]) => at(this.k * a, this.k * o)); // prettier-ignore
  }

  /** A form round all of it, by so many pixels more; its shadow has the same, farther right and below. */
  form(n: number, room: number, shadow = false): [number, number][] {
    const { x, y, angle } = this.boom(n);
    const [sx, sy] = shadow ? [30 * this.k, 6 * this.k] : [0, 0];
    const at = (along: number, off: number): [number, number] => [
      x + sx + Math.sin(angle) * along - Math.cos(angle) * off,
      y + sy - Math.cos(angle) * along - Math.sin(angle) * off,
    ];
    const [head, pole, far] = [7 * this.k + room, 3 * this.k + room, 3 * this.size.high];
    const [tip, neck] = [-22 * this.k - room, 6 * this.k + room];
    return [at(tip, head), at(neck, head), at(neck, pole), at(far, pole), at(far, -pole), at(neck, -pole), at(neck, -head), at(tip, -head)];
  }

  /** What is seen, the boom left out where it is not wanted. @param noise σ, codes */
  frame(n: number, { noise = 2, boom = true, walkers = true }: { noise?: number; boom?: boolean; walkers?: boolean } = {}): Frame {
    const { wide, high } = this.size;
    const normal = normals(this.seed * 1000 + n);
    const out = createFrame(wide, high, FORMAT);
    const [cb, cr] = [new Float64Array(wide * high), new Float64Array(wide * high)];
    for (let y = 0, i = 0; y < high; y++)
      for (let x = 0; x < wide; x++, i++) {
        let [r, g, b] = this.ground[i];
        // the boom's shadow, on the ground to its right
        const shade = boom ? 1 - 0.35 * this.covers(n, x - 30 * this.k, y - 6 * this.k) : 1;
        [r, g, b] = [r * shade, g * shade, b * shade];
        for (const w of walkers ? this.walkers : []) {
          const way = wide + 60;
          const off = Math.abs(x - ((((w.x + w.speed * n) % way) + way) % way) + 30) / this.k;
          const down = (y - w.y) / (45 * this.k);
          if (down < 0 || down > 1 || off > (down < 0.2 ? 5 : 9)) continue;
          [r, g, b] = down < 0.2 ? [190, 150, 125] : w.coat;
        }
        const a = boom ? this.covers(n, x, y) : 0;
        [r, g, b] = [r + a * (48 - r), g + a * (47 - g), b + a * (50 - b)];
        // BT.601, limited range
        out.planes[0].data[i] = Math.max(0, Math.min(255, Math.round(16 + 0.257 * r + 0.504 * g + 0.098 * b + noise * normal())));
        cb[i] = 128 - 0.148 * r - 0.291 * g + 0.439 * b;
        cr[i] = 128 + 0.439 * r - 0.368 * g - 0.071 * b;
      }
    for (const [p, c] of [cb, cr].entries()) {
      const { width, height, data } = out.planes[p + 1];
      for (let y = 0, k = 0; y < height; y++)
        for (let x = 0; x < width; x++, k++) {
          const i = 2 * y * wide + 2 * x;
          data[k] = Math.round((c[i] + c[i + 1] + c[i + wide] + c[i + wide + 1]) / 4 + 0.5 * noise * normal());
        }
    }
    return out;
  }
}
