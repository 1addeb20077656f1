import { describe, expect, it } from "vitest";
import { bareCore } from "../../../../testkit/bare-core";
import { recipeWith, YUV420 } from "../../../../testkit/pictures";
import type { PaintLayer } from "../../../core/document/layer";
import type { Point } from "../../../core/document/geometry";
import type { Touch } from "../../../core/document/touch";
import type { Painter } from "../../picture/painter";
import { createRetouch } from "../actions/retouch";
import { firstRetouch, type Retouch } from "../state/retouch";
import type { Editor } from "../editor";
import { areaGesture } from "./area";
import { ringGesture } from "./brush-ring";
import type { Gesture } from "./gesture";
import { graftGesture, inside } from "./graft";
import { guideGesture } from "./guide";
import { loopGesture } from "./retouch-loop";
import { strokeGesture } from "./stroke";
import { createHistory } from "../actions/history";
import { EditQueue } from "../../edit/queue";

const info = { width: 320, height: 180, frames: 10, format: YUV420, tags: {} };
const NONE = { shift: false, alt: false };

/** The retouching of a frame without a page; what the picture is told is written down. */
function bare(retouch: Partial<Retouch> = {}, touches: Touch[] = []) {
  const layer: PaintLayer = { id: "l", kind: "paint", in: 0, out: 9, touches };
  const d = bareCore(recipeWith([layer]), {
    frame: 3,
    mode: { stage: "Patch", paint: "l" },
    survey: null,
    shown: { quality: "exact", frame: 3, view: { kind: "result" } },
    shot: { takes: { a: { info } } },
    retouch: { ...firstRetouch, ...retouch },
  });
  const told: string[] = [];
  const painter = {
    stroke: () => void told.push("stroke"),
    strokeOn: (p: Point[]) => void told.push(`on ${p.join(" ")}`),
    strokeEnd: () => void told.push("end"),
  } as unknown as Painter;
  const tools = createRetouch(d.core, painter);
  const editor = {
    store: { getState: d.get },
    cancelPreview: d.cancelPreview,
    refresh: () => void told.push("refresh"),
    painter,
    retouch: { ...tools, tryTouch: () => void told.push("try") },
    history: createHistory(d.core, {} as EditQueue, tools),
  } as unknown as Editor;
  const laid = () => (d.get().recipe.intruders[0].layers[0] as PaintLayer).touches;
  return { ...d, editor, laid, told };
}
const drag = (g: Gesture, ...to: Point[]) => {
  g.move(to, NONE);
  g.end(to.at(-1)!, NONE);
};

describe("a stroke", () => {
  it("is shown while it is drawn and laid once at its end; broken off it leaves nothing in picture and history", () => {
    const b = bare({ tool: "restore" });
    const g = strokeGesture(b.editor, [10, 10], null, () => undefined);
    g.move([[20, 10]], NONE);
    g.cancel();
    expect(b.laid()).toEqual([]);
    expect(b.done).toEqual([]);
    expect(b.told.slice(-2)).toEqual(["end", "refresh"]);
    let last: Point = [0, 0];
    drag(
      strokeGesture(b.editor, [10, 10, 0.5], null, (p) => (last = p)),
      [20.001, 10, 1],
      [30, 12, 0.25],
    );
    expect(b.laid()[0].path).toEqual([[10, 10, 0.5], [20, 10], [30, 12, 0.25]]); // prettier-ignore
    expect(last).toEqual([30, 12, 0.25]);
    // a straight line from there
    drag(strokeGesture(b.editor, [50, 50], last, () => undefined), [50, 51]); // prettier-ignore
    expect(b.laid()[1].path!.slice(0, 2)).toEqual([[30, 12, 0.25], [50, 50]]); // prettier-ignore
  });

  it("of a fill is only drawn as a trace, and worked out at its end", () => {
    const b = bare({ tool: "fill" });
    const g = strokeGesture(b.editor, [10, 10], null, () => undefined);
    expect(g.trace).toBe("stroke");
    drag(g, [20, 10]);
    expect(b.told).toEqual([]);
    expect(b.laid()[0].kind).toBe("fill");
  });
});

