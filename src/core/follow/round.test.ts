import { describe, expect, it } from "vitest";
import { random } from "../random";
import { IDENTITY, mapped, type Place, shiftBy } from "./homography";
import { Round } from "./round";

const [W, H] = [320, 240];
/** A scene of broad and fine structure, anywhere. */
const scene = (x: number, y: number) =>
  120 + 40 * Math.sin(x / 11 + 2 * Math.sin(y / 23)) + 30 * Math.cos(y / 9 + Math.sin(x / 31)) + 18 * Math.sin(x / 3.7) * Math.sin(y / 4.3);

/** A picture of it in which row y lies `at(y)` pixels to the right and down, with noise; what hides a part of it is laid over. */
function picture(at: (y: number) => Place, seed: number, hides?: (x: number, y: number) => boolean) {
  const k = random(seed);
  const data = new Float32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [dx, dy] = at(y);
      data[y * W + x] = (hides?.(x, y) ? 200 : scene(x - dx, y - dy)) + 5 * (k() + k() - 1);
    }
  return { width: W, height: H, data };
}

const region: Place[] = [[60, 50], [220, 50], [220, 190], [60, 190]]; // prettier-ignore
const inner = (x: number, y: number) => x > 100 && x < 180 && y > 90 && y < 150;
const first = picture(() => [0, 0], 1);
const off = (m: Parameters<typeof mapped>[0], p: Place, to: Place) => {
  const [x, y] = mapped(m, p)!;
  return Math.hypot(x - to[0], y - to[1]);
};

describe("what lies round a place", () => {
  it.each([
    [0.4, -0.3],
    [-1.2, 0.7],
    [0.9, 1.1],
  ])("is found to 0.05 px where the camera misses it by %d, %d px, whatever stands within", (dx, dy) => {
    const round = new Round(first, region, inner);
    const camera = shiftBy(6, -4);
    const found = round.at(
      picture(() => [6 + dx, -4 + dy], 2, inner),
      camera,
    )!;
    for (const p of region) expect(off(found.matrix, p, [p[0] + 6 + dx, p[1] - 4 + dy])).toBeLessThan(0.05);
    expect(found.quality).toBeGreaterThan(0.9);
  });

  it("is found where a shutter rolls: each row lies elsewhere", () => {
    const round = new Round(first, region, inner);
    const row = (y: number): Place => [2 + (y - H / 2) * 0.02, -1 + (y - H / 2) * 0.008];
    // what the whole picture does in the mean
    const found = round.at(picture(row, 3), shiftBy(2, -1))!;
    for (const p of region) {
      const [dx, dy] = row(p[1] + row(p[1])[1]);
      expect(off(found.matrix, p, [p[0] + dx, p[1] + dy])).toBeLessThan(0.08);
    }
  });

  it("is not believed where something else is seen, or too far off", () => {
    const round = new Round(first, region, inner);
    expect(
      round.at(
        picture(() => [90, 70], 4),
        IDENTITY,
      ),
    ).toBeNull();
    const all = () => true;
    expect(
      round.at(
        picture(() => [0, 0], 5, all),
        IDENTITY,
      ),
    ).toBeNull();
  });

  it("is refused where it is plain, or nothing is left of it", () => {
    const plain = { width: W, height: H, data: Float32Array.from({ length: W * H }, (_, i) => 100 + (i % 7) * 0.01) };
    expect(() => new Round(plain, region, inner)).toThrow("too plain");
    expect(() => new Round(first, region, () => true)).toThrow("Too little");
  });
});
