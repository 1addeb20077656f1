import { describe, expect, it } from "vitest";
import { noise, YUV420 } from "../../../testkit/pictures";
import type { Frame } from "./frame";
import { reviewed, reviewWidth } from "./review";

/** What the number at the lower left of a half says, read back by the shape of its digits. */
function numberIn(f: Frame, from: number, light: number): string {
  const size = Math.max(2, 2 * Math.round(f.height / 120 / 2));
  const y0 = ((f.height - 9 * size) & ~1) + size;
  const at = (i: number, j: number) => f.planes[0].data[(y0 + j * size) * f.width + from + 3 * size + i * size] === light;
  const KNOWN: Record<string, string> = { "####.##.##.####": "0", ".#.##..#..#.###": "1" };
  let out = "";
  for (let d = 0; d < 4; d++) {
    let shape = "";
    for (let j = 0; j < 5; j++) for (let i = 0; i < 3; i++) shape += at(4 * d + i, j) ? "#" : ".";
    out += KNOWN[shape] ?? "";
  }
  return out;
}

describe("a frame that is reviewed", () => {
  it.each([320, 321])("of a width of %i: before on the left, after on the right, sample for sample, its number in both", (width) => {
    const [a, b] = [1, 2].map((seed) => noise(width, 180, YUV420, seed));
    const out = reviewed(a, b, 110, false);
    expect([out.width, out.height]).toEqual([reviewWidth(width), 180]);
    const half = out.width / 2;
    for (const p of [0, 1]) {
      const own = p ? half / 2 : half;
      const { width: w } = a.planes[p];
      // above the numbers
      for (let y = 0; y < (p ? 80 : 160); y++) {
        const row = y * out.planes[p].width;
        expect(out.planes[p].data.subarray(row, row + w)).toEqual(a.planes[p].data.subarray(y * w, (y + 1) * w));
        expect(out.planes[p].data.subarray(row + own, row + own + w)).toEqual(b.planes[p].data.subarray(y * w, (y + 1) * w));
      }
    }
    expect([numberIn(out, 0, 235), numberIn(out, half, 235)]).toEqual(["110", "110"]);
  });
});
