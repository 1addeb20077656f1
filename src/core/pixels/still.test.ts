import { describe, expect, it } from "vitest";
import { random } from "../random";
import type { Mask } from "../document/mask";
import { maskMatte } from "../shape/mask";
import { over } from "../shape/matte";
import { YUV420, YUV444 } from "../../../testkit/pictures";
import { type Still, stillFrame, stillValues } from "./still";

const still = (width: number, height: number, channels: Still["channels"], bits: 8 | 16 = 8, seed = 3): Still => {
  const rnd = random(seed);
  const data = new (bits === 8 ? Uint8Array : Uint16Array)(width * height * channels).map(() => Math.floor(rnd() * (1 << bits)));
  return { width, height, channels, bits, data };
};
const flat = (rgb: number[]): Still => ({ width: 4, height: 4, channels: 3, bits: 8, data: Uint8Array.from(Array(16).fill(rgb).flat() as number[]) });
const hd = { matrix: "bt709", range: "limited", siting: "left" } as const;

describe("a picture on a take's planes", () => {
  it("gives the code values of BT.709-6 at 8 bits: white, black, and the 75 % bars (worked by hand from its §3)", () => {
    const at = (rgb: number[]) => stillFrame(flat(rgb), YUV420, hd).planes.map((p) => p.data[0]);
    expect(at([255, 255, 255])).toEqual([235, 128, 128]);
    expect(at([0, 0, 0])).toEqual([16, 128, 128]);
    expect(at([191.25, 191.25, 0].map(Math.round))).toEqual([168, 44, 136]);
    expect(at([0, 0, 191])).toEqual([28, 212, 120]);
  });
  it("keeps every sample of R′G′B′ and of alpha, and takes 8 bits to 16 by × 257", () => {
    const s = still(7, 5, 4);
    const f = stillFrame(s, { model: "rgb", bits: 16, subX: 0, subY: 0, alpha: false }, hd);
    [1, 2, 0, 3].forEach((c, p) => expect([...f.planes[p].data]).toEqual(Array.from({ length: 35 }, (_, i) => s.data[i * 4 + c] * 257)));
  });
  it("averages chroma over its footprint: ¼ ½ ¼ across where co-sited, ½ ½ down where midway; borders replicate", () => {
    const s = still(6, 4, 3, 16);
    const full = stillFrame(s, { ...YUV444, bits: 16 }, hd).planes[1].data;
    const half = stillFrame(s, { ...YUV420, bits: 16 }, hd).planes[1].data;
    const at = (x: number, y: number) => full[y * 6 + Math.max(0, x)];
    for (let y = 0; y < 2; y++)
      for (let x = 0; x < 3; x++) {
        const sum = [0, 1].reduce((v, j) => v + 0.5 * (at(2 * x - 1, 2 * y + j) / 4 + at(2 * x, 2 * y + j) / 2 + at(2 * x + 1, 2 * y + j) / 4), 0);
        expect(Math.abs(half[y * 3 + x] - sum)).toBeLessThanOrEqual(1); // both are rounded once
      }
  });
});

describe("a picture as mask", () => {
  const W = 40;
  const H = 30;
  const shapes = (use: "alpha" | "brightness", more = {}): Mask => ({ shapes: [{ kind: "picture", op: "add", path: "m", use, ...more }] });
  const matte = (s: Still, mask: Mask, scale = 1) => {
    const rect = { x0: 0, y0: 0, x1: W * scale, y1: H * scale };
    return over(
      maskMatte(mask, 0, rect.x1, rect.y1, scale, (p) => stillValues(s, p.use, "bt709", "m")),
      rect,
    );
  };
  it("is its alpha, or its luma by the take's matrix, pixel by pixel", () => {
    const s = still(W, H, 4);
    expect([...matte(s, shapes("alpha"))]).toEqual(Array.from({ length: W * H }, (_, i) => s.data[4 * i + 3] / 255));
    const luma = matte(s, shapes("brightness"));
    for (const i of [0, 77, 1199]) {
      const [r, g, b] = s.data.subarray(4 * i);
      expect(luma[i]).toBeCloseTo((0.2126 * r + 0.7152 * g + 0.0722 * b) / 255, 12);
    }
  });
  it("goes on beyond its border with its last pixels, and joins other shapes by its op", () => {
    const small = still(10, 8, 1);
    const m = matte(small, shapes("brightness"));
    expect(m[7 * W + 9]).toBe(m[29 * W + 39]);
    expect(m[3 * W + 25]).toBe(small.data[39] / 255);
    const box: Mask = { shapes: [{ kind: "box", op: "add", center: [20, 15], size: [10, 10] }, shapes("brightness", { op: "cut" }).shapes[0]] };
    expect(matte(small, box)[15 * W + 20]).toBe(1 - m[15 * W + 20]);
    expect(matte(small, box)[2 * W + 2]).toBe(0);
  });
  it("has an edge where it crosses one half, but none at the picture's border", () => {
    // the left 20 columns are white: the contour is the line x = 20
    const s: Still = { width: W, height: H, channels: 1, bits: 8, data: new Uint8Array(W * H).map((_, i) => (i % W < 20 ? 255 : 0)) };
    const m = matte(s, shapes("brightness", { feather: 8 }));
    for (const y of [0, 14, 29])
      for (let x = 0; x < W; x++) {
        const t = Math.min(1, Math.max(0, (20 - (x + 0.5)) / 8 + 0.5));
        expect(m[y * W + x]).toBeCloseTo(t * t * (3 - 2 * t), 6);
      }
  });
  it("is averaged on a smaller canvas", () => {
    const s = still(W, H, 1);
    const m = matte(s, shapes("brightness"), 0.5);
    expect(m[3 * 20 + 4]).toBeCloseTo([248, 249, 288, 289].reduce((v, i) => v + s.data[i], 0) / 4 / 255, 12);
  });
  it("says so when there is no alpha to use", () => {
    expect(() => matte(still(W, H, 3), shapes("alpha"))).toThrow("has no alpha to mask with");
  });
});
