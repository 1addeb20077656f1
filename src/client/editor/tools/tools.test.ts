import { describe, expect, it } from "vitest";
import { bareCore, noCamera } from "../../../../testkit/bare-core";
import { recipeWith, YUV420 } from "../../../../testkit/pictures";
import type { PatchLayer } from "../../../core/document/layer";
import type { Point } from "../../../core/document/geometry";
import type { Shape } from "../../../core/document/mask";
import { valueAt } from "../../../core/time/keyed";
import { createMasks } from "../actions/masks";
import { createPatches } from "../actions/patches";
import { createSource } from "../actions/source";
import { maskOf } from "../../../core/document/recipe";
import { NOTHING_PICKED } from "../shapes";
import type { Editor } from "../editor";
import { frameGesture, handleGesture, moveGesture, scaleGesture, turnGesture } from "./adjust";
import { edgeGesture } from "./edge";
import type { Gesture } from "./gesture";
import { edgeAt, frameOf, targetAt } from "./hit";
import { brushGesture, ringGesture } from "./mask-brush";
import { scoutGesture } from "./scout";
import { drawGesture, loopGesture, pointGesture } from "./shapes";
import { sourceGesture } from "./source";

const info = { width: 320, height: 180, frames: 10, rate: [24, 1], format: YUV420, tags: {} };
const box: Shape = { kind: "box", op: "add", center: [100, 80], size: [80, 40] };
const layer: PatchLayer = { id: "l", kind: "patch", in: 0, out: 9, source: { plate: "p" }, mask: { feather: 10, shapes: [box] } };

/** An editor without a page, as far as the tools of masks need one. */
function bare(layers: PatchLayer[] = [layer], more: object = {}) {
  const d = bareCore(recipeWith(layers), {
    frame: 5,
    mode: { stage: "Patch", paint: null },
    selection: layers.length ? { kind: "layer", layer: "l" } : null,
    picked: NOTHING_PICKED,
    keyframesPicked: [],
    holds: "throughout",
    drawInto: "new",
    drawing: [],
    ring: [],
    maskBrush: { size: 20, hardness: 1, opacity: 1, erase: false, frames: "all" },
    shot: { takes: { a: { id: "ta", info } } },
    ...more,
  });
  const ringed: Point[][] = [];
  const patches = createPatches(d.core, () => "b", { match: () => undefined }, noCamera);
  const editor = {
    store: { getState: d.get },
    cancelPreview: d.cancelPreview,
    patches,
    masks: createMasks(d.core, patches),
    source: createSource(d.core, patches),
    scout: { setRing: (ring: Point[]) => d.core.set({ ring }), ringed: (r: Point[]) => Promise.resolve(void ringed.push(r)) },
  };
  const mine = () => d.get().recipe.intruders.flatMap((i) => i.layers).find((l) => l.id === "l") as PatchLayer; // prettier-ignore
  const shape = () => maskOf(d.get().recipe, mine()).shapes[0] as Extract<Shape, { kind: "box" }>;
  return { ...d, editor: editor as unknown as Editor, mine, shape, ringed };
}
const NONE = { shift: false, alt: false };
const drag = (g: Gesture, to: Point, mods = NONE) => {
  g.move([to], mods);
  g.end(to, mods);
};
/** What every tool promises: broken off after it was moved, nothing has changed and nothing is in the history. */
function leavesNothing(b: ReturnType<typeof bare>, begin: (e: Editor) => Gesture, to: Point): void {
  const before = JSON.stringify([b.get().recipe, b.get().drawing, b.get().ring, b.get().maskBrush]);
  const g = begin(b.editor);
  g.move([to], NONE);
  g.cancel();
  expect(JSON.stringify([b.get().recipe, b.get().drawing, b.get().ring, b.get().maskBrush])).toBe(before);
  expect(b.done).toEqual([]);
}

