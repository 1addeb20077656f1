import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { boxAt, cardFrame as frame, H, type Look, pose, W } from "../../../testkit/card";
import type { Gray } from "../motion/gray";
import { apart, type Homography, IDENTITY, inCoordinates, inverse, mapped, type Place } from "./homography";
import type { TrackedFrame } from "./track-data";
import { Tracker } from "./tracker";

/** Follows a box of the card; how far its corners are off in each frame. */
function follow(
  poses: (n: number) => Homography,
  count: number,
  box: Place[],
  look: (n: number) => Look = () => ({}),
  model?: ConstructorParameters<typeof Tracker>[2],
) {
  const region = box.map((p) => mapped(poses(0), p)!);
  const tracker = new Tracker(frame(poses(0), 0, look(0)), region, model);
  const errors: number[] = [];
  const frames: TrackedFrame[] = [];
  for (let n = 1; n < count; n++) {
    const r = tracker.next(frame(poses(n), n, look(n)), n);
    frames.push(r);
    if ("stopped" in r) break;
    region.forEach((p, i) => {
      const [q, t] = [mapped(r.matrix, p)!, mapped(poses(n), box[i])!];
      errors.push(Math.hypot(q[0] - t[0], q[1] - t[1]));
    });
  }
  errors.sort((a, b) => a - b);
  return {
    frames,
    median: errors[errors.length >> 1],
    p95: errors[Math.floor(0.95 * errors.length)],
    stopped: frames.find((f) => "stopped" in f) as { f: number; stopped: string } | undefined,
  };
}

describe("plane maps", () => {
  const entry = fc.double({ min: -0.3, max: 0.3, noNaN: true });
  const map = fc.tuple(entry, entry, entry, entry, entry, entry, fc.double({ min: -1e-3, max: 1e-3, noNaN: true }), fc.double({ min: -1e-3, max: 1e-3, noNaN: true })).map((v): Homography => [1 + v[0], v[1], 90 * v[2], v[3], 1 + v[4], 90 * v[5], v[6], v[7], 1]); // prettier-ignore
  it("undo themselves, and move along with their coordinates (property)", () => {
    fc.assert(
      fc.property(map, fc.double({ min: 0, max: 100, noNaN: true }), fc.double({ min: 0, max: 100, noNaN: true }), (m, x, y) => {
        const back = inverse(m);
        const there = mapped(m, [x, y]);
        fc.pre(!!back && !!there && Math.abs(m[0] * m[4] - m[1] * m[3]) > 0.2);
        const again = mapped(back!, there!);
        expect(Math.hypot(again![0] - x, again![1] - y)).toBeLessThan(1e-6);
        const moved = mapped(inCoordinates(m, 2, 3, -5), [2 * x + 3, 2 * y - 5])!;
        expect(Math.hypot(moved[0] - 2 * there![0] - 3, moved[1] - 2 * there![1] + 5)).toBeLessThan(1e-6);
      }),
    );
  });
  it("say how far they are from each other, and where there is no inverse", () => {
    expect(apart(IDENTITY, [1, 0, 3, 0, 1, 4, 0, 0, 1], [[0, 0], [9, 9]])).toBe(5); // prettier-ignore
    expect(inverse([1, 2, 0, 2, 4, 0, 0, 0, 1])).toBeNull();
  });
});

describe("a region is followed", () => {
  const middle = boxAt(76, 76, 124, 124);
  it.each([
    ["that shifts", (n: number) => pose(0, 0, 0, 1, 160 + 18 * Math.sin(n / 6), 120 + 7 * Math.cos(n / 5)), middle, 0.1],
    ["that turns and comes nearer", (n: number) => pose(0, 0, 0.3 * Math.sin(n / 12), 1 + 0.2 * Math.sin(n / 15), 160, 120), middle, 0.1],
    [
      "of a card that a hand turns about",
      (n: number) =>
        pose(
          0.5 * Math.sin(n / 14),
          0.6 * Math.sin(n / 18),
          0.3 * Math.sin(n / 22),
          0.9,
          160 + 20 * Math.sin(n / 9) + 2 * Math.sin(1.7 * n),
          120 + 2 * Math.cos(1.3 * n),
        ),
      boxAt(30, 40, 170, 160),
      0.15,
    ],
  ])("%s, to a tenth of a pixel", (_, poses, box, most) => {
    const r = follow(poses, 50, box);
    expect(r.stopped).toBeUndefined();
    expect(r.p95).toBeLessThan(most);
  });

  it("through light that changes, noise and blur", () => {
    const poses = (n: number) => pose(0.2 * Math.sin(n / 9), 0, 0.2 * Math.sin(n / 7), 1, 160 + 10 * Math.sin(n / 6), 120);
    const r = follow(poses, 40, boxAt(50, 50, 150, 150), (n) => ({
      noise: 5,
      gain: 1 + 0.3 * Math.sin(n / 5),
      offset: 12 * Math.cos(n / 8),
      blur: n % 8 === 5 ? 7 : 1,
    }));
    expect(r.stopped).toBeUndefined();
    expect(r.p95).toBeLessThan(1); // of frames that are smeared over seven pixels as well
  });

  it("with a highlight that wanders over it, and a hand at its corner", () => {
    const at = (n: number) => pose(0.4 * Math.sin(n / 12), 0.5 * Math.sin(n / 15), 0.3 * Math.sin(n / 20), 1, 160 + 2 * Math.sin(1.7 * n), 120);
    const r = follow(at, 36, boxAt(30, 30, 170, 170), (n) => {
      const back = inverse(at(n))!;
      const finger = ([x, y]: Place) => ((x - 165 - 4 * Math.sin(0.4 * n)) / 28) ** 2 + ((y - 165) / 36) ** 2 < 1;
      return {
        noise: 3,
        gloss: { x: 100 + 60 * Math.cos(n / 9), y: 90 + 40 * Math.sin(n / 9), sigma: 21 },
        hidden: (x, y) => finger(mapped(back, [x + 0.5, y + 0.5])!),
      };
    });
    expect(r.stopped).toBeUndefined();
    expect(r.median).toBeLessThan(0.5);
    expect(r.p95).toBeLessThan(2);
  });

  it("that leaps by more than its own size", () => {
    const r = follow((n) => pose(0, 0, 0, 1, n < 4 ? 130 : 185, 120), 8, middle);
    expect(r.stopped).toBeUndefined();
    expect(r.p95).toBeLessThan(0.1);
  });

  it("with a model that is given", () => {
    const r = follow((n) => pose(0, 0, 0.1 * Math.sin(n / 9), 1, 160, 120), 20, middle, undefined, "similarity");
    expect(r.p95).toBeLessThan(0.1);
    for (const f of r.frames)
      if ("matrix" in f) expect([f.matrix[0] - f.matrix[4], f.matrix[1] + f.matrix[3]].map((v) => Math.abs(v) < 1e-9)).toEqual([true, true]);
  });
});

