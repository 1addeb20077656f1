import { describe, expect, it } from "vitest";
import { noise, recipeWith, YUV420 } from "../../../testkit/pictures";
import { assertRuns, composeFrame, neededPictures, type Pictures } from "../compose/compose";
import type { Canvas } from "../compose/canvas";
import { partsAlone } from "../compose/views";
import { changedWindow, patchWindow } from "../compose/window";
import type { Layer } from "../document/layer";
import { mendedStretch } from "../document/recipe";
import type { PaintLayer, PatchLayer } from "../document/layer";
import type { Touch } from "../document/touch";
import { bytesOf, copyFrame, type Frame } from "../pixels/frame";
import { shrinkFrame } from "../pixels/shrink";
import { paintBounds, scaledTouch, touchesAt } from "./paint";

const [W, H] = [96, 72];
const take = Array.from({ length: 10 }, (_, i) => noise(W, H, YUV420, 60 + i));
const pictures: Pictures = { take: (_, n) => take[n], plate: () => take[0] };
const canvas: Canvas = { width: W, height: H, scale: 1, siting: "left" };
const dab = (more: Partial<Touch> = {}): Touch => ({
  id: "t",
  kind: "uncover",
  brush: { size: 20, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 },
  path: [[40, 30]],
  source: { take: "a", frame: 9 },
  ...more,
});
const layer = (touches: Touch[], more: Partial<PaintLayer> = {}): PaintLayer => ({ id: "paint", kind: "paint", in: 0, out: 9, touches, ...more });
const compose = (layers: Layer[], n: number, below = take[n]) => composeFrame({ recipe: recipeWith(layers), n, below, pictures, canvas });
const at = (f: Frame, x: number, y: number) => f.planes[0].data[y * W + x];

