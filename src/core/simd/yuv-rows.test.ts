import { describe, expect, it } from "vitest";
import { compiled, textOf } from "../../../scripts/simd";
import type { Colour } from "../pixels/colour";
import { createFrame, type PixelFormat } from "../pixels/frame";
import { toRgba8, yuvRowsOneByOne } from "../pixels/toRgb";
import { random } from "../random";
import { YUV_ROWS } from "./yuv-rows-code";
import { YuvRows } from "./yuv-rows";

describe("rows by vectors", () => {
  it("are the very samples that come out one by one: every siting, range, size, rectangle", () => {
    const rnd = random(21);
    const whole = (n: number) => Math.floor(rnd() * n);
    for (let round = 0; round < 200; round++) {
      const format: PixelFormat = { model: "yuv", bits: 8, subX: 1, subY: round % 2 ? 1 : 0, alpha: false };
      const [w, h] = [1 + whole(90), 1 + whole(50)];
      const f = createFrame(w, h, format);
      f.planes.forEach((p) => p.data.forEach((_, i) => (p.data[i] = whole(256))));
      const colour: Colour = {
        matrix: (["bt601", "bt709", "bt2020"] as const)[whole(3)],
        range: (["limited", "full"] as const)[whole(2)],
        siting: (["left", "center", "topleft"] as const)[whole(3)],
        primaries: "bt709",
        transfer: "bt709",
      };
      const [x0, y0] = [whole(w), whole(h)];
      const rect = { x0, y0, x1: x0 + 1 + whole(w - x0), y1: y0 + 1 + whole(h - y0) };
      const count = (rect.x1 - rect.x0) * (rect.y1 - rect.y0);
      const chroma = (["nearest", "linear"] as const)[whole(2)];
      const out = new Uint8ClampedArray(4 * count);
      toRgba8(f, colour, rect, out, chroma);
      const want = new Uint32Array(count);
      yuvRowsOneByOne(f, colour, rect, want, chroma);
      expect(new Uint32Array(out.buffer)).toEqual(want);
    }
  });

  it("are to be had here", () => {
    expect(YuvRows.open(8, 4)).not.toBeNull();
  });

  it("run the program that their source gives", async () => {
    expect(textOf(await compiled("yuv-rows"))).toContain(YUV_ROWS);
  });
});
