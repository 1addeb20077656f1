import { describe, expect, it } from "vitest";
import { shared } from "./lanes";

const laid = (side: number, frames: number) =>
  ({ intruder: "i", layer: { in: 0, out: frames - 1 }, rect: { x0: 0, y0: 0, x1: side, y1: side } }) as never;

describe("patches shared out to threads", () => {
  it("each is measured once, the greatest apart from the others", () => {
    const all = [laid(10, 10), laid(100, 10), laid(20, 10), laid(10, 40)];
    const out = shared({ all }, [0, 1, 2, 3], 2);
    expect(out.flat().sort()).toEqual([0, 1, 2, 3]);
    expect(out.find((w) => w.includes(1))).toEqual([1]);
  });

  it("only those that are asked", () => {
    expect(shared({ all: [laid(5, 5), laid(6, 5), laid(7, 5)] }, [2, 0], 2)).toEqual([[2], [0]]);
  });
});