describe("adjusting", () => {
  it("moves what is picked, with Shift only along the way it goes most", () => {
    const b = bare([layer], { picked: { shapes: [0], points: [] } });
    leavesNothing(b, (e) => moveGesture(e, [100, 80], "Move"), [150, 90]);
    drag(moveGesture(b.editor, [100, 80], "Move"), [130, 85]);
    expect(valueAt(b.shape().center, 5)).toEqual([130, 85]);
    const g = moveGesture(b.editor, [130, 85], "Move");
    g.move([[131, 85]], { shift: true, alt: false });
    g.end([170, 95], { shift: true, alt: false });
    expect(valueAt(b.shape().center, 5)).toEqual([170, 85]);
    // a press alone is no change
    const done = b.done.length;
    moveGesture(b.editor, [0, 0], "Move").end([0, 0], NONE);
    expect(b.done).toHaveLength(done);
  });

  it("draws a corner while the one across stays, grabbed beside its middle without a jump", () => {
    const b = bare();
    const corner = { shape: 0, kind: "corner" as const, index: 2, x: 140, y: 100 };
    leavesNothing(b, (e) => handleGesture(e, corner, [142, 101], NONE), [180, 130]);
    drag(handleGesture(b.editor, corner, [142, 101], NONE), [162, 121]);
    expect(valueAt(b.shape().size, 5)).toEqual([100, 60]);
    expect(valueAt(b.shape().center, 5)).toEqual([110, 90]);
  });

  it("scales about the corner across and turns about the pivot by steps of 15° with Shift", () => {
    const b = bare([layer], { picked: { shapes: [0], points: [] } });
    const f = frameOf([box], { shapes: [0], points: [] }, 5, null)!;
    leavesNothing(b, (e) => scaleGesture(e, f, 2, [140, 100]), [180, 120]);
    drag(scaleGesture(b.editor, f, 2, [140, 100]), [180, 120]);
    expect(valueAt(b.shape().size, 5)).toEqual([120, 60]);
    expect(valueAt(b.shape().center, 5)).toEqual([120, 90]);
    leavesNothing(bare([layer], { picked: { shapes: [0], points: [] } }), (e) => turnGesture(e, f, [140, 80]), [100, 120]);
    const t = bare([layer], { picked: { shapes: [0], points: [] } });
    drag(turnGesture(t.editor, f, [140, 80]), [137, 97], { shift: true, alt: false });
    expect(valueAt(t.shape().angle!, 5)).toBe(30);
  });

  it("picks by a frame, and tells a click from a drag", () => {
    const path: Shape = { kind: "path", op: "add", points: [[10, 10], [60, 10], [60, 60], [10, 60]] }; // prettier-ignore
    const b = bare([{ ...layer, mask: { shapes: [path] } }]);
    let clicks = 0;
    frameGesture(b.editor, [5, 5], 1, () => clicks++).end([7, 6], NONE);
    expect(clicks).toBe(1);
    drag(frameGesture(b.editor, [5, 5], 1, () => clicks++), [65, 30]); // prettier-ignore
    expect(b.get().picked.points.map((p) => p.index)).toEqual([0, 1]);
    expect(clicks).toBe(1);
  });
});

describe("the edge", () => {
  const band = [{ polygon: new Float64Array([60, 60, 140, 60, 140, 100, 60, 100]), feather: 10, grow: 0 }];
  it("is taken hold of outside for its feather and at its inner rim for growth, and nowhere else", () => {
    // at 200 % the shape is 160 by 80 on the screen; its band reaches 5 take pixels to either side
    expect(edgeAt(band, [100, 107], 2)).toMatchObject({ kind: "feather", grip: { at: [100, 100], normal: [0, 1] } });
    expect(edgeAt(band, [149, 80], 2)).toMatchObject({ kind: "feather", grip: { at: [140, 80], normal: [1, 0] } });
    expect(edgeAt(band, [100, 94], 2)).toMatchObject({ kind: "grow", grip: { at: [100, 100], normal: [expect.closeTo(0), 1] } });
    expect(edgeAt(band, [100, 100.5], 2)).toBe(null); // the outline itself is moved
    expect(edgeAt(band, [100, 80], 2)).toBe(null); // and so is what lies within
    expect(edgeAt(band, [100, 120], 2)).toBe(null);
    // of a shape that is small on the screen the inside is for moving
    expect(edgeAt(band, [100, 94], 1)).toBe(null);
    expect(targetAt([box], NOTHING_PICKED, null, [140, 100], 5, 2, false, band)?.kind).toBe("handle"); // a corner comes first
  });

  it("follows the pointer from where it was taken: half of a feather lies outside", () => {
    const b = bare();
    const grip = { at: [100, 100] as [number, number], normal: [0, 1] as [number, number] };
    leavesNothing(b, (e) => edgeGesture(e, "feather", grip, [100, 107], null), [100, 140]);
    drag(edgeGesture(b.editor, "feather", grip, [100, 107], null), [103, 111]);
    expect(b.mine().mask).toMatchObject({ feather: 18 });
    drag(edgeGesture(b.editor, "feather", grip, [100, 107], null), [100, 20]);
    expect(b.mine().mask).toMatchObject({ feather: 0 }); // never below
    drag(edgeGesture(b.editor, "grow", grip, [100, 94], null), [100, 91]);
    expect(b.mine().mask).toMatchObject({ grow: -3 });
  });
});

