import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { ssim as ssimJs } from "ssim.js";
import { describe, expect, it } from "vitest";
import { random } from "../random";
import { ciede2000, toLab, type Lab } from "./ciede2000";
import { psnr } from "./psnr";
import { ssim } from "./ssim";

const W = 176;
const H = 144;
/** A picture with gradients, edges and texture, and the same with noise and a soft spot. */
function pair(seed: number) {
  const rnd = random(seed);
  const a = new Uint8Array(W * H);
  const b = new Uint8Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const v = 70 + 0.5 * x + 30 * Math.sin(x / 7) * Math.cos(y / 11) + (x > 90 !== y > 60 ? 40 : 0);
      a[y * W + x] = v;
      b[y * W + x] = Math.min(255, Math.max(0, v + (rnd() - 0.5) * (6 + y / 4) + 12 * Math.exp(-((x - 60) ** 2 + (y - 80) ** 2) / 300)));
    }
  return { a: { width: W, height: H, data: a }, b: { width: W, height: H, data: b } };
}

/** What ffmpeg's filter says of two grey pictures. */
function judged(filter: "psnr" | "ssim", a: Uint8Array, b: Uint8Array): number {
  const dir = mkdtempSync(join(tmpdir(), "umber-judge-"));
  writeFileSync(join(dir, "a.raw"), a);
  writeFileSync(join(dir, "b.raw"), b);
  const raw = (n: string) => ["-f", "rawvideo", "-pix_fmt", "gray", "-s", `${W}x${H}`, "-i", join(dir, n)];
  const log = join(dir, "log");
  execFileSync("ffmpeg", ["-v", "error", ...raw("a.raw"), ...raw("b.raw"), "-lavfi", `${filter}=stats_file=${log}`, "-f", "null", "-"]);
  const line = execFileSync("cat", [log], { encoding: "utf8" });
  return Number((filter === "psnr" ? /psnr_avg:([\d.]+)/ : /All:([\d.]+)/).exec(line)![1]);
}

describe("PSNR and SSIM", () => {
  it.each([1, 2, 3])("agree with ffmpeg's filters (FFmpeg 5.1, psnr and ssim), pair %i", (seed) => {
    const { a, b } = pair(seed);
    expect(psnr(a, b)).toBeCloseTo(judged("psnr", a.data, b.data), 1);
    expect(Math.abs(ssim(a, b, { window: "block" }) - judged("ssim", a.data, b.data))).toBeLessThan(0.002);
  });

  it.each([4, 5])("SSIM with the paper's window agrees with ssim.js 3.5, pair %i", (seed) => {
    const { a, b } = pair(seed);
    const rgba = (g: Uint8Array) => ({ width: W, height: H, data: new Uint8ClampedArray(W * H * 4).map((_, i) => (i % 4 === 3 ? 255 : g[i >> 2])) });
    const other = ssimJs(rgba(a.data) as ImageData, rgba(b.data) as ImageData, { ssim: "original", downsample: false, rgb2grayVersion: "original" });
    expect(Math.abs(ssim(a, b) - other.mssim)).toBeLessThan(0.002);
  });

  it("equal pictures: endless dB and similarity 1; one level everywhere: 20·log₁₀ 255 dB", () => {
    const { a } = pair(6);
    expect(psnr(a, a)).toBe(Infinity);
    expect(ssim(a, a)).toBeCloseTo(1, 12);
    expect(psnr(a, { ...a, data: a.data.map((v) => v + 1) })).toBeCloseTo(20 * Math.log10(255), 9);
  });

  it("count only what lies within an area, and say so when that is empty", () => {
    const { a } = pair(7);
    const where = new Uint8Array(W * H);
    for (let y = 40; y < 80; y++) where.fill(1, y * W + 40, y * W + 90);
    const b = { ...a, data: a.data.map((v, i) => (where[i] ? v : 255 - v)) };
    expect(psnr(a, b, 255, where)).toBe(Infinity);
    expect(psnr(a, b)).toBeLessThan(20);
    expect(() => psnr(a, b, 255, new Uint8Array(W * H))).toThrow("the area is empty");
    expect(() => ssim(a, { width: 3, height: 3, data: [] })).toThrow("two of one size");
  });
});

