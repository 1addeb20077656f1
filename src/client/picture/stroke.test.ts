import { describe, expect, it } from "vitest";
import { noise, recipeWith, YUV420, YUV444 } from "../../../testkit/pictures";
import type { Touch } from "../../core/document/touch";
import { bytesOf } from "../../core/pixels/frame";
import { evaluatePlate } from "../../core/retouch/plate";
import { LiveStroke } from "./stroke";

const clone = (more: Partial<Touch> = {}): Touch => ({
  id: "t",
  kind: "clone",
  brush: { size: 20, hardness: 0.3, flow: 0.4, opacity: 0.8, spacing: 0.1 },
  offset: [12, 6],
  ...more,
});

describe("a live stroke", () => {
  it("a stroke drawn bit by bit is the stroke evaluated at once, sample for sample", () => {
    for (const format of [YUV420, YUV444]) {
      const before = noise(80, 60, format, 9);
      const path = Array.from({ length: 25 }, (_, i) => [10 + 2.3 * i, 30 + 12 * Math.sin(i / 3)]);
      const t = clone({ path });
      const live = new LiveStroke(before, { ...t, path: undefined }, { original: before, siting: "left" }, "left");
      for (let i = 0; i < path.length; i += 3) live.add(path.slice(i, i + 3));
      const r = recipeWith([], { plates: { p: { from: { take: "a", frame: 0 }, touches: [t] } } });
      expect(bytesOf(live.work)).toEqual(bytesOf(evaluatePlate(r, "p", () => before, "left")));
    }
  });
});