describe("drawing", () => {
  it("an outline's point: a click is a corner, a drag pulls out its arms; broken off it is not there", () => {
    const b = bare([]);
    leavesNothing(b, (e) => pointGesture(e, [10, 10], 1), [30, 10]);
    pointGesture(b.editor, [10, 10], 1).end([11, 10], NONE);
    drag(pointGesture(b.editor, [50, 10], 1), [60, 14]);
    expect(b.get().drawing).toEqual([[10, 10], [50, 10, -10, -4, 10, 4]]); // prettier-ignore
  });

  it("an oval with Shift round, with Alt from its middle; too small a one is a click", () => {
    const b = bare([]);
    let clicks = 0;
    const clicked = () => void clicks++;
    leavesNothing(b, (e) => drawGesture(e, "oval", [20, 20], 1, clicked), [60, 50]);
    drawGesture(b.editor, "oval", [20, 20], 1, clicked).end([21, 21], NONE);
    drag(drawGesture(b.editor, "oval", [20, 20], 1, clicked), [60, 50], { shift: true, alt: true });
    const last = b.get().recipe.intruders.at(-1)!.layers[0] as PatchLayer;
    expect(maskOf(b.get().recipe, last).shapes[0]).toMatchObject({ center: [20, 20], radii: [40, 40] });
    expect(clicks).toBe(1);
  });

  it("a loop is laid at its end, and not when it is broken off or a mere click", () => {
    const b = bare([]);
    let clicks = 0;
    const round = Array.from({ length: 40 }, (_, i): Point => [100 + 40 * Math.cos(i / 6.4), 80 + 30 * Math.sin(i / 6.4)]);
    const g = loopGesture(b.editor, round[0], 1, () => clicks++);
    g.move(round.slice(1), NONE);
    g.cancel();
    expect(b.done).toEqual([]);
    loopGesture(b.editor, round[0], 1, () => clicks++).end(round[0], NONE);
    expect(clicks).toBe(1);
    const h = loopGesture(b.editor, round[0], 1, () => clicks++);
    h.move(round.slice(1), NONE);
    h.end(round.at(-1)!, NONE);
    expect(b.done).toHaveLength(1);
  });

  it("a mask's stroke keeps a pen's pressure, with Alt it takes away, and the brush is as it was", () => {
    const b = bare();
    leavesNothing(b, (e) => brushGesture(e, [50, 50, 0.5], NONE), [60, 50, 0.8]);
    drag(brushGesture(b.editor, [50, 50, 0.5], { shift: false, alt: true }), [70, 50, 0.75]);
    expect(JSON.stringify(b.get().recipe)).toContain("[[50,50,0.5],[70,50,0.75]]");
    expect(b.get().maskBrush.erase).toBe(false);
    leavesNothing(bare(), (e) => ringGesture(e, [50, 50]), [90, 50]);
    drag(ringGesture(b.editor, [50, 50]), [90, 50]);
    expect(b.get().maskBrush.size).toBe(80);
  });

  it("round a thing in Scout: shown while it is drawn, asked about at its end", () => {
    const b = bare();
    leavesNothing(b, (e) => scoutGesture(e, [1, 1]), [5, 5]);
    const g = scoutGesture(b.editor, [1, 1]);
    g.move([[9, 1], [9, 9], [5, 12], [1, 9]], NONE); // prettier-ignore
    expect(b.get().ring).toHaveLength(5);
    g.end([1, 9], NONE);
    expect(b.ringed).toEqual([[[1, 1], [9, 1], [9, 9], [5, 12], [1, 9]]]); // prettier-ignore
  });
});

describe("the source", () => {
  it("is moved under the mask, and another area is read by dragging what is read", () => {
    const b = bare();
    leavesNothing(b, (e) => sourceGesture(e, "picture", [100, 80]), [120, 90]);
    drag(sourceGesture(b.editor, "picture", [100, 80]), [112, 83]);
    expect(b.mine().place).toMatchObject({ x: 12, y: 3 });
    const c = bare();
    drag(sourceGesture(c.editor, "area", [100, 80]), [112, 83]);
    expect(c.mine().place).toMatchObject({ x: -12, y: -3 });
  });
});
