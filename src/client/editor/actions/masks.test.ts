import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bareCore, noCamera } from "../../../../testkit/bare-core";
import { recipeWith, YUV420 } from "../../../../testkit/pictures";
import type { Mask, PathShape, Shape } from "../../../core/document/mask";
import type { PatchLayer } from "../../../core/document/layer";
import { shapePolygon } from "../../../core/shape/polygon";
import { withPoint } from "../../../core/shape/outline";
import { isKeyed, valueAt } from "../../../core/time/keyed";
import { parseRecipe } from "../../../recipe/schema";
import { createMasks } from "./masks";
import { createPatches } from "./patches";
import { sourceKind } from "../source-kind";
import { dragHandle, everyOutline, handlesOf, moveShape, NOTHING_PICKED, STILL } from "../shapes";
import { maskOf } from "../../../core/document/recipe";
import type { Holds } from "../shapes";

const info = { width: 320, height: 180, frames: 10, rate: [24, 1], format: YUV420, tags: {} };
const square = (x: number): number[][] => [[x, 20], [x + 40, 20], [x + 40, 60], [x, 60]]; // prettier-ignore
const path = (points: PathShape["points"]): Shape => ({ kind: "path", op: "add", points });
const layer = (shapes: Shape[], more: Partial<PatchLayer> = {}): PatchLayer => ({
  id: "l",
  kind: "patch",
  in: 0,
  out: 9,
  source: { plate: "p" },
  mask: { shapes },
  ...more,
});

function editor(layers: PatchLayer[], more: object = {}) {
  const d = bareCore(recipeWith(layers), {
    frame: 5,
    stage: "Patch",
    selection: { kind: "layer", layer: "l" },
    picked: NOTHING_PICKED,
    keyframesPicked: [],
    holds: "here" as Holds,
    drawInto: "new",
    drawing: [],
    maskBrush: { size: 20, hardness: 1, opacity: 1, erase: false, frames: "all" },
    shot: { takes: { a: { id: "ta", info } } },
    ...more,
  });
  const patches = createPatches(d.core, () => "b", { match: () => undefined }, noCamera);
  const masks = createMasks(d.core, patches);
  const mine = (id = "l") => d.get().recipe.intruders.flatMap((i) => i.layers).find((l) => l.id === id) as PatchLayer; // prettier-ignore
  return {
    ...d,
    patches,
    masks,
    mine,
    mask: (id = "l"): Mask => maskOf(d.get().recipe, mine(id)),
    valid: () => parseRecipe(JSON.parse(JSON.stringify(d.get().recipe))),
  };
}
const pointsAt = (s: Shape, n: number) => valueAt((s as PathShape).points, n);