describe("a paint layer", () => {
  it("lays its touches on their frames only; other frames come back as the same object", () => {
    const l = layer([dab({ frames: [3, 4] })]);
    expect(compose([l], 2)).toBe(take[2]);
    expect(at(compose([l], 3), 40, 30)).toBe(at(take[9], 40, 30));
    expect(at(compose([l], 4), 40, 30)).toBe(at(take[9], 40, 30));
    expect(at(compose([l], 3), 5, 5)).toBe(at(take[3], 5, 5));
    expect(compose([l], 5)).toBe(take[5]);
    expect(compose([layer([dab({ frames: [3, 4] })], { in: 4, out: 9 })], 3)).toBe(take[3]);
    expect(compose([layer([dab({ on: false })])], 3)).toBe(take[3]);
    expect(touchesAt(layer([dab()]), 9)).toHaveLength(1); // without frames of its own a touch lies on all of the layer's
  });

  it("counts a slip from the frame itself, and names all it needs", () => {
    const l = layer([dab({ source: { slip: -2 } })]);
    expect(at(compose([l], 6), 40, 30)).toBe(at(take[4], 40, 30));
    expect(neededPictures(recipeWith([l]), 6)).toEqual([{ take: "a", frame: 4 }]);
    expect(neededPictures(recipeWith([layer([dab({ source: { plate: "p" } })])]), 6)).toEqual([{ plate: "p" }]);
    expect(() => assertRuns(recipeWith([l]))).not.toThrow();
  });

  it("paints over the patches that lie below it, and restores the footage itself", () => {
    const patch: PatchLayer = {
      id: "patch",
      kind: "patch",
      in: 0,
      out: 9,
      source: { take: "a", hold: 0 },
      mask: { shapes: [{ kind: "box", op: "add", center: [40, 30], size: [50, 40] }] },
    };
    const clone = layer([dab({ kind: "clone", source: undefined, offset: [16, 8] })]);
    expect(at(compose([patch, clone], 5), 40, 30)).toBe(at(take[0], 56, 38)); // cloned from the patched picture
    const back = layer([dab({ kind: "restore", source: undefined })]);
    const out = compose([patch, back], 5);
    expect(at(out, 40, 30)).toBe(at(take[5], 40, 30));
    expect(at(out, 20, 20)).toBe(at(take[0], 20, 20));
    // in place, as the renderer does it, the footage is still there to be restored
    const below = copyFrame(take[5]);
    expect(bytesOf(composeFrame({ recipe: recipeWith([patch, back]), n: 5, below, pictures, canvas, inPlace: true }))).toEqual(bytesOf(out));
  });

  it("changes nothing outside the window that the renderer takes out for it", () => {
    const recipe = recipeWith([layer([dab({ frames: [3, 3] }), dab({ id: "u", frames: [7, 7], path: [[70, 50]] })])]);
    const w = patchWindow(recipe, 0, 9, W, H);
    for (const n of [3, 7]) {
      const out = composeFrame({ recipe, n, below: take[n], pictures, canvas });
      for (let y = 0; y < H; y++)
        for (let x = 0; x < W; x++) if (x < w.x0 || x >= w.x1 || y < w.y0 || y >= w.y1) expect(at(out, x, y)).toBe(at(take[n], x, y));
    }
    expect(paintBounds(layer([]), 3, W, H)).toEqual({ x0: 0, y0: 0, x1: 0, y1: 0 });
  });

  it("counts as work only on the frames that are painted on", () => {
    const recipe = recipeWith([layer([dab({ frames: [3, 4] }), dab({ id: "u", frames: [6, 6] }), dab({ id: "v", frames: [8, 8], on: false })])]);
    expect(mendedStretch(recipe, 0)).toEqual({ in: 3, out: 6 });
    expect(mendedStretch(recipe, 2)).toEqual({ in: 1, out: 8 });
    expect(mendedStretch(recipeWith([layer([])]), 2)).toBeNull();
  });

  it("tells where the picture can differ after a touch more", () => {
    const before = recipeWith([layer([dab()])]);
    const after = { ...before, intruders: [{ ...before.intruders[0], layers: [layer([dab(), dab({ id: "u", path: [[70, 50]] })])] }] };
    const w = changedWindow(before, after, 3, W, H)!;
    const [a, b] = [before, after].map((r) => composeFrame({ recipe: r, n: 3, below: take[3], pictures, canvas }));
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) if (at(a, x, y) !== at(b, x, y)) expect(x >= w.x0 && x < w.x1 && y >= w.y0 && y < w.y1).toBe(true);
    expect(w.x1).toBeGreaterThan(70);
  });

  it("by itself, with its transparency, it gives back what it did", () => {
    const recipe = recipeWith([layer([dab({ brush: { ...dab().brush!, hardness: 0.2, opacity: 0.7 } })])]);
    const [part] = partsAlone(recipe, 3, YUV420, take[3], pictures, canvas);
    const mended = composeFrame({ recipe, n: 3, below: take[3], pictures, canvas });
    for (let i = 0; i < W * H; i++) {
      const v = part.alpha[i] ? part.picture.planes[0].data[i] : take[3].planes[0].data[i];
      expect(v).toBe(mended.planes[0].data[i]);
    }
    expect(part.layer).toBe("paint");
  });

  it("at half the size is what it is at full size, as near as small pictures are", () => {
    const smooth = take.map((f) => {
      const g = copyFrame(f);
      for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) g.planes[0].data[y * W + x] = 60 + x;
      return g;
    });
    const l = layer([dab({ kind: "clone", source: undefined, offset: [24, 0], path: [[30, 30], [50, 36]] })]); // prettier-ignore
    const full = composeFrame({ recipe: recipeWith([l]), n: 3, below: smooth[3], pictures, canvas });
    const half = composeFrame({
      recipe: recipeWith([l]),
      n: 3,
      below: shrinkFrame(smooth[3], W / 2, H / 2),
      pictures,
      canvas: {
        ...canvas,
        width: W / 2,
        height: H / 2,
        scale: 0.5,
      },
    });
    const small = shrinkFrame(full, W / 2, H / 2);
    const off = Array.from(small.planes[0].data, (v, i) => Math.abs(v - half.planes[0].data[i])).reduce((a, b) => a + b) / ((W * H) / 4);
    expect(off).toBeLessThan(0.2);
    const t = dab();
    expect(scaledTouch(t, 0.5)).toBe(scaledTouch(t, 0.5)); // the same object while the touch is the same
  });
});
