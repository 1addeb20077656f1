import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Point } from "../../../core/document/geometry";
import type { Gesture } from "./gesture";
import { type Drawn, PointerPipe, type Passed, type Told } from "./pointer";

/** A tool that writes down what it is told. */
function tool(trace?: Gesture["trace"]) {
  const said: string[] = [];
  const g: Gesture = {
    trace,
    move: (points) => void said.push(`move ${points.map((p) => p.join(",")).join(" ")}`),
    end: (p) => void said.push(`end ${p.join(",")}`),
    cancel: () => void said.push("cancel"),
  };
  return { g, said };
}
function pipe() {
  let cancel: (() => void) | null = null;
  const drawn: (Drawn | null)[] = [];
  const p = new PointerPipe({ gestureBegins: (c) => (cancel = c), gestureEnds: () => (cancel = null) }, (d) => void drawn.push(d));
  return { p, drawn, breakOff: () => cancel?.(), underway: () => cancel !== null };
}
const at = (x: number, y: number, t: number, more: Partial<Passed<Told>> = {}): Passed<Told> => ({
  clientX: x,
  clientY: y,
  timeStamp: t,
  shiftKey: false,
  altKey: false,
  ...more,
});
const place = (e: Told): Point => [e.clientX, e.clientY];

describe("the pipe from a pointer to a tool", () => {
  it("goes from press over moves to release, each place once, however often it is told", () => {
    const { p, drawn, underway } = pipe();
    const { g, said } = tool("loop");
    p.begin(() => g, at(0, 0, 1), [0, 0]);
    expect(underway()).toBe(true);
    p.move(at(4, 0, 3, { getCoalescedEvents: () => [at(1, 0, 1.5), at(3, 0, 2.5)] }), place);
    p.move(at(4, 0, 3), place); // told again
    p.move(at(9, 0, 2.2), place); // older than what was told
    p.move(at(7, 1, 5), place);
    p.up(at(7, 1, 6), [7, 1]);
    p.up(at(8, 1, 7), [8, 1]);
    p.move(at(9, 9, 9), place);
    expect(said).toEqual(["move 1,0 3,0", "move 7,1", "end 7,1"]);
    expect(drawn.at(-1)).toBe(null);
    expect(drawn.at(-2)!.points).toEqual([[0, 0], [1, 0], [3, 0], [7, 1]]); // prettier-ignore
    expect(underway()).toBe(false);
  });

  it("goes on where only a pen's pressure has changed", () => {
    const { p } = pipe();
    const { g, said } = tool();
    p.begin(() => g, at(5, 5, 1, { pressure: 0.2 }), [5, 5, 0.2]);
    p.move(at(5, 5, 2, { pressure: 0.6 }), (e) => [e.clientX, e.clientY, e.pressure!]);
    expect(said).toEqual(["move 5,5,0.6"]);
  });

  it("draws a frame from its first to its newest place", () => {
    const { p, drawn } = pipe();
    p.begin(() => tool("box").g, at(1, 1, 1), [1, 1]);
    p.move(at(5, 5, 2), place);
    p.move(at(9, 4, 3, { shiftKey: true }), place);
    expect(drawn.at(-1)).toMatchObject({ points: [[1, 1], [9, 4]], mods: { shift: true, alt: false } }); // prettier-ignore
  });

  it("commits nothing after a cancel, whatever the pointer still says; a second press cancels the first", () => {
    const { p, breakOff } = pipe();
    const [a, b] = [tool(), tool()];
    p.begin(() => a.g, at(0, 0, 1), [0, 0]);
    p.begin(() => b.g, at(0, 0, 2), [0, 0]);
    expect(a.said).toEqual(["cancel"]);
    breakOff();
    p.move(at(5, 5, 3), place);
    p.up(at(5, 5, 4), [5, 5]);
    p.cancel();
    expect(b.said).toEqual(["cancel"]);
  });

  it("ends every gesture exactly once, by release or by cancel, in whatever order things come (property)", () => {
    const step = fc.constantFrom("down", "move", "up", "cancel", "escape");
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
        const { p, breakOff, underway } = pipe();
        const tools: ReturnType<typeof tool>[] = [];
        steps.forEach((s, t) => {
          const e = at(t, t, t + 1);
          if (s === "down") {
            tools.push(tool());
            p.begin(() => tools.at(-1)!.g, e, [t, t]);
          } else if (s === "move") p.move(e, place);
          else if (s === "up") p.up(e, [t, t]);
          else if (s === "cancel") p.cancel();
          else breakOff();
        });
        p.cancel();
        expect(underway()).toBe(false);
        for (const { said } of tools) {
          expect(said.filter((x) => !x.startsWith("move"))).toHaveLength(1);
          expect(said.at(-1)!.startsWith("move")).toBe(false);
        }
      }),
    );
  });
});