describe("a shape that is moved", () => {
  it("says so after a drag too, while which the screen had the keyframe already", () => {
    const b = editor([layer([path({ keys: [{ f: 2, v: square(10) }] })])]);
    b.masks.pick({ shapes: [0], points: [] });
    b.masks.movePicked({ ...STILL, dx: 10 }, "Move", "picture");
    b.masks.movePicked({ ...STILL, dx: 30 }, "Move", "picture");
    expect(b.said).toEqual([]);
    b.masks.movePicked({ ...STILL, dx: 30 }, "Move");
    expect(b.said).toHaveLength(1);
    expect(pointsAt(b.mask().shapes[0], 5)[0][0]).toBe(40);
  });

  it("at another frame than it was drawn at gets a keyframe there; this is said, and throughout is offered instead", () => {
    const b = editor([layer([path({ keys: [{ f: 2, v: square(10) }] })])]);
    b.masks.pick({ shapes: [0], points: [] });
    b.masks.movePicked({ ...STILL, dx: 30 }, "Move");
    const keys = (b.mask().shapes[0] as PathShape).points as { keys: { f: number; v: number[][] }[] };
    expect(keys.keys.map((k) => [k.f, k.v[0][0]])).toEqual([[2, 10], [5, 40]]); // prettier-ignore
    expect(b.said).toEqual(["Keyframe of thing at frame 5."]);
    b.offered[0]();
    const held = (b.mask().shapes[0] as PathShape).points as { keys: { f: number; v: number[][] }[] };
    expect(held.keys.map((k) => [k.f, k.v[0][0]])).toEqual([[2, 40]]);
    expect(b.done).toEqual(["Move the shape of thing, at all keyframes"]);
  });

  it("throughout moves alike at every keyframe, and a constant stays one", () => {
    fc.assert(
      fc.property(fc.integer({ min: -99, max: 99 }), fc.integer({ min: -99, max: 99 }), fc.boolean(), (dx, dy, keyed) => {
        const points = keyed ? { keys: [{ f: 1, v: square(0) }, { f: 8, v: square(100) }] } : square(0); // prettier-ignore
        const b = editor([layer([path(points)])], { holds: "throughout" });
        b.masks.pick({ shapes: [0], points: [] });
        b.masks.movePicked({ ...STILL, dx, dy }, "Move");
        for (const n of [0, 1, 4, 8, 9]) {
          const [was, now] = [valueAt(points, n), pointsAt(b.mask().shapes[0], n)];
          now.forEach((p, i) => expect([p[0] - was[i][0], p[1] - was[i][1]]).toEqual([expect.closeTo(dx, 2), expect.closeTo(dy, 2)]));
        }
        expect(isKeyed((b.mask().shapes[0] as PathShape).points)).toBe(keyed);
      }),
      { numRuns: 40, seed: 2 },
    );
  });

  it("only the picked points move, and the change says how many", () => {
    const b = editor([layer([path(square(10))])]);
    b.masks.pick({ shapes: [], points: [{ shape: 0, index: 1 }, { shape: 0, index: 2 }] }); // prettier-ignore
    b.masks.movePicked({ ...STILL, dx: 5 }, "Move");
    expect(pointsAt(b.mask().shapes[0], 5).map((p) => p[0])).toEqual([10, 55, 55, 10]);
    expect(b.done.at(-1)).toBe("Move 2 points of thing");
  });

  it("an oval that gets its first turn at another frame keeps its old one where it was drawn", () => {
    const oval = {
      kind: "ellipse",
      op: "add",
      center: { keys: [{ f: 2, v: [50, 50] }] },
      radii: { keys: [{ f: 2, v: [30, 10] }] },
    } as unknown as Shape;
    const d = structuredClone(oval) as never;
    moveShape(d, { ...STILL, degrees: 40, px: 50, py: 50 }, 6, "here");
    const angle = (d as unknown as { angle: never }).angle;
    expect([2, 4, 6].map((n) => valueAt(angle, n))).toEqual([0, 20, 40]);
  });

  it("a box's corner is dragged and the one across stays, however the box is turned", () => {
    fc.assert(
      fc.property(fc.integer({ min: -180, max: 180 }), fc.nat(3), fc.integer({ min: 5, max: 60 }), (angle, corner, by) => {
        const box = { kind: "box", op: "add", center: [100, 80], size: [60, 40], angle } as unknown as Shape;
        const before = handlesOf(box, 0, 0);
        const d = structuredClone(box) as never;
        const h = before[corner];
        dragHandle(d, h, h.x + (h.x - 100) * (by / 40), h.y + (h.y - 80) * (by / 40), 0, "here");
        const after = handlesOf(d as Shape, 0, 0)[(corner + 2) % 4];
        const across = before[(corner + 2) % 4];
        expect(Math.hypot(after.x - across.x, after.y - across.y)).toBeLessThan(0.05);
      }),
      { numRuns: 60, seed: 4 },
    );
  });
});

describe("points that belong to each other", () => {
  it("a point put in at one keyframe is there at all of them, and no frame's shape changes", () => {
    const curved = (x: number): number[][] => [[x, 20, -8, 4, 10, -5], [x + 60, 25], [x + 50, 80, 12, 3, -14, -4], [x, 70]]; // prettier-ignore
    fc.assert(
      fc.property(fc.nat(3), fc.double({ min: 0.1, max: 0.9, noNaN: true }), (segment, t) => {
        const shape = path({ keys: [{ f: 0, v: curved(10) }, { f: 8, v: curved(150) }] }); // prettier-ignore
        const more = structuredClone(shape);
        everyOutline(more as never, (o) => withPoint(o, segment, t));
        for (const n of [0, 3, 8]) {
          expect(pointsAt(more, n)).toHaveLength(5);
          const [a, b] = [shapePolygon(shape, n), shapePolygon(more, n)];
          const area = (p: Float64Array) => {
            let s = 0;
            for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) s += p[j] * p[i + 1] - p[i] * p[j + 1];
            return s / 2;
          };
          expect(Math.abs(area(a) - area(b))).toBeLessThan(0.6);
        }
      }),
      { numRuns: 40, seed: 8 },
    );
  });

  it("are taken out at every keyframe, but never so many that no outline is left", () => {
    const b = editor([layer([path({ keys: [{ f: 0, v: square(0) }, { f: 8, v: square(50) }] })])]); // prettier-ignore
    b.masks.pick({ shapes: [], points: [{ shape: 0, index: 2 }] });
    expect(b.masks.deletePicked()).toBe(true);
    expect([0, 8].map((n) => pointsAt(b.mask().shapes[0], n).length)).toEqual([3, 3]);
    b.masks.pick({ shapes: [], points: [{ shape: 0, index: 0 }] });
    b.masks.deletePicked();
    expect(pointsAt(b.mask().shapes[0], 0)).toHaveLength(3);
    expect(b.said.at(-1)).toMatch(/at least three points/);
  });
});