describe("what is drawn beside touches", () => {
  it("a guide line is one line, after which the next press is the tool's again", () => {
    const b = bare({ tool: "fill", aid: "guide" });
    guideGesture(b.editor, [10, 10]).end([11, 10], NONE); // too short for a line
    expect(b.get().retouch).toMatchObject({ guides: [], aid: "guide" });
    const g = guideGesture(b.editor, [10, 10]);
    g.move([[90, 12]], NONE);
    g.cancel();
    expect(b.get().retouch.guides).toEqual([]);
    drag(guideGesture(b.editor, [10, 10]), [90, 12]);
    expect(b.get().retouch).toMatchObject({ guides: [[[10, 10], [90, 12]]], aid: null }); // prettier-ignore
  });

  it("an area to stay away from is full strength, whatever the brush is set to", () => {
    const b = bare({ tool: "fill", aid: "avoid", brush: { ...firstRetouch.brush, opacity: 0.3, flow: 0.5 } });
    const g = areaGesture(b.editor, [10, 10], "avoid");
    g.move([[20, 20]], NONE);
    g.cancel();
    expect(b.get().retouch.avoid).toEqual([]);
    drag(areaGesture(b.editor, [10, 10], "avoid"), [20, 20]);
    expect(b.get().retouch.avoid[0].brush).toMatchObject({ opacity: 1, flow: 1, hardness: 1 });
  });

  it("a loop of fewer than three corners is none", () => {
    const found: Point[][] = [];
    const line = loopGesture([0, 0], (o) => found.push(o));
    drag(line, [10, 0], [20, 0]);
    drag(
      loopGesture([0, 0], (o) => found.push(o)),
      [40, 0],
      [40, 40],
      [0, 40],
    );
    expect(found).toHaveLength(1);
    expect(found[0].length).toBeGreaterThanOrEqual(3);
  });
});

describe("a graft", () => {
  const outline: Point[] = [[10, 10], [30, 10], [30, 30], [10, 30]]; // prettier-ignore
  it("is tried while it is dragged and laid where it is let go; a press alone, or one broken off, leaves the loop waiting", () => {
    const b = bare({ tool: "graft", loop: outline });
    graftGesture(b.editor, [20, 20], outline, null).end([20, 20], NONE);
    expect([b.laid(), b.get().retouch.loop]).toEqual([[], outline]);
    const g = graftGesture(b.editor, [20, 20], outline, null);
    g.move([[60, 22]], NONE);
    expect(b.told).toContain("try");
    g.cancel();
    expect([b.laid(), b.get().retouch.loop]).toEqual([[], outline]);
    drag(graftGesture(b.editor, [20, 20], outline, null), [60, 22]);
    expect(b.laid()[0]).toMatchObject({ kind: "graft", offset: [40, 2], outline });
    // dragged again it is changed, not laid once more
    drag(graftGesture(b.editor, [20, 20], outline, b.laid()[0]), [30, 20]);
    expect(b.laid().map((t) => t.offset)).toEqual([[50, 2]]);
  });

  it("is within its loop by the even–odd rule", () => {
    expect([inside(outline, [20, 20]), inside(outline, [31, 20]), inside(outline, [20, 9])]).toEqual([true, false, false]);
  });
});

describe("the brush's ring", () => {
  it("is pulled to size, never beyond its range, and is as it was when that is broken off", () => {
    const b = bare();
    drag(ringGesture(b.editor, [50, 50]), [80, 90]);
    expect(b.get().retouch.brush.size).toBe(100);
    drag(ringGesture(b.editor, [50, 50]), [50, 50]);
    expect(b.get().retouch.brush.size).toBe(1);
    const g = ringGesture(b.editor, [0, 0]);
    g.move([[9000, 0]], NONE);
    expect(b.get().retouch.brush.size).toBe(2000);
    g.cancel();
    expect(b.get().retouch.brush.size).toBe(1);
  });
});