describe("a track stops", () => {
  const poses = (n: number) => pose(0, 0, 0, 1, 160 + 0.5 * n, 120);
  const box = boxAt(60, 60, 140, 140);
  it.each([2, 3, 5])("when a post of 50 px passes before it at %i px a frame, once a good third of it is hidden, and says on which side", (speed) => {
    const at = (n: number) => 60 + speed * n;
    const r = follow(poses, 90, box, (n) => ({ hidden: (x) => x > at(n) - 50 && x < at(n) }));
    // the share of the region that the post hides
    const hides = (n: number) => {
      const [a, b] = [120 + 0.5 * n, 200 + 0.5 * n];
      return Math.max(0, Math.min(b, at(n)) - Math.max(a, at(n) - 50)) / 80;
    };
    expect(r.stopped?.stopped).toMatch(/hides it (on its left|in its middle)/);
    expect(hides(r.stopped!.f)).toBeGreaterThan(0.2);
    expect(hides(r.stopped!.f - 1)).toBeLessThan(0.5);
  });
  it("when it leaves the picture, when another picture comes, and says so ever after", () => {
    const leaves = follow((n) => pose(0, 0, 0, 1, 160 - 6 * n, 120), 60, box);
    expect(leaves.stopped?.stopped).toMatch(/leaves the picture|cannot be found/);
    const tracker = new Tracker(
      frame(poses(0), 0),
      box.map((p) => mapped(poses(0), p)!),
    );
    const other: Gray = {
      width: W,
      height: H,
      data: Uint8Array.from({ length: W * H }, (_, i) => 120 + 60 * Math.sin((i % W) / 3) * Math.cos(i / W / 5)),
    };
    expect(tracker.next(other, 1)).toHaveProperty("stopped");
    expect(tracker.next(frame(poses(2), 2), 2)).toHaveProperty("stopped");
  });
});

describe("what cannot be followed", () => {
  let plain: Gray;
  beforeAll(() => {
    plain = { width: W, height: H, data: new Uint8Array(W * H).fill(90) };
  });
  it("turned on a screen whose pixels are wider than high, it is followed by its shear, and is called no similarity", () => {
    const k = 1.4;
    // squeezed by as much, turned by two degrees a frame, stretched again
    const turned = (n: number): Homography => {
      const [c, t] = [Math.cos((n * Math.PI) / 90), Math.sin((n * Math.PI) / 90)];
      const [x, y] = [W / 2, H / 2];
      return [c, -t / k, x - c * x + (t / k) * y, t * k, c, y - t * k * x - c * y, 0, 0, 1];
    };
    const box = boxAt(W / 2 - 40, H / 2 - 30, W / 2 + 40, H / 2 + 30);
    const tracker = new Tracker(frame(turned(0), 0), box, undefined, undefined, false);
    let worst = 0;
    for (let n = 1; n < 8; n++) {
      const r = tracker.next(frame(turned(n), n), n);
      if (!("matrix" in r)) throw new Error(r.stopped);
      for (const p of box) {
        const [q, t] = [mapped(r.matrix, p)!, mapped(turned(n), p)!];
        worst = Math.max(worst, Math.hypot(q[0] - t[0], q[1] - t[1]));
      }
    }
    expect(worst).toBeLessThan(0.5);
    expect(["affine", "perspective"]).toContain(tracker.found);
  });
  it("is refused with a reason", () => {
    expect(() => new Tracker(plain, boxAt(50, 50, 120, 120))).toThrow(/too plain/);
    expect(() => new Tracker(frame(IDENTITY, 0), boxAt(50, 50, 54, 53))).toThrow(/too small/);
  });
});
