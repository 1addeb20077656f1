import { describe, expect, it } from "vitest";
import { packCutout, readCutout } from "../../../recipe/cutout-file";
import { forThread, inThread, shared } from "./lanes";

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

describe("what a thread is given", () => {
  it("can be copied to it, cut-outs and pictures too, and is there what it was", () => {
    const rect = { x0: 3, y0: 4, x1: 6, y1: 6 };
    const alpha = Uint8Array.of(0, 9, 255, 128, 7, 1);
    const cutouts = new Map([["h", readCutout(packCutout([{ f: 2, rect, alpha }]))]]);
    const still = { width: 1, height: 1, channels: 1, bits: 8, data: Uint8Array.of(5) } as const;
    const pictures = { stills: new Map([["a", still]]), frames: new Map(), cutouts };
    const spec = { recipe: {}, takes: { a: { id: "a", index: {} } }, pictures, all: [laid(5, 5)] } as never;
    const there = inThread(structuredClone(forThread(spec, [0])));
    expect(there.pictures.stills.get("a")).toEqual(still);
    expect(there.all).toEqual([laid(5, 5)]);
    const one = there.pictures.cutouts!.get("h")!.get(2)!;
    expect([one.rect, one.alpha()]).toEqual([rect, alpha]);
  });
});
