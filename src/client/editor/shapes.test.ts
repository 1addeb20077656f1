import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Draft } from "../../recipe/edits";
import type { Shape } from "../../core/document/mask";
import { moveShape, ovalThrough, STILL } from "./shapes";

const oval = (radii: [number, number], angle = 0) => ({ kind: "ellipse", op: "add", center: [50, 40], radii, angle }) as Draft<Shape>;

describe("ovals on pixels that are not square", () => {
  it("go through a plane map as their outline does (property)", () => {
    const entry = fc.double({ min: -1, max: 1, noNaN: true });
    const radius = fc.double({ min: 2, max: 60, noNaN: true });
    fc.assert(
      fc.property(entry, entry, entry, entry, radius, radius, fc.double({ min: 0, max: 180, noNaN: true }), (a, b, c, d, rx, ry, turn) => {
        const m = [1.5 + a, b, c, 1.5 + d, 0, 0] as const;
        fc.pre(Math.abs(m[0] * m[3] - m[1] * m[2]) > 0.2);
        const { radii, angle } = ovalThrough(m, [rx, ry], turn);
        const rad = Math.PI / 180;
        for (let t = 0; t < 6; t++) {
          const [u, v] = [rx * Math.cos(t), ry * Math.sin(t)];
          const [x, y] = [u * Math.cos(turn * rad) - v * Math.sin(turn * rad), u * Math.sin(turn * rad) + v * Math.cos(turn * rad)];
          const [px, py] = [m[0] * x + m[2] * y, m[1] * x + m[3] * y];
          const [qx, qy] = [px * Math.cos(angle * rad) + py * Math.sin(angle * rad), py * Math.cos(angle * rad) - px * Math.sin(angle * rad)];
          expect(Math.abs(Math.hypot(qx / radii[0], qy / radii[1]) - 1)).toBeLessThan(1e-6);
        }
      }),
    );
  });
  it("a circle of the screen stays one when it is turned; one that is turned by 90° has its axes exchanged as on the screen", () => {
    const circle = oval([15, 30]) as { radii: number[]; angle: number };
    moveShape(circle as Draft<Shape>, { ...STILL, px: 50, py: 40, degrees: 37, aspect: 2 }, 0, "throughout");
    const lies = Math.abs(Math.round(circle.angle)) % 180 === 90 ? circle.radii.toReversed() : circle.radii;
    expect(lies.map(Math.round)).toEqual([15, 30]);
    // 40 × 10 on the screen lie 20 × 10 in samples; upright they are 10 × 40 there, 5 × 40 here
    const long = oval([20, 10]) as { radii: number[]; angle: number };
    moveShape(long as Draft<Shape>, { ...STILL, px: 50, py: 40, degrees: 90, aspect: 2 }, 0, "throughout");
    expect(long.radii.toSorted((a, b) => a - b).map(Math.round)).toEqual([5, 40]);
  });
  it("an outline turned by 90° about a point has its corners where they belong on the screen", () => {
    const path = { kind: "path", op: "add", points: [[60, 40], [50, 60], [40, 40]] } as unknown as Draft<Shape>; // prettier-ignore
    moveShape(path, { ...STILL, px: 50, py: 40, degrees: 90, aspect: 2 }, 0, "throughout");
    // (10, 0) of samples are 20 to the right on the screen, and go 20 down; (0, 20) go 20 to the left, 10 samples
    expect((path as unknown as { points: number[][] }).points.map((p) => p.map((v) => Math.round(v)))).toEqual([[50, 60], [40, 40], [50, 20]]); // prettier-ignore
  });
});
