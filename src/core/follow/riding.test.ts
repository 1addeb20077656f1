import { describe, expect, it } from "vitest";
import { cardFrame, H, pose, W } from "../../../testkit/card";
import { IDENTITY, mapped, type Place } from "./homography";
import { Rider, withRim } from "./riding";

/** Where the middle of the card is, and a thing on it: an outline in the picture of frame 0. */
const swaying = (n: number) => pose(0, 0, 0.04 * Math.sin(n / 9), 1, 160 + 9 * Math.sin(n / 9), 120);
const standing = () => pose(0, 0, 0, 1, 160, 120);
const onCard = (map: ReturnType<typeof pose>): Place[] => ([[80, 80], [120, 80], [120, 110], [80, 110]] as Place[]).map((p) => mapped(map, p)!); // prettier-ignore
/** By how much it goes along within frames 1 … 14. @param camera how the whole picture goes */
function along(look: (n: number) => ReturnType<typeof cardFrame>, outline: readonly Place[], camera: (n: number) => Place = () => [0, 0]): number {
  const rider = new Rider(look(0), outline);
  for (let n = 1; n <= 14; n++) if (!rider.next(look(n), n, camera(n))) break;
  return rider.along;
}

describe("what an outlined thing sits on", () => {
  it("moves with it: by how much it truly does", () => {
    const outline = onCard(swaying(0));
    const got = along((n) => cardFrame(swaying(n), n), outline);
    const middle = (n: number) => mapped(swaying(n), [100, 95])!;
    const far = Math.max(...Array.from({ length: 15 }, (_, n) => Math.hypot(middle(n)[0] - middle(0)[0], middle(n)[1] - middle(0)[1])));
    expect(far).toBeGreaterThan(6);
    expect(Math.abs(got - far)).toBeLessThan(0.3);
  });

  it("stands still, and so does it", () => {
    expect(along((n) => cardFrame(standing(), n), onCard(standing()))).toBe(0);
  });

  it("stands still while it moves by itself: a striped thing before a card that stands", () => {
    const thing = (n: number) => (x: number, y: number) => Math.abs(x - 150 - 1.5 * n) < 24 && Math.abs(y - 118) < 18;
    const at: Place[] = [[126, 100], [174, 100], [174, 136], [126, 136]]; // prettier-ignore
    // its stripes go along with it
    const look = (n: number) => {
      const g = cardFrame(standing(), n);
      const data = Uint8Array.from(g.data as Uint8Array);
      for (let y = 0, i = 0; y < H; y++)
        for (let x = 0; x < W; x++, i++) if (thing(n)(x, y)) data[i] = 128 + 90 * Math.sin(0.5 * (x - 1.5 * n)) * Math.cos(0.4 * y);
      return { ...g, data };
    };
    expect(along(look, at)).toBe(0);
  });

  it("goes with the whole picture where the camera moves: that is no movement of its own", () => {
    const outline = onCard(swaying(0));
    const camera = (n: number): Place => {
      const [a, b] = [mapped(swaying(0), [100, 95])!, mapped(swaying(n), [100, 95])!];
      return [b[0] - a[0], b[1] - a[1]];
    };
    expect(along((n) => cardFrame(swaying(n), n), outline, camera)).toBe(0);
  });

  it("is asked about with a rim that stays in the picture; a plain thing cannot be told", () => {
    expect(withRim([[2, 3], [52, 3], [52, 33], [2, 33]], { width: 320, height: 240 })).toEqual([[0, 0], [58, 0], [58, 39], [0, 39]]); // prettier-ignore
    const plain = { width: W, height: H, data: new Uint8Array(W * H).fill(90) };
    expect(() => new Rider(plain, onCard(IDENTITY))).toThrow(RangeError);
  });
});
