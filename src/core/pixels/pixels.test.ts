import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ffmpeg } from "../../../testkit/ffmpeg";
import { noise, YUV420, YUV444 } from "../../../testkit/pictures";
import { type Colour, codeRange, LUMA, rgbToYcbcr, ycbcrToRgb } from "./colour";
import { bytesOf, createFrame, frameFromBytes, planeSizes } from "./frame";
import { catmullRom, movedPlane } from "./resample";
import { shrinkFrame } from "./shrink";
import { stillFrame } from "./still";
import { toQuick } from "./quick";
import { toRgba8 } from "./toRgb";

const colour = (matrix: Colour["matrix"], range: Colour["range"]): Colour => ({
  matrix,
  range,
  siting: "left",
  primaries: "bt709",
  transfer: "bt709",
});

describe("colour", () => {
  it("gives the published 8-bit codes of the primaries (BT.601-7: 81/90/240, BT.709-6: 63/102/240; from memory of the bars' tables)", () => {
    const code = (rgb: [number, number, number], m: Colour["matrix"]) => rgbToYcbcr(...rgb, { matrix: m, range: "limited" }, 8).map(Math.round);
    expect(code([1, 1, 1], "bt709")).toEqual([235, 128, 128]);
    expect(code([0, 0, 0], "bt601")).toEqual([16, 128, 128]);
    expect(code([1, 0, 0], "bt601")).toEqual([81, 90, 240]);
    expect(code([0, 1, 0], "bt601")).toEqual([145, 54, 34]);
    expect(code([0, 0, 1], "bt601")).toEqual([41, 240, 110]);
    expect(code([1, 0, 0], "bt709")).toEqual([63, 102, 240]);
    expect(code([0, 0, 1], "bt709")).toEqual([32, 240, 118]);
    expect(LUMA.bt2020).toEqual({ kr: 0.2627, kb: 0.0593 });
    expect(codeRange("limited", 10)).toEqual({ black: 64, lumaSpan: 876, neutral: 512, chromaSpan: 896 });
  });
  it("goes there and back", () => {
    const c = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        c,
        c,
        c,
        fc.constantFrom("bt601", "bt709", "bt2020"),
        fc.constantFrom("limited", "full"),
        fc.constantFrom(8, 10, 16),
        (r, g, b, matrix, range, bits) => {
          const at = { matrix, range } as Pick<Colour, "matrix" | "range">;
          const [y, cb, cr] = rgbToYcbcr(r, g, b, at, bits);
          ycbcrToRgb(y, cb, cr, at, bits).forEach((v, i) => expect(v).toBeCloseTo([r, g, b][i], 9));
        },
      ),
    );
  });
  for (const [matrix, name] of [
    ["bt601", "bt601"],
    ["bt709", "bt709"],
    ["bt2020", "bt2020"],
  ] as const) {
    for (const range of ["limited", "full"] as const) {
      it(`agrees with ffmpeg's own conversion of all code values on ramps: ${matrix}, ${range}`, () => {
        // 256 × 256: luma runs along x, one chroma plane along y, the other falls
        const f = createFrame(256, 256, YUV444);
        for (let y = 0; y < 256; y++)
          for (let x = 0; x < 256; x++) {
            const i = y * 256 + x;
            f.planes[0].data[i] = x;
            f.planes[1].data[i] = y;
            f.planes[2].data[i] = (x * 3 + 255 - y) & 255;
          }
        const rgb = ffmpeg(
          [
            "-f",
            "rawvideo",
            "-pix_fmt",
            "yuv444p",
            "-s",
            "256x256",
            "-i",
            "pipe:0",
            "-vf",
            `scale=in_color_matrix=${name}:in_range=${range === "full" ? "pc" : "tv"}:flags=accurate_rnd+full_chroma_int,format=rgb24`,
            "-f",
            "rawvideo",
            "pipe:1",
          ],
          bytesOf(f),
        );
        const out = new Uint8ClampedArray(256 * 256 * 4);
        toRgba8(f, colour(matrix, range), { x0: 0, y0: 0, x1: 256, y1: 256 }, out, "linear");
        let worst = 0;
        let compared = 0;
        for (let i = 0; i < 65536; i++) {
          const [y, cb, cr] = f.planes.map((p) => p.data[i]);
          // above 511 its 32-bit sums overflow and wrap round; such codes are far outside any picture
          if (Math.max(...ycbcrToRgb(y, cb, cr, { matrix, range }, 8)) > 2) continue;
          compared++;
          for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(out[4 * i + c] - rgb[3 * i + c]));
        }
        expect(compared).toBeGreaterThan(64000);
        expect(worst).toBeLessThanOrEqual(1); // its arithmetic is 15-bit fixed point
      });
    }
  }
});

