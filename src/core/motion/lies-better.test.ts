import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { part } from "../../../testkit/pictures";
import { Street } from "../../../testkit/street";
import { grayOf } from "./gray";
import { liesBetter } from "./lies-better";

const [W, H] = [200, 120];
const street = new Street(6);
/** What a camera sees of the street with its corner there; walkers pass. */
const seen = (n: number, x: number, y: number) => grayOf(part(street.frame(n, { noise: 0, boom: false }), x, y, W, H).planes[0], 8);
const noisy = (g: ReturnType<typeof seen>, seed: number, gain = 1) => {
  const normal = normals(seed);
  return { ...g, data: Float32Array.from(g.data, (v) => gain * v + 3 * normal()) };
};
const shift = (dx: number, dy: number) => ({ dx, dy, angle: 0, scale: 1, agree: 1 });

describe("whether a picture lies better where it is said to lie", () => {
  const at = noisy(seen(0, 20, 16), 1);
  it.each([[2, 0], [-6, 4], [0, -2]])("it does where the camera moved by %i, %i, in another light", (dx, dy) => {
    // what the reference has at a place is found where the camera has taken it
    const there = noisy(seen(9, 20 - dx, 16 - dy), 2, 0.93);
    expect(liesBetter(at, there, shift(dx, dy))).toBe(true);
    expect(liesBetter(at, there, shift(-dx, -dy))).toBe(false);
  }); // prettier-ignore
  it.each([[0.5, 0.5], [3, 0], [-12, 5]])("it does not where the camera stands and a thing went by %f, %f", (dx, dy) => {
    expect(liesBetter(at, noisy(seen(9, 20, 16), 2), shift(dx, dy))).toBe(false);
  }); // prettier-ignore
  it("nothing can be told of an even picture", () => {
    const flat = { width: W, height: H, data: new Float32Array(W * H).fill(90) };
    expect(liesBetter(flat, flat, shift(3, 1))).toBe(false);
  });
});
