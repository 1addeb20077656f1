import { describe, expect, it } from "vitest";
import { YUV420 } from "../../../testkit/pictures";
import { createFrame } from "../pixels/frame";
import { Wobble } from "./wobble";

const [W, H] = [160, 120];
const RECT = { x0: 16, y0: 8, x1: 144, y1: 104 };
const counts = new Uint8Array((RECT.x1 - RECT.x0) * (RECT.y1 - RECT.y0)).fill(1);

/** Waves whose picture lies (dx, dy) further on. */
function shifted(dx: number, dy: number) {
  const f = createFrame(W, H, YUV420);
  for (let y = 0, i = 0; y < H; y++)
    for (let x = 0; x < W; x++, i++) {
      const [u, v] = [x - dx, y - dy];
      f.planes[0].data[i] = Math.round(120 + 40 * Math.sin(u / 3 + v / 7) + 30 * Math.cos(v / 2.5 - u / 9));
    }
  return f;
}
const deviationOf = (place: (k: number) => [number, number]) => {
  const w = new Wobble();
  for (let k = 0; k < 9; k++) w.add(10 * k, shifted(...place(k)), RECT);
  return w.deviation(counts, RECT.x1 - RECT.x0, RECT.y1 - RECT.y0);
};

describe("how surely a place can be told", () => {
  it("of a take that stands still: to some hundredths of a pixel", () => {
    expect(deviationOf(() => [0, 0])).toBeLessThan(0.02);
  });

  it("a camera that drifts evenly is no error", () => {
    expect(deviationOf((k) => [0.2 * k, -0.1 * k])).toBeLessThan(0.05);
  });

  it("a picture that goes hither and thither is one, by √2 of how far it goes", () => {
    // four directions in turn, 0.4 px each: all lie 0.4 px from their middle
    const round = (k: number): [number, number] => [0.4 * Math.cos((k * Math.PI) / 2), 0.4 * Math.sin((k * Math.PI) / 2)];
    const s = deviationOf(round)!;
    expect(s).toBeGreaterThan(0.3);
    expect(s).toBeLessThan(0.7);
  });

  it("of too few frames it is not told", () => {
    const w = new Wobble();
    for (let k = 0; k < 3; k++) w.add(k, shifted(0, 0), RECT);
    expect(w.deviation(counts, RECT.x1 - RECT.x0, RECT.y1 - RECT.y0)).toBeNull();
  });
});
