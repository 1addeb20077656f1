import { describe, expect, it } from "vitest";
import { random } from "../../core/random";
import { YUV420 } from "../../../testkit/pictures";
import type { Mask } from "../../core/document/mask";
import { IDENTITY, mapped, type Place, shiftBy } from "../../core/follow/homography";
import type { TrackData } from "../../core/follow/track-data";
import { createFrame, type Frame } from "../../core/pixels/frame";
import type { FrameStore } from "../media/frame-store";
import type { TakeIndex } from "../media/index-file";
import { cameraRound } from "./camera-round";
import { maskBoxAt } from "./mask-over";

const [W, H, LONG] = [320, 240, 9];
const scene = (x: number, y: number) =>
  120 + 40 * Math.sin(x / 11 + 2 * Math.sin(y / 23)) + 30 * Math.cos(y / 9 + Math.sin(x / 31)) + 18 * Math.sin(x / 3.7) * Math.sin(y / 4.3);
/** A hand's shake, and where the lower rows of the picture lie beside the upper ones: the shutter rolls. */
const shake = (n: number): Place => [3 * Math.sin(1.3 * n), 2 * Math.sin(0.9 * n)];
const rolls = (n: number, y: number): Place => shake(n).map((v, i) => v + 0.004 * (y - H / 2) * (i ? 0.5 : 1) * Math.cos(n)) as Place;
/** On one frame somebody stands before all that lies round the patch. */
const HIDDEN = 5;

function frame(n: number): Frame {
  const f = createFrame(W, H, YUV420);
  const k = random(n + 1);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [dx, dy] = n === 0 ? [0, 0] : rolls(n, y);
      // a thing comes in, which the patch covers
      const thing = n > 2 && Math.abs(x - 140) < 30 && Math.abs(y - 60) < 20;
      const v = thing || (n === HIDDEN && y < 150) ? 60 : scene(x - dx, y - dy);
      f.planes[0].data[y * W + x] = Math.round(v + 3 * (k() + k() - 1));
    }
  return f;
}
const frames = Array.from({ length: LONG }, (_, n) => frame(n));
const store = { frame: (_: string, __: TakeIndex, n: number) => Promise.resolve(frames[n]) } as unknown as FrameStore;
const index = {} as TakeIndex;
const camera: TrackData = frames.map((_, f) => ({ f, matrix: f ? shiftBy(...shake(f)) : IDENTITY, quality: 1 }));
const box: Mask = { shapes: [{ kind: "box", op: "add", center: [140, 60], size: [64, 44], angle: 0 }], feather: 4 };
const at = (data: TrackData, n: number) => {
  const t = data[n];
  return mapped("matrix" in t ? t.matrix : IDENTITY, [140, 60])!;
};

describe("the camera round a patch", () => {
  it("lies where the rows about it lie, to 0.05 px, though the whole picture's movement is off by more; the patch itself has no say", async () => {
    const found = (await cameraRound(store, "t", index, { at: 0, camera, from: 1, to: LONG - 1, mask: box }, new Map(), {}))!;
    expect(found.fitted).toBe(LONG - 2);
    let most = 0;
    for (let n = 1; n < LONG; n++) {
      if (n === HIDDEN) continue;
      const [dx, dy] = rolls(n, 60 + shake(n)[1]);
      const off = (data: TrackData) => Math.hypot(at(data, n)[0] - 140 - dx, at(data, n)[1] - 60 - dy);
      most = Math.max(most, off(camera));
      expect(off(found.frames)).toBeLessThan(0.05);
    }
    expect(most).toBeGreaterThan(0.2);
    // where it is hidden it is as far beside the camera as on the frames about it, in the mean
    const beside = (n: number) => at(found.frames, n)[0] - at(camera, n)[0];
    expect(beside(HIDDEN)).toBeCloseTo((beside(HIDDEN - 1) + beside(HIDDEN + 1)) / 2, 1);
  });

  it("is told by nothing where the mask may be anywhere, or covers nothing", async () => {
    const ask = { at: 0, camera, from: 1, to: 4 };
    for (const mask of [{ ...box, invert: true }, { shapes: [] }] as Mask[])
      expect(await cameraRound(store, "t", index, { ...ask, mask }, new Map(), {})).toBeNull();
  });

  it("a mask lies where its shapes do, those that were cut out by their own frame", () => {
    const whole = { x0: 0, y0: 0, x1: W, y1: H };
    const cutouts = new Map([["c", new Map([[3, { rect: { x0: 200, y0: 90, x1: 230, y1: 120 }, alpha: () => new Uint8Array(900) }]])]]);
    const both: Mask = { ...box, shapes: [...box.shapes, { kind: "cutout", op: "add", data: "c" }] };
    const [without, within] = [maskBoxAt(both, 2, whole, cutouts)!, maskBoxAt(both, 3, whole, cutouts)!];
    expect(without.x1).toBeLessThan(180);
    expect(within.x1).toBeGreaterThanOrEqual(230);
    expect(within.y1).toBeGreaterThanOrEqual(120);
    expect(within.x0).toBe(without.x0);
  });
});
