import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bareCore, noCamera } from "../../../testkit/bare-core";
import { recipeWith } from "../../../testkit/pictures";
import type { PatchLayer } from "../../core/document/layer";
import { valueAt } from "../../core/time/keyed";
import { COMMAND_IDS, commandOf, keysOf, whyNot, withOwnKey } from "./commands";
import { pressedKey, shownKeys } from "../input/keys";
import { atFrame, counted, countingOf } from "./counting";
import { curvesOf, drawnValue, putCurve } from "./curves";
import { copyKeys, keyframesOf, pasteKeys, removeKeys } from "./keyframes";
import { createTimeline } from "./actions/timeline";
import { createPatches } from "./actions/patches";
import { sourceTransformAt, liesAt, readAt, readFarther, readTurned } from "./source-transform";
import { dueFrame } from "./actions/transport";
import { edit } from "../../recipe/edits";

const number = fc.double({ min: -500, max: 900, noNaN: true });
const layer: PatchLayer = {
  id: "l",
  kind: "patch",
  in: 0,
  out: 9,
  source: { take: "a", slip: { keys: [{ f: 2, v: -3 }, { f: 6, v: 4 }] } }, // prettier-ignore
  mask: { shapes: [{ kind: "box", op: "add", center: { keys: [{ f: 2, v: [10, 10] }, { f: 8, v: [90, 30] }] }, size: { keys: [{ f: 2, v: [20, 20] }, { f: 8, v: [40, 20] }] } }] }, // prettier-ignore
  opacity: { keys: [{ f: 2, v: 0 }, { f: 6, v: 1 }] }, // prettier-ignore
};

describe("keyframes", () => {
  const recipe = recipeWith([layer]);
  it("picked move together, to whole frames, and what stands in their way is replaced", () => {
    const d = bareCore(recipe, { keyframesPicked: [{ layer: "l", f: 2 }], shot: { takes: {} } });
    const keys = createTimeline(
      d.core,
      createPatches(d.core, () => "b", { match: () => undefined }, noCamera),
      { stop: () => undefined },
    );
    keys.moveKeyframes(4);
    const l = d.get().recipe.intruders[0].layers[0] as PatchLayer;
    expect(keyframesOf(d.get().recipe, l)).toEqual([6, 8]);
    expect(l.opacity).toEqual({ keys: [{ f: 6, v: 0 }] });
    expect(d.get().keyframesPicked).toEqual([{ layer: "l", f: 6 }]);
    expect(d.done.map((x) => counted(x, String))).toEqual(["Move a keyframe of thing to frame 6"]);
    keys.easeKeyframes("step", "held");
    expect((d.get().recipe.intruders[0].layers[0] as PatchLayer).opacity).toEqual({ keys: [{ f: 6, v: 0, ease: "step" }] });
  });
  it("copied and pasted give the same values at another time; values that do not fit are left", () => {
    const copied = copyKeys(recipe, layer, [2, 6]);
    const next = edit(recipe, (d) => void pasteKeys(d, "l", copied, 20)).recipe.intruders[0].layers[0] as PatchLayer;
    for (const by of [0, 1, 2, 3, 4]) expect(valueAt(next.opacity!, 20 + by)).toBe(valueAt(layer.opacity!, 2 + by));
    const plain = recipeWith([{ ...layer, source: { plate: "p" }, mask: { shapes: [] } }]);
    let took = -1;
    edit(plain, (d) => void (took = pasteKeys(d, "l", copied, 0)));
    expect(took).toBeLessThan(copied.length);
  });
  it("all taken out leave their values as constants", () => {
    const next = edit(recipe, (d) => removeKeys(d, "l", [2, 6, 8])).recipe.intruders[0].layers[0] as PatchLayer;
    expect(next.opacity).toBe(0);
    expect((next.mask as { shapes: { center: unknown }[] }).shapes[0].center).toEqual([10, 10]);
  });
  it("a box's size keeps step with its way when the way's keyframes are dragged on the curve", () => {
    const curve = curvesOf(recipe, layer).find((c) => c.id === "mask.shapes.0.center")!;
    expect([2, 5, 8].map((n) => drawnValue(curve, n))).toEqual([0, 0.5, 1]);
    const value = { keys: [{ f: 3, v: [10, 10] }, { f: 9, v: [90, 30] }] }; // prettier-ignore
    const next = edit(recipe, (d) => putCurve(d, "l", curve, value)).recipe.intruders[0].layers[0] as PatchLayer;
    expect((next.mask as { shapes: { size: { keys: { f: number }[] } }[] }).shapes[0].size.keys.map((k) => k.f)).toEqual([3, 9]);
  });
});

