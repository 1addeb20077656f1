import { describe, expect, it } from "vitest";
import { bareCore } from "../../../../testkit/bare-core";
import { recipeWith, YUV420 } from "../../../../testkit/pictures";
import type { PaintLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import type { Touch } from "../../../core/document/touch";
import type { Painter } from "../../picture/painter";
import { atFrame } from "../counting";
import { byLoop, hindrance, offsetFor, sourceRef, veilOf } from "../retouch-target";
import { createRetouch } from "./retouch";
import type { EditorState } from "../state/editor";
import { firstRetouch, type Retouch } from "../state/retouch";
import { createMode } from "./mode";
import { openPaint } from "../state/mode";

const info = { width: 320, height: 180, frames: 10, format: YUV420, tags: {} };
const paint = (touches: Touch[] = []): PaintLayer => ({ id: "l", kind: "paint", in: 0, out: 9, touches });

/** The retouching of an editor without a page. */
function target(recipe: Recipe, more: Partial<EditorState> = {}, retouch: Partial<Retouch> = {}) {
  const { core, ...rest } = bareCore(recipe, {
    frame: 3,
    mode: { stage: "Patch", paint: null },
    survey: null,
    shown: { quality: "exact", frame: 3, view: { kind: "result" } },
    shot: { takes: { a: { info } } },
    retouch: { ...firstRetouch, ...retouch },
    ...more,
  });
  const editor = createRetouch(core, {} as Painter);
  return { editor, mode: createMode(core, editor), ...rest };
}
const onFrames = (touches: Touch[] = [], retouch: Partial<Retouch> = {}) =>
  target(recipeWith([paint(touches)]), { mode: { stage: "Patch", paint: "l" } }, retouch);
const touchesOf = (s: EditorState) => (s.recipe.intruders[0].layers[0] as PaintLayer).touches;
const dab = (id: string, frames: [number, number], at: [number, number]): Touch => ({
  id,
  kind: "clone",
  frames,
  brush: { size: 10, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 },
  path: [at],
  offset: [5, 5],
});

describe("a touch in the making", () => {
  it("ties the source to the brush with the first stroke, or begins at the point anew with each", () => {
    const point = { at: [100, 50], offset: null };
    const { editor, get } = onFrames([], { point });
    editor.layTouch({ ...editor.strokeTouch([80, 60]), path: [[80, 60]] });
    expect(touchesOf(get())[0].offset).toEqual([20, -10]);
    expect(offsetFor(get().retouch, [200, 100])).toEqual([20, -10]);
    const other = onFrames([], { point, anew: true });
    other.editor.layTouch({ ...other.editor.strokeTouch([80, 60]), path: [[80, 60]] });
    expect(offsetFor(other.get().retouch, [200, 100])).toEqual([-100, -50]);
  });

  it("holds over the frames it is told to, goes on to the next by itself where that is asked for, and keeps tool and source", () => {
    const { editor, get, done } = onFrames([], { tool: "uncover", from: { uncover: { take: "a", frame: 9 } }, holds: 3, stepOn: true });
    editor.layTouch({ ...editor.strokeTouch([80, 60]), path: [[80, 60]] });
    expect(touchesOf(get())[0]).toMatchObject({ kind: "uncover", frames: [3, 5], source: { take: "a", frame: 9 }, light: true });
    expect(get().frame).toBe(6);
    expect(get().retouch.from.uncover).toEqual({ take: "a", frame: 9 });
    expect(done).toEqual([`Uncover dab on frame ${atFrame(3)}`]);
  });

  it("takes the aids of a fill along, and only of a fill", () => {
    const guides: Retouch["guides"] = [[[0, 0], [10, 10]]]; // prettier-ignore
    const { editor } = onFrames([], { tool: "fill", guides, scale: 2, mirror: true });
    expect(editor.strokeTouch([5, 5])).toMatchObject({ kind: "fill", guides });
    expect(editor.strokeTouch([5, 5])).not.toHaveProperty("scale");
    expect(onFrames([], { tool: "flat", guides }).editor.strokeTouch([5, 5])).not.toHaveProperty("guides");
    expect(byLoop({ ...firstRetouch, tool: "graft" })).toBe(true);
    expect(byLoop({ ...firstRetouch, tool: "fill" })).toBe(false);
  });

  it("says what keeps it from painting, in one sentence", () => {
    expect(hindrance(onFrames().get())).toMatch(/press X to set the source/);
    expect(hindrance(onFrames([], { tool: "uncover" }).get())).toMatch(/what to uncover/);
    expect(hindrance(onFrames([], { tool: "heal" }).get())).toBeNull();
    expect(hindrance({ ...onFrames([], { tool: "heal" }).get(), frame: 4 })).toMatch(/not there yet/);
  });
});

describe("carrying on", () => {
  const last = [dab("a", [2, 2], [40, 40]), dab("b", [2, 6], [90, 90])];

  it("lays the last frame's touches again, but for those that hold on anyway", () => {
    const { editor, get } = onFrames(last);
    editor.carry(null);
    expect(touchesOf(get())).toHaveLength(3);
    expect(touchesOf(get())[2]).toMatchObject({ frames: [3, 3], path: [[40, 40]], offset: [5, 5] });
    expect(touchesOf(get())[2].id).not.toBe("a");
  });

  it("moves them so that the first begins at the pointer; says so where there is nothing", () => {
    const { editor, get } = onFrames(last);
    editor.carry([60, 45]);
    expect(touchesOf(get())[2].path).toEqual([[60, 45]]);
    const none = onFrames();
    none.editor.carry(null);
    expect(none.said[0]).toMatch(/Nothing was painted on frame 2/);
  });
});

describe("what goes with it", () => {
  it("fences the bars off that the survey found, once, and leaves a fence that is there alone", () => {
    const survey = { survey: { bars: { left: 0, top: 22, right: 0, bottom: 20, soft: 0 } } } as unknown as EditorState["survey"];
    const { editor, get, said } = target(recipeWith([paint()]), { mode: { stage: "Patch", paint: "l" }, survey });
    editor.fenceBars();
    expect(get().retouch.fence).toEqual([[[0, 22], [320, 22], [320, 160], [0, 160]]]); // prettier-ignore
    expect(said).toHaveLength(1);
    editor.fenceBars();
    expect(said).toHaveLength(1);
    expect(editor.strokeTouch([50, 50]).fence).toHaveLength(1);
  });

  it("nudges the source of the selected touch, else that of the tool, by pixels", () => {
    const { editor, get } = onFrames([dab("a", [3, 3], [40, 40])], { touch: "a", point: { at: [10, 10], offset: [1, 1] } });
    editor.nudgeSource(1, 0);
    expect(touchesOf(get())[0].offset).toEqual([6, 5]);
    editor.set({ touch: null });
    editor.nudgeSource(0, -1);
    expect(get().retouch.point).toEqual({ at: [10, 9], offset: [1, 0] });
  });

  it("opens the selected intruder's own paint layer, and makes one where there is none", () => {
    const { mode, get } = target(recipeWith([]), { selection: { kind: "intruder", intruder: "i" } });
    mode.paintFrames();
    expect(get().recipe.intruders[0].layers).toHaveLength(1);
    expect(openPaint(get())).toBe(get().recipe.intruders[0].layers[0].id);
    mode.openPaint(null);
    mode.paintFrames();
    expect(get().recipe.intruders[0].layers).toHaveLength(1);
  });

  it("lays the neighbouring frames or the source over it to look, each where it is", () => {
    const around = (what: "before" | "after") => onFrames([], { veil: { what, share: 0.4 } });
    expect(veilOf(around("before").get())).toMatchObject({ over: { result: 2 }, share: 0.4 });
    expect(veilOf(around("after").get())).toMatchObject({ over: { result: 4 } });
    const { get } = onFrames([], { tool: "uncover", from: { uncover: { slip: -2 } }, veil: { what: "source", share: 0.5 } });
    expect(sourceRef(get())).toEqual({ take: "a", frame: 1 });
    expect(veilOf(get())).toMatchObject({ over: { take: "a", frame: 1 } });
  });
});
