import { describe, expect, it } from "vitest";
import { random } from "../random";
import { aroundMatte } from "./around";
import { boundaryOf } from "./boundary";
import { coverage } from "./coverage";
import type { Matte } from "./matte";
import { flattenOutline } from "./path";

const [W, H] = [90, 60];
const rect = { x0: 0, y0: 0, x1: W, y1: H };
const matteOf = (alpha: (x: number, y: number) => number): Matte => ({
  ...rect,
  data: Float64Array.from({ length: W * H }, (_, i) => alpha(i % W, Math.floor(i / W))),
  outside: 0,
});
/** α within the outline around a matte. */
const left = (m: Matte) => coverage(boundaryOf(flattenOutline(aroundMatte(m, W, H)!)), rect);
const disc = (x: number, y: number, cx: number, cy: number, r: number) => Math.max(0, Math.min(1, r + 0.5 - Math.hypot(x - cx, y - cy)));

describe("all of a picture but a matte", () => {
  it.each([
    ["a disc", (x: number, y: number) => disc(x, y, 40, 30, 15)],
    ["one that reaches beyond the border", (x: number, y: number) => disc(x, y, 4, 30, 15)],
    ["a ring: what is seen through it is left", (x: number, y: number) => disc(x, y, 45, 30, 20) - disc(x, y, 45, 30, 9)],
    ["two apart", (x: number, y: number) => Math.max(disc(x, y, 20, 20, 9), disc(x, y, 65, 38, 12))],
    ["any", ((k) => { const v = Array.from({ length: 6 }, () => [k() * W, k() * H, 2 + 9 * k()]); return (x: number, y: number) => Math.max(...v.map(([a, b, r]) => disc(x, y, a, b, r))); })(random(7))], // prettier-ignore
  ])("%s", (_, alpha) => {
    const m = matteOf(alpha);
    const seen = left(m);
    for (let i = 0; i < W * H; i++) {
      if (m.data[i] > 0.6) expect(seen[i]).toBeLessThan(0.35);
      // a pixel's width beside it nothing is kept from being painted
      const near = [-2, -1, 0, 1, 2].some((dy) => [-2, -1, 0, 1, 2].some((dx) => (m.data[i + dy * W + dx] ?? 0) > 0));
      if (!near) expect(seen[i]).toBeGreaterThan(0.99);
    }
    // all of it but its rim is kept free
    const inner = (i: number) => [-1, 0, 1].every((dy) => [-1, 0, 1].every((dx) => (m.data[i + dy * W + dx] ?? 0) > 0.9));
    for (let i = 0; i < W * H; i++) if (inner(i)) expect(seen[i]).toBeLessThan(0.01);
  });
  it("is nothing where it covers nothing", () => {
    expect(
      aroundMatte(
        matteOf(() => 0),
        W,
        H,
      ),
    ).toBeNull();
  });
});
