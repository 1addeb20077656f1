import { describe, expect, it } from "vitest";
import { shapePolygon } from "../core/shape/polygon";
import type { PatchLayer } from "../core/document/layer";
import type { Shape } from "../core/document/mask";
import { keyframesOf, moveKeys } from "./editor/keyframes";
import { dragHandle, handlesOf, moveShape, STILL } from "./editor/shapes";
import { calculate } from "./input/arithmetic";

describe("number fields", () => {
  it("work out sums as they are typed", () => {
    const sums: [string, number | null][] = [
      ["88-31", 57],
      ["2*(3+4)", 14],
      ["-5", -5],
      ["1,5", 1.5],
      ["10/4", 2.5],
      [".5+1", 1.5],
      ["2 − 3", -1],
      ["--2", 2],
      ["", null],
      ["2+", null],
      ["abc", null],
      ["(1", null],
      ["1/0", null],
      ["1 2 3", 123],
    ];
    for (const [text, v] of sums) expect([text, calculate(text)]).toEqual([text, v]);
  });
});

describe("shapes on the picture", () => {
  it("handles lie on the shape, and dragging one moves it there, at the key of its frame", () => {
    const box: Shape = { kind: "box", op: "add", center: [50, 40], size: [20, 10], angle: 30 };
    const poly = shapePolygon(box, 0);
    handlesOf(box, 0, 0)
      .slice(0, 4)
      .forEach((h, i) => expect([h.x, h.y]).toEqual([expect.closeTo(poly[2 * i], 9), expect.closeTo(poly[2 * i + 1], 9)]));
    const oval = {
      kind: "ellipse" as const,
      op: "add" as const,
      center: {
        keys: [
          { f: 0, v: [50, 40] },
          { f: 10, v: [60, 40] },
        ],
      },
      radii: [20, 10],
    };
    moveShape(oval as never, { ...STILL, dx: 1, dy: 2 }, 5, "here");
    expect(oval.center.keys).toEqual([
      { f: 0, v: [50, 40] },
      { f: 5, v: [56, 42] },
      { f: 10, v: [60, 40] },
    ]);
    const path = {
      kind: "path" as const,
      op: "add" as const,
      points: [
        [0, 0],
        [10, 0, 1, 1, 2, 2],
        [5, 8],
      ],
    };
    dragHandle(path as never, handlesOf(path as Shape, 0, 0)[1], 12.346, 3, 0, "here");
    expect(path.points[1]).toEqual([12.346, 3, 1, 1, 2, 2]);
  });
});

describe("keyframes of a layer", () => {
  it("are found wherever they stand, and move together", () => {
    const l = {
      id: "l",
      kind: "patch",
      in: 0,
      out: 9,
      source: { take: "a", slip: { keys: [{ f: 2, v: 1 }] } },
      mask: {
        shapes: [],
        feather: {
          keys: [
            { f: 2, v: 1 },
            { f: 6, v: 3 },
          ],
        },
      },
      opacity: 1,
    } as unknown as PatchLayer;
    const r = { masks: {}, intruders: [{ id: "i", name: "", layers: [l] }] };
    expect(keyframesOf(r, l)).toEqual([2, 6]);
    moveKeys(r as never, "l", [2], 4);
    expect(keyframesOf(r, l)).toEqual([6]);
  });
});
