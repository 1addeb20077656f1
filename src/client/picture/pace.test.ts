import { describe, expect, it } from "vitest";
import { halfFrame } from "../../core/pixels/half";
import { createFrame } from "../../core/pixels/frame";
import { QUICK_FORMAT } from "../../core/pixels/quick";
import { random } from "../../core/random";
import { Pace } from "./pace";

describe("the size of moving pictures", () => {
  it("is half where the picture lies no larger on the screen", () => {
    expect(new Pace().choose(1280, 705, [24, 1])).toBe("small");
    expect(new Pace().choose(1280, 1000, [24, 1])).toBe("quick");
    expect(new Pace().choose(1280, Infinity, [24, 1])).toBe("quick");
  });

  it("is half where whole ones do not keep up, for a while", () => {
    const p = new Pace();
    for (let i = 0; i < 5; i++) p.took("quick", 60);
    expect(p.choose(1280, 1000, [24, 1])).toBe("small");
    expect(p.choose(1280, 1000, [12, 1])).toBe("quick");
    expect(p.choose(1280, 2400, [24, 1])).toBe("quick");
    for (let i = 0; i < 240; i++) p.took("small", 12);
    expect(p.choose(1280, 1000, [24, 1])).toBe("quick");
    for (let i = 0; i < 30; i++) p.took("quick", 10);
    expect(p.choose(1280, 1000, [24, 1])).toBe("quick");
  });
});

describe("a frame at half its size", () => {
  it("has the means of four samples, also where the size is odd", () => {
    const rnd = random(5);
    for (const [w, h] of [
      [16, 12],
      [17, 13],
      [2, 2],
      [1, 1],
      [10, 7],
    ]) {
      const f = createFrame(w, h, QUICK_FORMAT);
      f.planes.forEach((p) => p.data.forEach((_, i) => (p.data[i] = Math.floor(256 * rnd()))));
      const half = halfFrame(f);
      expect([half.width, half.height]).toEqual([(w + 1) >> 1, (h + 1) >> 1]);
      half.planes.forEach((to, k) => {
        const from = f.planes[k];
        const at = (x: number, y: number) => from.data[Math.min(from.height - 1, y) * from.width + Math.min(from.width - 1, x)];
        for (let y = 0; y < to.height; y++)
          for (let x = 0; x < to.width; x++) {
            const mean = (at(2 * x, 2 * y) + at(2 * x + 1, 2 * y) + at(2 * x, 2 * y + 1) + at(2 * x + 1, 2 * y + 1)) / 4;
            expect(Math.abs(to.data[y * to.width + x] - mean)).toBeLessThanOrEqual(0.5);
          }
      });
    }
  });
});
