import { describe, expect, it } from "vitest";
import { HIGH, LONG, stageFrame, WIDE } from "../../../testkit/mended";
import { YUV420 } from "../../../testkit/pictures";
import { localInTime, localRatio, sigmaAt } from "../../core/match/grain";
import { assumedColour } from "../../core/pixels/colour";
import type { Frame } from "../../core/pixels/frame";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { grainOf } from "./grain";

const SIGMA = 2.5;
/** Between these frames the shadow of leaves stirs over a part of the wall: soft, and of some codes alone. */
const SHADOW = { in: 13, out: 34, left: 56, right: 136, depth: 9 };
function frame(n: number): Frame {
  const f = stageFrame(n, { noise: SIGMA, bar: () => false });
  const [{ data }] = f.planes;
  if (n < SHADOW.in || n > SHADOW.out) return f;
  for (let i = 0; i < data.length; i++) {
    const x = i % WIDE;
    if (x >= SHADOW.left && x < SHADOW.right) data[i] -= Math.round(SHADOW.depth * (0.5 + 0.5 * Math.sin((x + 3 * n) / 4)));
  }
  return f;
}
const store = { frame: (_: string, __: TakeIndex, n: number) => Promise.resolve(frame(n)) } as unknown as FrameStore;
const info = { width: WIDE, height: HIGH, frames: LONG, rate: [24, 1], format: YUV420, colour: assumedColour(HIGH) };
const index = { path: "", info, cuts: [], hashes: [], brightness: [], times: [] } as unknown as TakeIndex;

describe("the grain of a take", () => {
  it("is as strong where a soft shadow lies in its middle as beside it: its patch will lie just there", async () => {
    const plane = (await grainOf(store, "a", index, { from: 0, to: LONG - 1 }, {}))!.planes[0];
    const [ratio, likeness] = [localRatio(plane, WIDE, HIGH)!, localInTime(plane, WIDE, HIGH)!];
    for (let y = 8; y < HIGH; y += 16)
      for (let x = 4; x < WIDE; x += 16) {
        // noise of normal deviates that was rounded
        const told = sigmaAt(plane, 1)(110) * ratio(x, y);
        expect(Math.abs(told / Math.sqrt(SIGMA ** 2 + 1 / 12) - 1)).toBeLessThan(0.12);
        expect(likeness(x, y)).toBeLessThan(0.2);
      }
  });

  it("of a single frame nothing is told", async () => {
    expect(await grainOf(store, "a", index, { from: 3, to: 3 }, {})).toBeNull();
  });
});