describe("the source under a mask", () => {
  const size = { width: 640, height: 360 };
  const laid = fc.record({ x: number, y: number, scale: fc.double({ min: 0.2, max: 5, noNaN: true }), angle: fc.integer({ min: -180, max: 180 }) });
  it("a point of the take reads a point of the source that lies just there", () => {
    fc.assert(
      fc.property(laid, number, number, (p, x, y) => {
        const l = sourceTransformAt({ place: p }, 0, size);
        const back = liesAt(l, readAt(l, [x, y]));
        expect(Math.hypot(back[0] - x, back[1] - y)).toBeLessThan(1e-6);
      }),
    );
  });
  it("moved, all points read just as much farther; scaled and turned, the one it turns about goes on reading its own", () => {
    fc.assert(
      fc.property(laid, number, number, number, number, (p, x, y, dx, dy) => {
        const l = sourceTransformAt({ place: p }, 0, size);
        const [a, b] = [readAt(l, [x, y]), readAt(readFarther(l, dx, dy), [x, y])];
        expect(b[0] - a[0]).toBeCloseTo(dx, 6);
        expect(b[1] - a[1]).toBeCloseTo(dy, 6);
        const t = readAt(readTurned(l, [x, y], 1.7, 33), [x, y]);
        expect(Math.hypot(t[0] - a[0], t[1] - a[1])).toBeLessThan(1e-6);
      }),
    );
  });
});

describe("time on the screen", () => {
  const info = { rate: [24, 1], timecode: "10:04:20:00", frames: 96 } as never;
  it("is counted from any number or by timecode, and what is shown is read again", () => {
    fc.assert(
      fc.property(
        fc.nat(5000),
        fc.integer({ min: -1000, max: 2000 }),
        fc.constantFrom("frames" as const, "timecode" as const),
        (n, first, counting) => {
          const c = countingOf({ counting, first }, info);
          if (!c.show(n).startsWith("-")) expect(c.read(c.show(n), 7)).toBe(n);
        },
      ),
    );
    const c = countingOf({ counting: "frames", first: 1001 }, info);
    expect([c.read("1001+12", 0), c.read("+10", 30), c.read("-5", 30), c.read("10:04:21:00", 0), c.read("soon", 0)]).toEqual([12, 40, 25, 24, null]);
  });
  it("playing stays within its stretch, forward and backward, round and round or once", () => {
    expect([0, 1, 5, 6, 13].map((s) => dueFrame(12, s, 10, 15, true))).toEqual([12, 13, 11, 12, 13]);
    expect([1, 2, 3, 6].map((s) => dueFrame(12, -s, 10, 15, true))).toEqual([11, 10, 15, 12]);
    expect([3, 4].map((s) => dueFrame(12, s, 10, 15, false))).toEqual([15, null]);
  });
});

describe("keys", () => {
  it("none means two things, each can be written, and an event is read as it is written", () => {
    const all = COMMAND_IDS.flatMap((id) => commandOf(id).keys.split(","));
    expect(all.filter((k, i) => all.indexOf(k) !== i)).toEqual([]);
    const no = { ctrlKey: false, metaKey: false, shiftKey: false, altKey: false };
    expect(pressedKey({ ...no, code: "KeyK" })).toBe("k");
    expect(pressedKey({ ...no, code: "Slash", shiftKey: true })).toBe("shift+slash");
    expect(pressedKey({ ...no, code: "ArrowLeft", ctrlKey: true, altKey: true })).toBe("mod+alt+left");
    expect(pressedKey({ ...no, code: "ShiftLeft", shiftKey: true })).toBeNull();
    expect([shownKeys("shift+slash"), shownKeys("mod+shift+z"), shownKeys("bracketleft"), shownKeys("delete,backspace")]).toEqual([
      "?",
      "Ctrl Shift Z",
      "[",
      "Del",
    ]);
  });
  it("are changed, with the reason where they cannot be, and forgotten when they are the usual ones again", () => {
    expect(whyNot("handles", "k", {})).toBe("K is taken by “Opacity keyframe here, on or off”: give that another key first.");
    expect(whyNot("handles", "mod+w", {})).toMatch(/belongs to the browser/);
    expect(whyNot("peekMatte", "shift+m", {})).toMatch(/single key/);
    expect(whyNot("handles", "semicolon", {})).toBeNull();
    const own = withOwnKey({}, "handles", "semicolon");
    expect(keysOf("handles", own)).toBe("semicolon");
    // the key that became free can be given away
    expect(whyNot("keyframe", "h", own)).toBeNull();
    expect(withOwnKey(own, "handles", "h")).toEqual({});
  });
});

describe("the name of an edit", () => {
  const info = { rate: [25, 1], timecode: "10:00:00:00" } as unknown as Parameters<typeof countingOf>[1];
  it("tells its frames as they are counted when it is read, whatever was chosen when it was done", () => {
    const name = `Move a keyframe of Boom 2 to frame ${atFrame(30)}`;
    expect(counted(name, countingOf({ counting: "frames", first: 1001 }, info).show)).toBe("Move a keyframe of Boom 2 to frame 1031");
    expect(counted(name, countingOf({ counting: "timecode", first: 0 }, info).show)).toBe("Move a keyframe of Boom 2 to frame 10:00:01:05");
    // as it is stored it reads well too, and what somebody typed is left alone
    expect(name.replace(/\u2060/g, "")).toBe("Move a keyframe of Boom 2 to frame 30");
    expect(counted("Name it Boom 12", String)).toBe("Name it Boom 12");
  });
});