describe("a mask", () => {
  it("that is drawn into another patch's stays one mask, joined as was chosen; a new shape is keyed where it was drawn", () => {
    const b = editor([layer([path(square(10))])], { drawInto: "cut" });
    b.masks.layShape({ kind: "box", op: "add", center: [40, 40], size: [10, 10] });
    expect(b.mask().shapes.map((s) => s.op)).toEqual(["add", "cut"]);
    expect((b.mask().shapes[1] as { center: unknown }).center).toEqual({ keys: [{ f: 5, v: [40, 40] }] });
    b.valid();
  });

  it("shared by two layers changes for both, and a copy of one's own does not", () => {
    const b = editor([layer([path(square(10))]), layer([path(square(90))], { id: "m" })]);
    b.masks.shareMask();
    const shared = (b.mine().mask as { use: string }).use;
    b.core.set({ selection: { kind: "layer", layer: "m" } });
    b.masks.useMask(shared);
    b.masks.changeMask(b.mine("m"), "Feather", (m) => void (m.feather = 9));
    expect([b.mask("l").feather, b.mask("m").feather]).toEqual([9, 9]);
    b.masks.useMask(null);
    b.masks.changeMask(b.mine("m"), "Feather", (m) => void (m.feather = 3));
    expect([b.mask("l").feather, b.mask("m").feather]).toEqual([9, 3]);
    b.core.set({ selection: { kind: "layer", layer: "l" } });
    b.masks.useMask(null);
    expect(b.get().recipe.masks).toBeUndefined();
    b.valid();
  });

  it("painted from shown hides what the brush takes away, and shows it again", () => {
    const b = editor([layer([path(square(10))])]);
    b.masks.beginPainted(true);
    expect([b.mask().invert, b.get().maskBrush.erase]).toEqual([true, true]);
    b.masks.paintMask([[30, 30]], false);
    b.core.set({ maskBrush: { ...b.get().maskBrush, erase: false } });
    b.masks.paintMask([[30, 30]], false);
    const [s] = b.mask().shapes as { strokes: { erase?: boolean }[] }[];
    expect(s.strokes.map((x) => !!x.erase)).toEqual([false, true]);
    b.valid();
  });

  it("of drawn shapes is painted away by a painted shape that cuts, and painted back on", () => {
    const b = editor([layer([path(square(10))])]);
    b.core.set({ maskBrush: { ...b.get().maskBrush, erase: true } });
    b.masks.paintMask([[30, 30]], false);
    expect(b.mask().shapes.map((s) => [s.kind, s.op])).toEqual([["path", "add"], ["painted", "cut"]]); // prettier-ignore
    b.core.set({ maskBrush: { ...b.get().maskBrush, erase: false } });
    b.masks.paintMask([[30, 30]], false);
    const [, s] = b.mask().shapes as { strokes: { erase?: boolean }[] }[];
    expect(s.strokes.map((x) => !!x.erase)).toEqual([false, true]);
  });

  it("locked is left alone, and that is said", () => {
    const b = editor([layer([path(square(10))], { locked: true })]);
    b.masks.pick({ shapes: [0], points: [] });
    b.masks.movePicked({ ...STILL, dx: 9 }, "Move");
    b.patches.removeSelected();
    expect(b.done).toEqual([]);
    expect(b.said[0]).toBe("thing is locked: unlock it in the ledger first.");
  });
});

describe("layers", () => {
  it("go over the clipboard with their plates, masks and takes; into another shot its own take is read", () => {
    const from = editor([layer([path(square(10))], { source: { take: "a", hold: 3 } })]);
    from.masks.shareMask();
    const copied = JSON.parse(JSON.stringify(from.patches.copied())) as NonNullable<ReturnType<typeof from.patches.copied>>;
    const to = editor([], { shot: { takes: { a: { id: "other", info: { ...info, frames: 3 } } } } });
    to.patches.paste(copied);
    const [l] = to.get().recipe.intruders.at(-1)!.layers as PatchLayer[];
    expect(l.source).toEqual({ take: "a", hold: 2 }); // its last frame: it is shorter
    expect(to.get().recipe.masks?.[(l.mask as { use: string }).use].shapes).toHaveLength(1);
    to.valid();
    // twice beside each other: ids stay apart
    to.patches.paste(copied);
    to.valid();
  });

  it("take their picture from another kind of source, each with a first setting that holds", () => {
    const b = editor([layer([path(square(10))])]);
    for (const kind of ["hold", "slip", "stretch", "beside", "plate"] as const) {
      b.patches.setSource(b.mine(), kind);
      expect(sourceKind(b.mine())).toBe(kind);
      b.valid();
    }
    b.patches.setSource(b.mine(), "slip");
    b.patches.setTake(b.mine(), { id: "tb", name: "second.mp4" } as never);
    expect(b.mine().source).toMatchObject({ take: "b" });
    expect(b.get().recipe.takes.b).toEqual({ asset: "tb" });
  });

  it("are put higher and lower, switched off, duplicated, and extended over the shot", () => {
    const b = editor([layer([path(square(1))], { in: 3, out: 5 }), layer([path(square(9))], { id: "m" })]);
    b.patches.orderLayer("l", 1);
    expect(b.get().recipe.intruders[0].layers.map((l) => l.id)).toEqual(["m", "l"]);
    b.patches.extend(b.mine(), "shot");
    expect([b.mine().in, b.mine().out]).toEqual([0, 9]);
    b.patches.setOn(b.mine(), false);
    expect(b.mine().on).toBe(false);
    b.patches.duplicateLayer("m");
    expect(b.get().recipe.intruders[0].layers).toHaveLength(3);
    b.valid();
  });
});