describe("frames", () => {
  it("rounds chroma sizes up and views bytes without changing them", () => {
    expect(planeSizes(5, 3, YUV420)).toEqual([
      { width: 5, height: 3 },
      { width: 3, height: 2 },
      { width: 3, height: 2 },
    ]);
    for (const bits of [8, 10]) {
      const f = noise(7, 5, { ...YUV420, bits }, 1);
      expect(bytesOf(frameFromBytes(bytesOf(f), 7, 5, f.format))).toEqual(bytesOf(f));
    }
  });
});

describe("moving a picture", () => {
  const f = noise(20, 16, YUV444, 5);
  it("copies on whole shifts, edges clamped", () => {
    const read = movedPlane(f.planes[0], 3, -2, 255).read;
    for (let y = 0; y < 16; y++)
      for (let x = 0; x < 20; x++) expect(read(x, y)).toBe(f.planes[0].data[Math.min(15, y + 2) * 20 + Math.max(0, x - 3)]);
  });
  it("has the weights of Keys (1981) for a = −½, which sum to one and reproduce straight lines", () => {
    expect(catmullRom(0.5)).toEqual([-0.0625, 0.5625, 0.5625, -0.0625]);
    const ramp = createFrame(16, 1, YUV444);
    for (let x = 0; x < 16; x++) ramp.planes[0].data[x] = 10 + 8 * x;
    const read = movedPlane(ramp.planes[0], 0.25, 0, 255).read;
    for (let x = 3; x < 14; x++) expect(read(x, 0)).toBe(8 + 8 * x);
  });
  it("mirrors: a mirrored picture moved the other way is the mirrored result", () => {
    const g = createFrame(20, 16, YUV444);
    for (let y = 0; y < 16; y++) for (let x = 0; x < 20; x++) g.planes[0].data[y * 20 + x] = f.planes[0].data[y * 20 + 19 - x];
    const a = movedPlane(f.planes[0], 1.3, 0.7, 255).read;
    const b = movedPlane(g.planes[0], -1.3, 0.7, 255).read;
    for (let y = 0; y < 16; y++) for (let x = 0; x < 20; x++) expect(Math.abs(a(x, y) - b(19 - x, y))).toBeLessThanOrEqual(1);
  });
});

describe("quick frames", () => {
  it("shrink by exact areas: halving is the mean of four", () => {
    const f = noise(8, 6, YUV444, 2);
    const s = shrinkFrame(f, 4, 3);
    const d = f.planes[0].data;
    expect(s.planes[0].data[0]).toBe(Math.floor((d[0] + d[1] + d[8] + d[9]) / 4 + 0.5));
  });
  it("carry limited range to full", () => {
    const f = createFrame(4, 4, YUV420);
    f.planes[0].data.fill(235);
    f.planes[1].data.fill(240);
    f.planes[2].data.fill(16);
    const q = toQuick(f, colour("bt709", "limited"), 4, 4);
    expect([q.planes[0].data[0], q.planes[1].data[0], q.planes[2].data[0]]).toEqual([255, 255, 1]);
  });
});

describe("pictures with transparency", () => {
  it("their chroma is that of what is seen: transparent samples of another colour leave no fringe", () => {
    // a red disc; what is transparent around it is saved as green, as some programs do
    const [w, h] = [24, 16];
    const data = new Uint8Array(w * h * 4);
    for (let i = 0; i < w * h; i++) {
      const seen = Math.hypot((i % w) - 11.2, Math.floor(i / w) - 7.6) < 5;
      data.set(seen ? [200, 40, 40, 255] : [0, 255, 0, 0], 4 * i);
    }
    for (const siting of ["left", "center", "topleft"] as const) {
      const f = stillFrame({ width: w, height: h, channels: 4, bits: 8, data }, YUV420, { ...colour("bt709", "limited"), siting });
      const want = rgbToYcbcr(200 / 255, 40 / 255, 40 / 255, colour("bt709", "limited"), 8).map((v) => Math.floor(v + 0.5));
      const alpha = (x: number, y: number) => f.planes[3].data[y * w + x];
      for (let y = 0; y < 8; y++)
        for (let x = 0; x < 12; x++)
          if ([0, 1].some((j) => [0, 1].some((k) => alpha(2 * x + k, 2 * y + j))))
            expect([siting, x, y, f.planes[1].data[y * 12 + x], f.planes[2].data[y * 12 + x]]).toEqual([siting, x, y, want[1], want[2]]);
    }
  });
});
