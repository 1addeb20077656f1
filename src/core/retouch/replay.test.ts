import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { noise, YUV420 } from "../../../testkit/pictures";
import type { Touch } from "../document/touch";
import { bytesOf, copyFrame, type Frame } from "../pixels/frame";
import { planReplay } from "./replay";
import { applyTouch } from "./touch";

const [W, H] = [260, 200];
const base = noise(W, H, YUV420, 1);
const other = noise(W, H, YUV420, 2);
const lay = (touches: readonly Touch[]): Frame => {
  const work = copyFrame(base);
  for (const t of touches) applyTouch(work, t, { original: base, source: t.source && other, siting: "left" });
  return work;
};

const touch = fc
  .record({
    id: fc.uuid(),
    kind: fc.constantFrom("clone", "heal", "uncover", "restore", "flat"),
    x: fc.integer({ min: 0, max: W }),
    y: fc.integer({ min: 0, max: H }),
    size: fc.integer({ min: 6, max: 50 }),
    hardness: fc.constantFrom(0, 0.5, 1),
    dx: fc.integer({ min: -120, max: 120 }),
    dy: fc.integer({ min: -90, max: 90 }),
  })
  .map(({ id, kind, x, y, size, hardness, dx, dy }): Touch => ({
    id,
    kind: kind as Touch["kind"],
    brush: { size, hardness, opacity: 0.9, flow: 1, spacing: 0.2 },
    path: [
      [x, y],
      [x + dx / 6, y + dy / 6],
    ],
    ...(kind === "uncover" ? { source: { take: "a", frame: 1 } } : kind === "clone" || kind === "heal" ? { offset: [dx, dy] } : {}),
  }));

/** Some change of a list: taken out, put in, changed, moved. */
const change = fc.record({ what: fc.constantFrom("drop", "add", "change", "move"), at: fc.nat(), to: fc.nat(), fresh: touch });

describe("replay", () => {
  it("comes to the same picture as laying every touch anew, whatever was changed", () => {
    fc.assert(
      fc.property(fc.array(touch, { minLength: 1, maxLength: 9 }), fc.array(change, { minLength: 1, maxLength: 3 }), (before, changes) => {
        const now = [...before];
        for (const { what, at, to, fresh } of changes) {
          const i = now.length ? at % now.length : 0;
          if (what === "add") now.splice(i, 0, fresh);
          else if (!now.length) continue;
          else if (what === "drop") now.splice(i, 1);
          else if (what === "change") now[i] = { ...now[i], brush: { ...now[i].brush!, opacity: 0.4 } };
          else now.splice(to % now.length, 0, ...now.splice(i, 1));
        }
        const plan = planReplay(before, now, W, H, (a, b) => a === b);
        const result = copyFrame(lay(before));
        plan.end(lay(plan.run), result);
        expect(bytesOf(result)).toEqual(bytesOf(lay(now)));
      }),
      { numRuns: 12 },
    );
  });

  it("lays only what the change reaches", () => {
    const dab = (id: string, x: number): Touch => ({
      id,
      kind: "clone",
      brush: { size: 20, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 },
      path: [[x, 100]],
      offset: [0, 30],
    });
    const before = [dab("a", 20), dab("b", 120), dab("c", 220)];
    const plan = planReplay(before, [{ ...before[0], offset: [0, 40] }, before[1], before[2]], W, H, (a, b) => a === b);
    expect(plan.run.map((t) => t.id)).toEqual(["a"]);
  });
});
