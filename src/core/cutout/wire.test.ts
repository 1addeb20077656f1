import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { HIGH, Street, WIDE } from "../../../testkit/street";
import { Colours } from "./colours";
import { type Cut, heightOf, widthOf } from "./cut";
import { Cutter } from "./cutter";
import { edgeAlpha } from "./edge";
import { Ground } from "./ground";
import { learnPassing } from "./passing";
import { lines } from "./wire";

const [SLOPE, END] = [0.35, 130];

/** A wire from above that is drawn to the right, before a street. */
class Wire {
  private readonly street: Street;
  constructor(
    seed: number,
    /** Codes it is darker than what is behind it, and pixels it is wide. */
    private readonly contrast: number,
    private readonly wide: number,
    private readonly walkers: boolean,
  ) {
    this.street = new Street(seed);
  }
  covers(n: number, x: number, y: number): number {
    const off = Math.abs(x + 0.5 - 60 - 2 * n - SLOPE * (y + 0.5)) / Math.hypot(1, SLOPE);
    return y < END ? Math.min(1, Math.max(0, this.wide / 2 + 0.5 - off)) : 0;
  }
  frame(n: number) {
    const f = this.street.frame(n, { boom: false, walkers: this.walkers });
    const { data } = f.planes[0];
    for (let i = 0; i < data.length; i++) data[i] -= Math.round(this.contrast * this.covers(n, i % WIDE, Math.floor(i / WIDE)));
    return f;
  }
  cutter(at: number): Cutter {
    const some = [0, 3, 7, 10, 13, 16, 19].map((n) => this.frame(n));
    const ground = new Ground(this.street.frame(99, { noise: 0, boom: false, walkers: false }), false, some);
    const others = new Colours();
    for (const f of some) learnPassing(others, ground, f);
    const middle = (y: number) => 60 + 2 * at + SLOPE * y;
    return new Cutter(ground, [[middle(0) - 7, 0], [middle(0) + 7, 0], [middle(END) + 7, END - 2], [middle(END) - 7, END - 2]], others); // prettier-ignore
  }
  /** The share of it that is found within a pixel, and how much is found beyond two, as a share of it. */
  found(n: number, cut: Cut): { recall: number; beyond: number } {
    const [alpha, w] = [edgeAlpha(cut), widthOf(cut.rect)];
    const at = (x: number, y: number) => {
      const [u, v] = [x - cut.rect.x0, y - cut.rect.y0];
      return u >= 0 && v >= 0 && u < w && v < heightOf(cut.rect) && alpha[v * w + u] > 64;
    };
    const near = (r: number, holds: (x: number, y: number) => boolean, x: number, y: number) => {
      for (let j = -r; j <= r; j++) for (let i = -r; i <= r; i++) if (holds(x + i, y + j)) return true;
      return false;
    };
    let [hit, all, extra] = [0, 0, 0];
    for (let y = 2; y < HIGH - 2; y++)
      for (let x = 2; x < WIDE - 2; x++) {
        if (this.covers(n, x, y) > 0.5) {
          all++;
          if (near(1, at, x, y)) hit++;
        } else if (at(x, y)) {
          if (!near(2, (u, v) => this.covers(n, u, v) > 0, x, y)) extra++;
        }
      }
    return { recall: hit / all, beyond: extra / Math.max(1, all) };
  }
}

describe("a thin wire before a street", () => {
  // where a single pixel of it lies within three standard deviations of the noise, too
  it.each([
    [3, 60, 1],
    [11, 15, 2],
    [12, 8, 2],
  ])("is found whole and followed (street %i, %i codes, %i px wide)", (seed, contrast, wide) => {
    const wire = new Wire(seed, contrast, wide, false);
    for (const way of [1, -1]) {
      const cutter = wire.cutter(10);
      for (let n = 10; n > 7 && n < 13; n += way) {
        const { recall, beyond } = wire.found(n, cutter.next(wire.frame(n)));
        expect(recall, `frame ${n}`).toBeGreaterThan(0.98);
        expect(beyond, `frame ${n}`).toBeLessThan(0.15);
      }
    }
  });

  it("is not mixed up with those who pass behind it, though their coats have stripes beside the ground", () => {
    const wire = new Wire(12, 30, 2, true);
    const cutter = wire.cutter(13);
    for (let n = 13; n < 20; n += 2) {
      const { recall, beyond } = wire.found(n, cutter.next(wire.frame(n)));
      expect(beyond, `frame ${n}`).toBeLessThan(0.1);
      // before whom it is not told from them
      expect(recall, `frame ${n}`).toBeGreaterThan(0.6);
    }
  });
});

describe("lines", () => {
  const [w, h] = [60, 40];
  const rect = { x0: 0, y0: 0, x1: w, y1: h };
  const sight = (at: (x: number, y: number) => number) => {
    const d = Float32Array.from({ length: w * h }, (_, i) => at(i % w, Math.floor(i / w)));
    return { off: [d], z: d.map(Math.abs), rect };
  };

  it("stand out as their mean along fifteen pixels does, of whichever sign; what is wide does not", () => {
    // of 0.375 and 0.612 / √15 standard deviations of a pixel, a third off: 1.582 times
    const along = lines(sight((_, y) => (y === 20 ? -2 : 0)), -1); // prettier-ignore
    expect(along[20 * w + 30]).toBeCloseTo(2 * (2 / 3) * ((0.375 * Math.sqrt(15)) / 0.612), 4);
    expect(along[26 * w + 30]).toBe(0);
    expect(lines(sight((_, y) => (y === 20 ? -2 : 0)), 1)[20 * w + 30]).toBe(0); // prettier-ignore
    expect(lines(sight((_, y) => (y > 10 && y < 30 ? 9 : 0)), 1)[20 * w + 30]).toBe(0); // prettier-ignore
  });

  it("are hardly ever seen in noise", () => {
    const normal = normals(4);
    const raw = Float32Array.from({ length: (w + 2) * (h + 2) }, () => normal());
    const k = [0.25, 0.5, 0.25];
    // means of 3 × 3 by their own standard deviation
    const s = sight((x, y) => {
      let sum = 0;
      for (let j = 0; j < 3; j++) for (let i = 0; i < 3; i++) sum += k[i] * k[j] * raw[(y + j) * (w + 2) + x + i];
      return sum / 0.375;
    });
    expect(lines(s, 1).filter((v) => v > 3.5).length).toBeLessThan(0.005 * w * h);
  });
});
