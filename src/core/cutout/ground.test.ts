import { describe, expect, it } from "vitest";
import { normals } from "../../../testkit/normals";
import { YUV420 } from "../../../testkit/pictures";
import { createFrame, type Frame } from "../pixels/frame";
import { Colours } from "./colours";
import { Cutter } from "./cutter";
import { Ground } from "./ground";

const [W, H] = [240, 180];
type Box = readonly [x0: number, y0: number, x1: number, y1: number];

/** Grey squares in noise, with boxes of other brightness and colour over them. */
function picture(seed: number, boxes: readonly { box: Box; y?: number; more?: number; cb?: number }[] = [], noise = 1.5): Frame {
  const normal = normals(seed);
  const f = createFrame(W, H, YUV420);
  f.planes.forEach((p, k) => {
    const half = k ? 2 : 1;
    for (let y = 0, i = 0; y < p.height; y++)
      for (let x = 0; x < p.width; x++, i++) {
        let v = k ? 128 : 110 + 8 * (((x >> 3) + (y >> 3)) % 2);
        for (const { box, y: light, more = 0, cb = 128 } of boxes) {
          const [u, w] = [x * half, y * half];
          if (u < box[0] || w < box[1] || u >= box[2] || w >= box[3]) continue;
          v = k === 0 ? (light ?? 110 + 8 * (((x >> 3) + (y >> 3)) % 2)) + more : k === 1 ? cb : 128;
        }
        p.data[i] = Math.round(v + (k ? 0.5 : 1) * noise * normal());
      }
  });
  return f;
}
const clean = picture(1, [], 0);
const spread = new Float64Array(3);

describe("how much places differ from their clean picture", () => {
  const stands: Box = [40, 20, 72, 52];
  it("is told where something stands before them on most frames, and always the same", () => {
    const frames = Array.from({ length: 16 }, (_, k) => picture(10 + k, k < 14 ? [{ box: stands, y: 60, cb: 90 }] : []));
    const sight = new Ground(clean, false, frames).look(frames[0], { x0: 0, y0: 0, x1: W, y1: H });
    sight.spreadAt(56, 36, spread);
    expect(spread[0]).toBeLessThan(2);
    expect(sight.z[36 * W + 56]).toBeGreaterThan(10);
    // beside it as ever
    sight.spreadAt(10, 36, spread);
    expect(spread[0]).toBeGreaterThan(0.4);
    expect(spread[0]).toBeLessThan(2);
  });
  it("is large where the place itself moves", () => {
    const frames = Array.from({ length: 16 }, (_, k) => picture(40 + k, [{ box: stands, more: 30 * Math.sin(k * 2.4) }]));
    const sight = new Ground(clean, false, frames).look(frames[0], { x0: 0, y0: 0, x1: W, y1: H });
    sight.spreadAt(56, 36, spread);
    expect(spread[0]).toBeGreaterThan(6);
  });
});

describe("holes in a thing", () => {
  const thing = { box: [20, 12, 76, 60] as Box, y: 190, cb: 100 };
  const hole: Box = [40, 28, 56, 42];
  const found = (more: number) => {
    const frames = Array.from({ length: 16 }, (_, k) => picture(70 + k, k % 4 ? [] : [thing, { box: hole, more }]));
    const ground = new Ground(clean, false, frames);
    const loop = [[14, 6], [82, 6], [82, 66], [14, 66]]; // prettier-ignore
    const cut = new Cutter(ground, loop, new Colours()).next(frames[0]);
    let inside = 0;
    for (let y = hole[1] + 3; y < hole[3] - 3; y++) for (let x = hole[0] + 3; x < hole[2] - 3; x++) inside += cut.inside[y * W + x];
    return inside / 80;
  };
  it("stay where the ground itself is seen through them", () => expect(found(0)).toBe(0));
  it("are none where a part of it looks much like the ground", () => expect(found(3)).toBe(1));
});