// Sharma, Wu, Dalal 2005, table 1: L a b, L a b, ΔE₀₀; written down from memory, all 34 agree to the table's four places
const TABLE = `
50 2.6772 -79.7751  50 0 -82.7485  2.0425
50 3.1571 -77.2803  50 0 -82.7485  2.8615
50 2.8361 -74.0200  50 0 -82.7485  3.4412
50 -1.3802 -84.2814  50 0 -82.7485  1.0000
50 -1.1848 -84.8006  50 0 -82.7485  1.0000
50 -0.9009 -85.5211  50 0 -82.7485  1.0000
50 0 0  50 -1 2  2.3669
50 -1 2  50 0 0  2.3669
50 2.4900 -0.0010  50 -2.4900 0.0009  7.1792
50 2.4900 -0.0010  50 -2.4900 0.0010  7.1792
50 2.4900 -0.0010  50 -2.4900 0.0011  7.2195
50 2.4900 -0.0010  50 -2.4900 0.0012  7.2195
50 -0.0010 2.4900  50 0.0009 -2.4900  4.8045
50 -0.0010 2.4900  50 0.0010 -2.4900  4.8045
50 -0.0010 2.4900  50 0.0011 -2.4900  4.7461
50 2.5 0  50 0 -2.5  4.3065
50 2.5 0  73 25 -18  27.1492
50 2.5 0  61 -5 29  22.8977
50 2.5 0  56 -27 -3  31.9030
50 2.5 0  58 24 15  19.4535
50 2.5 0  50 3.1736 0.5854  1.0000
50 2.5 0  50 3.2972 0  1.0000
50 2.5 0  50 1.8634 0.5757  1.0000
50 2.5 0  50 3.2592 0.3350  1.0000
60.2574 -34.0099 36.2677  60.4626 -34.1751 39.4387  1.2644
63.0109 -31.0961 -5.8663  62.8187 -29.7946 -4.0864  1.2630
61.2901 3.7196 -5.3901  61.4292 2.2480 -4.9620  1.8731
35.0831 -44.1164 3.7933  35.0232 -40.0716 1.5901  1.8645
22.7233 20.0904 -46.6940  23.0331 14.9730 -42.5619  2.0373
36.4612 47.8580 18.3852  36.2715 50.5065 21.2231  1.4146
90.8027 -2.0831 1.4410  91.1528 -1.6435 0.0447  1.4441
90.9257 -0.5406 -0.9208  88.6381 -0.8985 -0.7239  1.5381
6.7747 -0.2908 -2.4247  5.8714 -0.0985 -2.2286  0.6377
2.0776 0.0795 -1.1350  0.9033 -0.0636 -0.5514  0.9082`
  .trim()
  .split("\n")
  .map((l) => l.trim().split(/\s+/).map(Number));

describe("CIEDE2000", () => {
  it.each(TABLE)("%d %d %d against %d %d %d is %d", (...v) => {
    const d = ciede2000(v.slice(0, 3) as unknown as Lab, v.slice(3, 6) as unknown as Lab);
    expect(d).toBeCloseTo(v[6], 4);
  });
  it("holds all 34 pairs of the paper", () => expect(TABLE).toHaveLength(34));

  it("is symmetric, and 0 only for equal colours", () => {
    const lab = fc.tuple(
      fc.double({ min: 0, max: 100, noNaN: true }),
      fc.double({ min: -90, max: 90, noNaN: true }),
      fc.double({ min: -90, max: 90, noNaN: true }),
    );
    fc.assert(
      fc.property(lab, lab, (p, q) => {
        expect(ciede2000(p, p)).toBeCloseTo(0, 9);
        expect(ciede2000(p, q)).toBeCloseTo(ciede2000(q, p), 9);
      }),
    );
  });

  it("white, black and the primaries are where CIELAB has them (IEC 61966-2-1 primaries, common practice: L* of sRGB red 53.24, green 87.73, blue 32.30)", () => {
    expect(toLab(1, 1, 1).map((v) => v.toFixed(3).replace("-0.000", "0.000"))).toEqual(["100.000", "0.000", "0.000"]);
    expect(toLab(0, 0, 0)[0]).toBeCloseTo(0, 9);
    expect(toLab(1, 0, 0)[0]).toBeCloseTo(53.24, 1);
    expect(toLab(0, 1, 0)[0]).toBeCloseTo(87.73, 1);
    expect(toLab(0, 0, 1)[0]).toBeCloseTo(32.3, 1);
  });
});
